import type { BundleOpened, BundleSeen } from '@tether/contract';
import type { Fault } from '@tether/core';
import { useEffect, useRef, useState } from 'react';
import { api, useSourcesQuery } from '../state/api.ts';
import { type Sending, sendFile } from '../state/send-file.ts';
import { useAppDispatch } from '../state/store.ts';
import { Button } from '../ui/Button.tsx';
import { counted } from '../ui/counted.ts';
import { FaultNote } from '../ui/FaultNote.tsx';
import { SelectField } from '../ui/fields/SelectField.tsx';
import { TextField } from '../ui/fields/TextField.tsx';
import { Tick } from '../ui/fields/Tick.tsx';
import { Moment } from '../ui/Moment.tsx';
import { QuestionBox } from '../ui/QuestionBox.tsx';
import { SendingBar } from '../ui/SendingBar.tsx';
import { sizeText } from '../ui/size-text.ts';
import { WhatBecame } from './WhatBecame.tsx';

/** Opens a document that came with copies of its sources: what it holds first, then where these come to lie. */
export function OpenBundleBox({ file, onClose }: { file: File; onClose: () => void }) {
  const [share, setShare] = useState(0);
  const [seen, setSeen] = useState<BundleSeen | null>(null);
  const [fault, setFault] = useState<Fault | null>(null);
  useEffect(() => {
    let isLeft = false;
    const url = `/bundles/look?${new URLSearchParams({ file: file.name })}`;
    const sending = sendFile<BundleSeen>({ method: 'POST', url }, file, setShare);
    void sending.done.then((done) => {
      if (isLeft) return;
      if (done.fault) setFault(done.fault);
      else setSeen(done.answer);
    });
    return () => {
      isLeft = true;
      sending.stop();
    };
  }, [file]);
  return (
    <QuestionBox isWide={seen !== null} title={`Open the bundle ${file.name}`} onClose={onClose}>
      {fault && <FaultNote fault={fault} />}
      {seen ? (
        <Opening file={file} seen={seen} onClose={onClose} />
      ) : (
        <>
          {!fault && <p role="status">Reading what is in it …</p>}
          {!fault && <SendingBar name={file.name} share={share} />}
          <div className="flex justify-end">
            <Button onClick={onClose}>{fault ? 'Close' : 'Stop'}</Button>
          </div>
        </>
      )}
    </QuestionBox>
  );
}

function Opening(props: { file: File; seen: BundleSeen; onClose: () => void }) {
  const { file, seen, onClose } = props;
  const dispatch = useAppDispatch();
  const { data: folders = [] } = useSourcesQuery();
  const able = folders.filter(({ state }) => state === 'watched');
  const [name, setName] = useState(seen.name);
  const [ties, setTies] = useState(true);
  const [chosen, setChosen] = useState('');
  const [share, setShare] = useState<number | null>(null);
  const [fault, setFault] = useState<Fault | null>(null);
  const [came, setCame] = useState<BundleOpened | null>(null);
  const sending = useRef<Sending<BundleOpened> | null>(null);
  useEffect(() => () => sending.current?.stop(), []);
  // Where nobody chose, the folder that is called like the one it comes from.
  const usual = able.find((each) => seen.sources[0]?.path.startsWith(`${each.name}/`)) ?? able[0];
  const folder = able.find(({ id }) => id === chosen) ?? usual;
  const isKnown = seen.sources.some(({ known }) => known !== null);
  const isCopied = seen.sources.some(({ known }) => !ties || known === null);

  if (came) return <Came came={came} name={name} onClose={onClose} />;
  const open = async () => {
    if (!folder) return;
    setFault(null);
    setShare(0);
    const query = { file: file.name, folder: folder.id, name, known: ties ? 'yes' : 'no' };
    const url = `/bundles?${new URLSearchParams(query)}`;
    sending.current = sendFile<BundleOpened>({ method: 'POST', url }, file, setShare);
    const done = await sending.current.done;
    sending.current = null;
    setShare(null);
    if (done.fault) return setFault(done.fault);
    dispatch(api.util.invalidateTags(['Documents', 'Sources', 'NeedsYou', 'Ledger', 'Log']));
    setCame(done.answer);
  };
  return (
    <>
      <p className="text-muted">
        {counted(seen.objects, 'object')}, {counted(seen.sources.length, 'source')}; packed{' '}
        <Moment at={seen.madeAt} />.
      </p>
      <div className="w-[560px]">
        <TextField label="Its name here" value={name} onChange={setName} maxLength={200} />
      </div>
      {isKnown && (
        <Tick isOn={ties} onChange={setTies}>
          Tie its objects to files here that hold the same, instead of copies
        </Tick>
      )}
      {isCopied && (
        <div className="w-[560px]">
          <SelectField
            label="Copies go into"
            value={folder?.id ?? ''}
            options={able.map((each) => ({ value: each.id, label: each.name }))}
            onChange={setChosen}
          />
        </div>
      )}
      <ul
        className="min-h-0 flex-1 divide-y divide-hairline overflow-auto"
        aria-label="Its sources"
      >
        {seen.sources.map((source) => (
          <li key={source.path} className="py-2">
            <p>
              <span className="font-semibold">{source.path}</span>{' '}
              <span className="text-muted">
                {counted(source.objects, 'object')}
                {source.hasCopy && `, ${sizeText(source.bytes)}`}
              </span>
            </p>
            <p className={source.hasCopy || (ties && source.known) ? '' : 'text-rope-dark'}>
              {wayOf(source, ties, folder ? `${folder.name}/${name}` : name)}
            </p>
          </li>
        ))}
      </ul>
      {!folder && (
        <p className="text-rope-dark">
          No source folder can be reached: add one under Sources first.
        </p>
      )}
      {share !== null && <SendingBar name={file.name} share={share} />}
      {fault && <FaultNote fault={fault} />}
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>{share === null ? 'Leave it' : 'Stop'}</Button>
        <Button
          kind="primary"
          disabled={name.trim() === '' || share !== null || !folder}
          onClick={() => void open()}
        >
          {share === null ? 'Open it' : 'Opening …'}
        </Button>
      </div>
    </>
  );
}

/** To what the objects of a source come to be tied. */
function wayOf(source: BundleSeen['sources'][number], ties: boolean, place: string): string {
  const { known, hasCopy, path } = source;
  if (ties && known) return `is here as ${known.path}`;
  if (hasCopy) return `is put in as ${place}/${path}`;
  return 'No copy of it came along: its objects keep what they show until they are tied to a file.';
}

/** What came of it. */
function Came(props: { came: BundleOpened; name: string; onClose: () => void }) {
  const { came, name, onClose } = props;
  const listed = (paths: readonly string[]) => paths.map((path) => ({ key: path, words: path }));
  return (
    <WhatBecame
      {...{ name, onClose }}
      documentId={came.documentId}
      lists={[
        { title: 'Put in', items: listed(came.copies) },
        { title: 'Not here', items: listed(came.missing) },
      ]}
    >
      is here. It shows what it showed where it was packed; what its files say otherwise puts its
      objects behind, and is taken as usual.
    </WhatBecame>
  );
}
