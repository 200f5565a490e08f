import type { OfficeAsk, OfficeSeen } from '@tether/contract';
import { type FormEvent, useId, useState } from 'react';
import {
  faultOf,
  useActInOfficeMutation,
  useOfficeQuery,
  useUndoInOfficeMutation,
} from '../state/api.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { SelectField } from '../ui/fields/SelectField.tsx';
import { TextField } from '../ui/fields/TextField.tsx';

/** Plays the world outside on the demo's files: each step is real on the disk, and can be undone. */
export default function Office() {
  const { data: seen, error } = useOfficeQuery(undefined, { refetchOnMountOrArgChange: true });
  const [chosen, setChosen] = useState('save');
  const [undo, undoing] = useUndoInOfficeMutation();
  const act = seen?.acts.find(({ name }) => name === chosen);
  return (
    <main className="h-full overflow-auto px-6 py-5">
      <h1 className="text-[20px] leading-7 font-semibold">The office outside</h1>
      <p className="max-w-[720px] text-muted">
        What colleagues and drives do to files while nobody looks. Every step is done to the files
        of the demo on the disk; the product hears of it as it hears of any other change.
      </p>
      {error && <FaultNote fault={faultOf(error)} className="mt-3" />}
      {seen && (
        <div className="mt-4 grid max-w-[980px] grid-cols-[340px_1fr] gap-8">
          <ul
            aria-label="What can happen"
            className="divide-y divide-hairline border-y border-hairline"
          >
            {seen.acts.map(({ name, says }) => (
              <li key={name}>
                <button
                  type="button"
                  aria-current={name === chosen}
                  onClick={() => setChosen(name)}
                  className={`block w-full px-2 py-1.5 text-left hover:bg-mist ${name === chosen ? 'bg-rope/10 font-semibold' : ''}`}
                >
                  {says}
                </button>
              </li>
            ))}
          </ul>
          <div>
            {act && <Asked key={act.name} act={act} seen={seen} />}
            <div className="mt-6 border-t border-hairline pt-3">
              <p className="text-muted">
                {seen.done === 0
                  ? 'Nothing was done that could be undone.'
                  : `${seen.done} ${seen.done === 1 ? 'step' : 'steps'} can be undone, the last one first.`}
              </p>
              <Button
                className="mt-2"
                disabled={seen.done === 0 || undoing.isLoading}
                onClick={() => void undo()}
              >
                Undo the last step
              </Button>
              {undoing.error && <FaultNote fault={faultOf(undoing.error)} className="mt-2" />}
            </div>
          </div>
        </div>
      )}
    </main>
  );
}

/** One thing that can happen, with what it must be told. */
function Asked({ act, seen }: { act: OfficeSeen['acts'][number]; seen: OfficeSeen }) {
  const [words, setWords] = useState<readonly string[]>(() =>
    act.asks.map(({ kind, isOptional, example }) => {
      const [first = ''] = placesOf(kind, seen);
      return kind === 'words' ? (isOptional ? '' : example) : first;
    }),
  );
  const [doIt, { isLoading, error, data }] = useActInOfficeMutation();
  const title = useId();
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const told = words.map((word) => word.trim());
    while (told.at(-1) === '') told.pop();
    void doIt({ name: act.name, words: told });
  };
  const isMissing = act.asks.some(({ isOptional }, at) => !isOptional && words[at]?.trim() === '');
  return (
    <form aria-labelledby={title} onSubmit={submit} className="flex flex-col gap-3">
      <h2 id={title} className="text-[16px] font-semibold">
        {act.says}
      </h2>
      {act.asks.map((ask, at) => (
        <Field
          key={ask.label}
          ask={ask}
          value={words[at] ?? ''}
          places={placesOf(ask.kind, seen)}
          onChange={(word) => setWords(words.with(at, word))}
        />
      ))}
      {error && <FaultNote fault={faultOf(error)} />}
      <div className="flex items-center gap-3">
        <Button kind="primary" type="submit" disabled={isLoading || isMissing}>
          {isLoading ? 'Doing it …' : 'Do it'}
        </Button>
        <span role="status" className="text-muted">
          {data && !isLoading ? 'Done.' : ''}
        </span>
      </div>
    </form>
  );
}

function Field(props: {
  ask: OfficeAsk;
  value: string;
  places: readonly string[];
  onChange: (value: string) => void;
}) {
  const { ask, value, places, onChange } = props;
  if (ask.kind !== 'words') {
    const known = places.includes(value) || value === '' ? places : [value, ...places];
    return (
      <SelectField
        label={ask.label}
        value={value}
        options={known.map((path) => ({ value: path, label: path }))}
        onChange={onChange}
      />
    );
  }
  const label = `${ask.label}, such as ${ask.example}${ask.isOptional ? ' (may be left out)' : ''}`;
  return <TextField label={label} value={value} onChange={onChange} spellCheck={false} />;
}

function placesOf(kind: OfficeAsk['kind'], { files, folders }: OfficeSeen): readonly string[] {
  if (kind === 'file') return files;
  if (kind === 'folder') return folders;
  return kind === 'either' ? [...files, ...folders] : [];
}
