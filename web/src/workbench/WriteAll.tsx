import type { DocumentDetail, SourceEdits, WriteOutcome } from '@tether/contract';
import { can } from '@tether/contract';
import { Upload } from 'lucide-react';
import { useState } from 'react';
import { faultOf, useDocumentEditsQuery, useMeQuery, useWriteAllMutation } from '../state/api.ts';
import { useMayChange } from '../state/useMayChange.ts';
import { Button } from '../ui/Button.tsx';
import { counted } from '../ui/counted.ts';
import { FaultNote } from '../ui/FaultNote.tsx';
import { Popup } from '../ui/Popup.tsx';

/** Writes all that was corrected in a document, each source in one go. */
export function WriteAll({ saved, count }: { saved: DocumentDetail; count: number }) {
  return (
    <Popup
      label={`Write back ${counted(count, 'correction')}`}
      face={
        <span className="relative text-edited">
          <Upload size={16} aria-hidden />
          <span className="absolute -top-2 left-3 rounded-full bg-edited px-1 text-[10px] leading-4 font-semibold text-white tabular-nums">
            {count}
          </span>
        </span>
      }
      placement="bottom-end"
      className="flex w-[360px] flex-col gap-3 p-4"
    >
      {(close) => <Sources saved={saved} close={close} />}
    </Popup>
  );
}

function Sources({ saved, close }: { saved: DocumentDetail; close: () => void }) {
  const { data: sources } = useDocumentEditsQuery(saved.id, { refetchOnMountOrArgChange: true });
  const [write, { isLoading, error }] = useWriteAllMutation();
  const [refused, setRefused] = useState<WriteOutcome['refused']>([]);
  const { data: me } = useMeQuery();
  const { isAllowed, whyNot } = useMayChange();
  if (!sources) return <p className="text-muted">Checking what writing would change …</p>;
  const able = sources.filter(({ token }) => token !== null);
  const cells = able.reduce((sum, each) => sum + each.cells, 0);
  const isHeld = saved.hold !== null;
  const mayWrite = me !== undefined && can(me, 'change', { kind: 'source file' });
  const press = async () => {
    const done = await write({
      id: saved.id,
      sources: able.map(({ sourceId, token }) => ({ sourceId, token: token! })),
    });
    if ('error' in done) return;
    setRefused(done.data.refused);
    if (done.data.refused.length === 0) close();
  };
  return (
    <>
      <ul className="flex flex-col divide-y divide-hairline border-y border-hairline">
        {sources.map((source) => (
          <li key={source.sourceId} className="py-2">
            <SourceLine source={source} />
          </li>
        ))}
      </ul>
      {refused.map(({ path, fault }) => (
        <div key={path}>
          <p className="font-semibold">{path} was not written</p>
          <FaultNote fault={fault} />
        </div>
      ))}
      {error && <FaultNote fault={faultOf(error)} />}
      <div>
        <Button
          kind="primary"
          disabled={able.length === 0 || isLoading || !isAllowed || !mayWrite || isHeld}
          title={isHeld ? 'The document is held: release it first.' : whyNot}
          onClick={() => void press()}
        >
          {isLoading
            ? 'Writing …'
            : `Write ${counted(cells, 'cell')} into ${counted(able.length, 'file')}`}
        </Button>
      </div>
    </>
  );
}

function SourceLine({ source }: { source: SourceEdits }) {
  const { path, objects, undecided, cells, follows, notFinal, losesSignature, fault } = source;
  return (
    <>
      <p className="font-semibold break-words">{path}</p>
      <p>
        {counted(cells, 'cell')} from {objects.map(({ name }) => name).join(', ')}
        {follows > 0 &&
          `; ${counted(follows, 'figure')} there ${follows === 1 ? 'follows' : 'follow'}`}
      </p>
      {undecided > 0 && (
        <p className="text-contested">
          {counted(undecided, 'correction')} to be decided first: the source changed there too.
        </p>
      )}
      {notFinal > 0 && (
        <p className="text-muted">
          {counted(notFinal, 'figure')} of the source not final: the next program that opens it
          computes them.
        </p>
      )}
      {losesSignature && <p className="text-muted">The file’s signature will not hold any more.</p>}
      {fault && fault.code !== 'nothing-to-write' && <FaultNote fault={fault} className="mt-1" />}
    </>
  );
}
