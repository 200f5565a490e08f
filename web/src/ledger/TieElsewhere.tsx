import { useState } from 'react';
import { RelinkBox } from '../sources/relink/RelinkBox.tsx';
import { faultOf, useLedgerSourcesQuery } from '../state/api.ts';
import { Button } from '../ui/Button.tsx';
import { counted } from '../ui/counted.ts';
import { FaultNote } from '../ui/FaultNote.tsx';
import { QuestionBox } from '../ui/QuestionBox.tsx';

/** Ties chosen objects to another file: those of one source together. */
export function TieElsewhere({ ids, onClose }: { ids: readonly string[]; onClose: () => void }) {
  const { data: sources, error } = useLedgerSourcesQuery(ids);
  const [chosen, setChosen] = useState<string | null>(null);
  const own = sources?.length === 1 ? sources[0] : sources?.find(({ id }) => id === chosen);
  if (own) {
    const name = counted(own.ids.length, 'chosen object');
    return <RelinkBox source={own} only={{ ids: own.ids, name }} onClose={onClose} />;
  }
  return (
    <QuestionBox title="Tie chosen objects to another file" onClose={onClose}>
      {error && <FaultNote fault={faultOf(error)} />}
      {!sources && !error && <p role="status">Checking where they come from …</p>}
      {sources && (
        <>
          <p>They come from several files. Which file’s objects should be tied to another?</p>
          <ul className="divide-y divide-hairline overflow-auto" aria-label="Their sources">
            {sources.map(({ id, path, ids: objects }) => (
              <li key={id} className="flex items-center gap-3 py-2">
                <span className="min-w-0 flex-1 break-words">
                  <span className="font-semibold">{path}</span>{' '}
                  <span className="text-muted">{counted(objects.length, 'object')}</span>
                </span>
                <Button onClick={() => setChosen(id)} aria-label={`Those of ${path}`}>
                  These
                </Button>
              </li>
            ))}
          </ul>
        </>
      )}
      <div className="flex justify-end">
        <Button onClick={onClose}>Leave them</Button>
      </div>
    </QuestionBox>
  );
}
