import type { Carried, CarrySeen, DocumentCard } from '@tether/contract';
import { useState } from 'react';
import { Outcome } from '../sources/relink/Outcome.tsx';
import {
  faultOf,
  useCarryForwardMutation,
  useSeeCarryQuery,
  useSeeRelinkQuery,
  useSourcesQuery,
} from '../state/api.ts';
import { Button } from '../ui/Button.tsx';
import { counted } from '../ui/counted.ts';
import { FaultNote } from '../ui/FaultNote.tsx';
import { SelectField } from '../ui/fields/SelectField.tsx';
import { TextField } from '../ui/fields/TextField.tsx';
import { Tick } from '../ui/fields/Tick.tsx';
import { QuestionBox } from '../ui/QuestionBox.tsx';
import { WhatBecame } from './WhatBecame.tsx';

/** Makes a document for the next period: what it is called, which files take the place of which, and what that changes. */
export function CarryBox({ saved, onClose }: { saved: DocumentCard; onClose: () => void }) {
  const { data: seen, error } = useSeeCarryQuery(saved.id);
  return (
    <QuestionBox isWide title={`Carry “${saved.name}” forward`} onClose={onClose}>
      {error && <FaultNote fault={faultOf(error)} />}
      {!seen && !error && <p role="status">Reading its sources …</p>}
      {seen && <Carrying saved={saved} seen={seen} onClose={onClose} />}
    </QuestionBox>
  );
}

function Carrying(props: { saved: DocumentCard; seen: CarrySeen; onClose: () => void }) {
  const { saved, seen, onClose } = props;
  const [name, setName] = useState(seen.name);
  const [freezes, setFreezes] = useState(true);
  const [chosen, setChosen] = useState<Readonly<Record<string, string>>>(
    Object.fromEntries(seen.sources.map(({ id, next }) => [id, next?.id ?? ''])),
  );
  const { data: folders = [] } = useSourcesQuery();
  const [carry, carrying] = useCarryForwardMutation();
  const files = folders
    .flatMap(({ sources }) => sources)
    .filter(({ state }) => state === 'present' || state === 'new')
    .map(({ id, folder, path }) => ({ value: id, label: `${folder}/${path}` }));
  const pairs = Object.entries(chosen).flatMap(([from, to]) => (to === '' ? [] : [{ from, to }]));
  if (carrying.data) return <Came carried={carrying.data} name={name} onClose={onClose} />;
  return (
    <>
      <div className="w-[560px]">
        <TextField label="Its name" value={name} onChange={setName} />
      </div>
      <ul
        className="min-h-0 flex-1 divide-y divide-hairline overflow-auto"
        aria-label="Its sources"
      >
        {seen.sources.map(({ id, path, objects, next }) => (
          <li key={id} className="py-3">
            <p>
              <span className="font-semibold">{path}</span>{' '}
              <span className="text-muted">{counted(objects, 'object')}</span>
            </p>
            <div className="mt-1 w-[560px]">
              <SelectField
                label="becomes"
                value={chosen[id] ?? ''}
                options={[
                  { value: '', label: 'stays this file' },
                  ...files.filter(({ value }) => value !== id),
                ]}
                onChange={(to) => setChosen({ ...chosen, [id]: to })}
              />
            </div>
            {next === null && chosen[id] === '' && (
              <p className="mt-1 text-muted">No file is named like the next one.</p>
            )}
            {chosen[id] && <Changes from={id} to={chosen[id]} document={saved.id} />}
          </li>
        ))}
      </ul>
      {carrying.error && <FaultNote fault={faultOf(carrying.error)} />}
      <div className="flex items-center justify-end gap-2">
        <div className="mr-auto">
          <Tick isOn={freezes} onChange={setFreezes}>
            “{saved.name}” keeps what it shows from now on
          </Tick>
        </div>
        <Button onClick={onClose}>Leave it</Button>
        <Button
          kind="primary"
          disabled={name.trim() === '' || carrying.isLoading}
          onClick={() => void carry({ id: saved.id, name: name.trim(), freezes, sources: pairs })}
        >
          {carrying.isLoading ? 'Carrying forward …' : 'Carry forward'}
        </Button>
      </div>
    </>
  );
}

/** What each object of a source would take from the file of the next period. */
function Changes({ from, to, document }: { from: string; to: string; document: string }) {
  const { data: seen, error } = useSeeRelinkQuery({ from, to, document });
  if (error) return <FaultNote fault={faultOf(error)} className="mt-2" />;
  if (!seen) return <p role="status">Checking what each object would take there …</p>;
  return (
    <ul className="mt-2 flex flex-col gap-2 border-l border-hairline pl-3">
      {seen.map((object) => (
        <li key={object.id} className="flex gap-4">
          <p className="w-[260px] shrink-0 font-semibold">{object.name}</p>
          <Outcome object={object} />
        </li>
      ))}
    </ul>
  );
}

/** What came of it: the new document, and what stayed tied to old files. */
function Came(props: { carried: Carried; name: string; onClose: () => void }) {
  const { carried, name, onClose } = props;
  const { documentId, tied, left } = carried;
  const items = left.map((each) => ({
    key: each.name,
    words: (
      <>
        {each.name}: <span className="text-muted">{each.fault.message}</span>
      </>
    ),
  }));
  return (
    <WhatBecame
      {...{ documentId, name, onClose }}
      lists={[{ title: 'Still tied to the old files', items }]}
    >
      is made; {counted(tied, 'object')} of it {tied === 1 ? 'takes' : 'take'} from the new files.
      What is other there puts them behind, and is taken as usual.
    </WhatBecame>
  );
}
