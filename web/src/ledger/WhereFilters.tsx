import { useDocumentsQuery, useSourcesQuery } from '../state/api.ts';
import { FilterSelect } from '../ui/fields/FilterSelect.tsx';

/** Filters by document and by source, which ledger and log share. */
export function WhereFilters(props: {
  document: string | undefined;
  source: string | undefined;
  onChange: (change: { document: string } | { source: string }) => void;
}) {
  const { document, source, onChange } = props;
  const { data: documents = [] } = useDocumentsQuery();
  const { data: folders = [] } = useSourcesQuery();
  return (
    <>
      <FilterSelect
        label="Document"
        value={document ?? ''}
        options={documents.map(({ id, name }) => ({ value: id, label: name }))}
        onChange={(id) => onChange({ document: id })}
      />
      <FilterSelect
        label="Source"
        value={source ?? ''}
        options={folders.flatMap(({ name, sources }) =>
          sources.map(({ id, path }) => ({ value: id, label: `${name}/${path}` })),
        )}
        onChange={(id) => onChange({ source: id })}
      />
    </>
  );
}
