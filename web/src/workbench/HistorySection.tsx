import type { Tether, TetherState } from '@tether/contract';
import { isEmptySlip } from '@tether/core';
import { useState } from 'react';
import { KIND_WORDS } from '../log/kinds.ts';
import { SnapshotView } from '../placed/SnapshotView.tsx';
import { SlipTable } from '../slip/SlipTable.tsx';
import { faultOf, useCompareQuery, useGoBackMutation, useHistoryQuery } from '../state/api.ts';
import { useMayChange } from '../state/useMayChange.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { ExactMoment } from '../ui/Moment.tsx';
import { QuestionBox } from '../ui/QuestionBox.tsx';

/** The states an object has shown; the latest few, and all of them in a box of their own. */
export function HistorySection({ tether }: { tether: Tether }) {
  const { data: states = [] } = useHistoryQuery(tether.id);
  const [isOpen, setOpen] = useState(false);
  return (
    <>
      <ol className="flex flex-col gap-1">
        {states.slice(0, 3).map((state) => (
          <li key={state.id}>
            <StateLine state={state} />
          </li>
        ))}
      </ol>
      <Button className="mt-2" onClick={() => setOpen(true)}>
        {states.length > 1 ? `All ${states.length} states` : 'Look at it'}
      </Button>
      {isOpen && <History tether={tether} states={states} onClose={() => setOpen(false)} />}
    </>
  );
}

function StateLine({ state }: { state: TetherState }) {
  return (
    <>
      <span className={state.isShown ? 'font-semibold' : ''}>
        <ExactMoment at={state.at} />
      </span>{' '}
      <span className="text-muted">
        {KIND_WORDS[state.how]}
        {state.by && ` by ${state.by}`}
        {state.refreshedHow !== 'by hand' && ` ${state.refreshedHow}`}
        {state.isShown && ', shown now'}
      </span>
    </>
  );
}

function History(props: { tether: Tether; states: TetherState[]; onClose: () => void }) {
  const { tether, states, onClose } = props;
  const { isAllowed, whyNot } = useMayChange();
  const [lookedAt, setLookedAt] = useState(states[0]?.id ?? 0);
  const [comparedWith, setComparedWith] = useState<number | null>(states[0]?.id ?? null);
  const [goBack, { error, isLoading }] = useGoBackMutation();
  const chosen = states.find(({ id }) => id === lookedAt) ?? states[0];
  const other = states.find(({ id }) => id === comparedWith) ?? null;
  if (!chosen) return null;
  const returnTo = async () => {
    const gone = await goBack({ id: tether.id, state: chosen.id });
    if (!gone.error) onClose();
  };
  return (
    <QuestionBox title={`States of ${tether.name}`} isWide onClose={onClose}>
      <div className="grid min-h-0 flex-1 grid-cols-[250px_1fr] gap-4">
        <ol aria-label="States" className="overflow-auto border border-hairline">
          {states.map((state) => (
            <li key={state.id} className="border-b border-hairline last:border-b-0">
              <button
                type="button"
                aria-pressed={state.id === chosen.id}
                onClick={() => setLookedAt(state.id)}
                className={`w-full px-2 py-1.5 text-left ${state.id === chosen.id ? 'bg-rope/15' : 'hover:bg-mist'}`}
              >
                <StateLine state={state} />
                <span className="block text-sm text-muted">{state.summary}</span>
              </button>
            </li>
          ))}
        </ol>
        <div className="flex min-h-0 flex-col gap-3">
          <section
            aria-label="What it showed then"
            // biome-ignore lint/a11y/noNoninteractiveTabindex: it is scrolled with the keyboard
            tabIndex={0}
            className="min-h-[120px] flex-1 overflow-auto border border-hairline p-2"
          >
            <SnapshotView hash={chosen.snapshot} label={`${tether.name} as it was`} />
          </section>
          <div className="flex items-center gap-2">
            <label htmlFor="compared" className="text-sm font-semibold text-muted">
              Compared with
            </label>
            <select
              id="compared"
              value={comparedWith ?? ''}
              onChange={({ target }) => setComparedWith(target.value ? Number(target.value) : null)}
              className="h-7 min-w-0 flex-1 rounded-box border border-hairline bg-white px-1.5"
            >
              <option value="">nothing</option>
              {states.map(({ id, at, isShown }) => (
                <option key={id} value={id}>
                  {new Date(at).toLocaleString('en-GB', {
                    dateStyle: 'medium',
                    timeStyle: 'medium',
                  })}
                  {isShown ? ', shown now' : ''}
                </option>
              ))}
            </select>
          </div>
          {other && other.id !== chosen.id && (
            <Comparison from={chosen} to={other} label={`From this state to the other`} />
          )}
          {other && other.id === chosen.id && (
            <p className="text-muted">This is the same state: choose two to compare.</p>
          )}
          {error && <FaultNote fault={faultOf(error)} />}
          <div className="flex gap-2">
            <Button
              kind="primary"
              disabled={!isAllowed || chosen.isShown || isLoading}
              title={whyNot ?? (chosen.isShown ? 'It is shown now' : undefined)}
              onClick={() => void returnTo()}
            >
              Go back to this state
            </Button>
            <Button onClick={onClose}>Close</Button>
          </div>
        </div>
      </div>
    </QuestionBox>
  );
}

/** What turns the older of two states into the newer. */
function Comparison(props: { from: TetherState; to: TetherState; label: string }) {
  const [older, newer] =
    props.from.id < props.to.id ? [props.from, props.to] : [props.to, props.from];
  const { data: slip, error } = useCompareQuery({ from: older.snapshot, to: newer.snapshot });
  if (error) return <FaultNote fault={faultOf(error)} />;
  if (!slip) return null;
  if (isEmptySlip(slip)) {
    return <p className="text-muted">Both show the same.</p>;
  }
  return (
    <section
      aria-label="Comparison"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: it is scrolled with the keyboard
      tabIndex={0}
      className="max-h-[220px] overflow-auto border border-hairline px-2"
    >
      <SlipTable slip={slip} label={props.label} />
    </section>
  );
}
