import type { Tether } from '@tether/contract';
import { X } from 'lucide-react';
import { useState } from 'react';
import { useSlipQuery } from '../app/api.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { useMayChange } from '../app/useMayChange.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { IconButton } from '../ui/IconButton.tsx';
import { StandingGlyph } from '../ui/StandingGlyph.tsx';
import { Tick } from '../ui/Tick.tsx';
import { SlipTable } from './SlipTable.tsx';
import { useRefreshObjects } from './useRefreshObjects.ts';
import { cellFlashed, stripClosed } from './workbenchSlice.ts';

/**
 * The strip at the bottom: what a refresh would change, object by object. On opening a document it is the question what
 * to do: take all, choose, or leave.
 */
export function ChangeStrip(props: { behind: Tether[]; onShow: (tetherId: string) => void }) {
  const strip = useAppSelector(({ workbench }) => workbench.strip);
  const dispatch = useAppDispatch();
  const { isAllowed, whyNot } = useMayChange();
  const { take, isTaking, refused } = useRefreshObjects();
  const [left, setLeft] = useState<string[] | null>(null);
  if (!strip) return null;

  const shown = strip.only ? props.behind.filter(({ id }) => id === strip.only) : props.behind;
  const isChoosing = left !== null;
  const chosen = shown.filter(({ id }) => !left?.includes(id));
  const close = () => {
    setLeft(null);
    dispatch(stripClosed());
  };
  const takeChosen = async () => {
    await take(chosen);
    setLeft(null);
  };
  const title =
    shown.length === 0
      ? 'Nothing is behind'
      : strip.reason === 'opening'
        ? `${shown.length} ${shown.length === 1 ? 'object has' : 'objects have'} changed in the source since the last refresh`
        : `Changes waiting in ${shown.length} ${shown.length === 1 ? 'object' : 'objects'}`;

  return (
    <section
      aria-label="Change slip"
      className="flex max-h-[42%] shrink-0 flex-col border-t-2 border-rope bg-white"
    >
      <div className="flex items-center gap-2 border-b border-hairline px-4 py-1.5">
        <h2 className="text-[15px] font-semibold">{title}</h2>
        <span className="ml-auto" />
        {shown.length > 0 && (
          <>
            <Button
              kind="primary"
              disabled={!isAllowed || isTaking || chosen.length === 0}
              title={whyNot}
              onClick={() => void takeChosen()}
            >
              {isChoosing
                ? `Take ${chosen.length} of ${shown.length}`
                : shown.length > 1
                  ? 'Take all'
                  : 'Take'}
            </Button>
            {shown.length > 1 && !isChoosing && (
              <Button onClick={() => setLeft([])} disabled={!isAllowed} title={whyNot}>
                Choose
              </Button>
            )}
            <Button onClick={close}>Leave</Button>
          </>
        )}
        {shown.length === 0 && (
          <IconButton icon={X} label="Close the change slip" onClick={close} />
        )}
      </div>
      <div className="min-h-0 flex-1 overflow-auto px-4 py-2">
        {refused.map(({ id, fault }) => (
          <FaultNote key={id} fault={fault} className="mb-2" />
        ))}
        {shown.map((tether) => (
          <ObjectSlip
            key={tether.id}
            tether={tether}
            tick={
              isChoosing
                ? {
                    isOn: !left.includes(tether.id),
                    set: (isOn) =>
                      setLeft(isOn ? left.filter((id) => id !== tether.id) : [...left, tether.id]),
                  }
                : null
            }
            onCell={({ row, column }) => {
              props.onShow(tether.id);
              dispatch(cellFlashed({ tetherId: tether.id, row, column, at: Date.now() }));
            }}
          />
        ))}
        {shown.length === 0 && (
          <p className="text-muted">All objects show what their sources hold.</p>
        )}
      </div>
    </section>
  );
}

function ObjectSlip(props: {
  tether: Tether;
  tick: { isOn: boolean; set: (isOn: boolean) => void } | null;
  onCell: (cell: { row: number; column: number }) => void;
}) {
  const { tether, tick, onCell } = props;
  const { id, base, pending } = tether;
  const { data: slip } = useSlipQuery(
    { id, base, pending: pending ?? '' },
    { skip: pending === null },
  );
  const name = (
    <span className="font-semibold">
      {tether.name} <span className="font-normal text-muted">{tether.summary}</span>
    </span>
  );
  return (
    <div className="mb-4">
      <div className="flex items-center gap-2">
        <StandingGlyph standing={tether.standing} />
        {tick ? (
          <Tick isOn={tick.isOn} onChange={tick.set}>
            {name}
          </Tick>
        ) : (
          name
        )}
        <span className="ml-auto font-mono text-[11px] text-muted">
          {tether.source.folder}/{tether.source.path}
        </span>
      </div>
      {slip && <SlipTable slip={slip} label={`Changes in ${tether.name}`} onCell={onCell} />}
    </div>
  );
}
