import { ModeFields } from '../modes/ModeFields.tsx';
import { useSetSourceModeMutation, useSourcesQuery } from '../state/api.ts';
import { useMayChange } from '../state/useMayChange.ts';

/** When objects that take of a source refresh, unless they say otherwise themselves. */
export function SourceModeSection({ sourceId }: { sourceId: string }) {
  const { data: folders = [] } = useSourcesQuery();
  const { isAllowed } = useMayChange();
  const [setMode] = useSetSourceModeMutation();
  const source = folders.flatMap(({ sources }) => sources).find(({ id }) => id === sourceId);
  if (!source) return null;
  return (
    <section aria-labelledby="source-mode">
      <h2 id="source-mode" className="text-[15px] font-semibold">
        When its objects refresh
      </h2>
      <div className="mt-1">
        <ModeFields
          own={source.mode}
          inherited={{ mode: null, from: 'each document' }}
          disabled={!isAllowed}
          onChange={(mode) => void setMode({ id: sourceId, mode })}
        />
      </div>
    </section>
  );
}
