import type { SourceCandidate, SourceSummary } from '@tether/contract';
import { useState } from 'react';
import {
  faultOf,
  useCandidatesQuery,
  useRelinkMutation,
  useSeeRelinkQuery,
  useSourcesQuery,
} from '../../state/api.ts';
import { Button } from '../../ui/Button.tsx';
import { counted } from '../../ui/counted.ts';
import { FaultNote } from '../../ui/FaultNote.tsx';
import { SelectField } from '../../ui/fields/SelectField.tsx';
import { Tick } from '../../ui/fields/Tick.tsx';
import { QuestionBox } from '../../ui/QuestionBox.tsx';
import { Outcome } from './Outcome.tsx';

/** Ties objects of a source to another file: which one, what that would do to each object, and then it is done. */
export function RelinkBox(props: {
  source: Pick<SourceSummary, 'id' | 'path'>;
  /** The file that is looked at first. */
  to?: string | undefined;
  /** The objects that it is about alone, and what they are called together. */
  only?: { ids: readonly string[]; name: string };
  onClose: () => void;
}) {
  const { source, only, onClose } = props;
  const [to, setTo] = useState(props.to ?? '');
  const { data: folders = [] } = useSourcesQuery();
  const { data: candidates } = useCandidatesQuery(source.id);
  const files = folders
    .flatMap(({ sources }) => sources)
    .filter(({ state }) => state === 'present');
  return (
    <QuestionBox
      isWide
      title={only ? `${only.name}, from ${source.path}` : `Objects that take from ${source.path}`}
      onClose={onClose}
    >
      <div className="w-[560px]">
        <SelectField
          label={only?.ids.length === 1 ? 'Tie it to' : 'Tie them to'}
          value={to}
          options={[
            { value: '', label: 'Choose a file' },
            ...files.map(({ id, folder, path }) => ({
              value: id,
              label: `${folder}/${path}${id === source.id ? ', another place of it' : ''}`,
            })),
          ]}
          onChange={setTo}
        />
      </div>
      {to === '' ? (
        <>
          <CandidateList candidates={candidates} onChoose={setTo} />
          <div className="mt-auto flex justify-end">
            <Button onClick={onClose}>Leave it</Button>
          </div>
        </>
      ) : (
        <Objects key={to} from={source.id} to={to} only={only?.ids} onClose={onClose} />
      )}
    </QuestionBox>
  );
}

/** Files that may be one that is looked for, each with the reasons. */
export function CandidateList(props: {
  candidates: readonly SourceCandidate[] | undefined;
  onChoose: (id: string) => void;
}) {
  const { candidates, onChoose } = props;
  if (!candidates) return <p role="status">Looking for files like it …</p>;
  if (candidates.length === 0) {
    return <p className="text-muted">No file in the source folders holds enough of the same.</p>;
  }
  return (
    <ul className="divide-y divide-hairline" aria-label="Files that may be it">
      {candidates.map(({ sourceId, path, reasons }) => (
        <li key={sourceId} className="flex items-start gap-3 py-2">
          <div className="min-w-0 flex-1">
            <p className="font-semibold break-words">{path}</p>
            <p className="text-muted">{reasons.join(' ')}</p>
          </div>
          <Button onClick={() => onChoose(sourceId)} aria-label={`See what ${path} would change`}>
            See what changes
          </Button>
        </li>
      ))}
    </ul>
  );
}

function Objects(props: {
  from: string;
  to: string;
  only: readonly string[] | undefined;
  onClose: () => void;
}) {
  const { from, to, only, onClose } = props;
  const { data: all, error } = useSeeRelinkQuery({ from, to });
  const seen = all?.filter(({ id }) => only === undefined || only.includes(id));
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [tie, tying] = useRelinkMutation();
  const able = (seen ?? []).filter(({ reach }) => reach !== null);
  const chosen = able.filter(({ id }) => !left.has(id));
  const failed = tying.error ?? error;
  const refused = tying.data?.refused ?? [];
  const doIt = async () => {
    const objects = chosen.map(({ id, reach }) => ({ id, reach: reach! }));
    const done = await tie({ from, to, objects });
    if (!('error' in done) && done.data.refused.length === 0) onClose();
  };
  const setChosen = (id: string, isOn: boolean) => {
    const next = new Set(left);
    if (isOn) next.delete(id);
    else next.add(id);
    setLeft(next);
  };
  return (
    <>
      {!seen && !error && <p role="status">Checking what each object would take there …</p>}
      {seen?.length === 0 && <p className="text-muted">No object takes from this source.</p>}
      {seen && seen.length > 0 && (
        <ul className="min-h-0 flex-1 divide-y divide-hairline overflow-auto" aria-label="Objects">
          {seen.map((object) => (
            <li key={object.id} className="flex items-start gap-4 py-2">
              <div className="w-[300px] shrink-0">
                <Tick
                  isOn={object.reach !== null && !left.has(object.id)}
                  isDisabled={object.reach === null}
                  onChange={(isOn) => setChosen(object.id, isOn)}
                >
                  <span className="font-semibold">{object.name}</span>
                </Tick>
                <p className="pl-6 text-muted">in {object.document.name}</p>
              </div>
              <Outcome object={object} />
            </li>
          ))}
        </ul>
      )}
      {failed && <FaultNote fault={faultOf(failed)} />}
      {refused[0] && (
        <FaultNote
          fault={{
            ...refused[0].fault,
            message: `${counted(refused.length, 'object')} stayed: ${refused[0].fault.message}`,
          }}
        />
      )}
      <div className="mt-auto flex items-center justify-end gap-2">
        <p className="mr-auto text-muted">
          What they show stays until it is refreshed. The log takes it back.
        </p>
        <Button onClick={onClose}>Leave it</Button>
        <Button
          kind="primary"
          disabled={chosen.length === 0 || tying.isLoading}
          onClick={() => void doIt()}
        >
          {tying.isLoading
            ? 'Tying …'
            : chosen.length === 0
              ? 'Tie'
              : `Tie ${counted(chosen.length, 'object')}`}
        </Button>
      </div>
    </>
  );
}
