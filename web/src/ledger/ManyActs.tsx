import type { LedgerAct, LedgerSelection } from '@tether/contract';
import { useState } from 'react';
import { ModeFields } from '../modes/ModeFields.tsx';
import { ledgerApi } from '../state/api.ts';
import { useAppDispatch } from '../state/store.ts';
import { useMayChange } from '../state/useMayChange.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { QuestionBox } from '../ui/QuestionBox.tsx';
import { inSteps, type ManyState, useManySteps } from './many-steps.ts';
import { TieElsewhere } from './TieElsewhere.tsx';

interface Props {
  selection: LedgerSelection | null;
  count: number;
  total: number;
  isAll: boolean;
  onAll: () => void;
  onDone: () => void;
}

const DONE_WORDS: Record<LedgerAct['act']['kind'], string> = {
  refresh: 'refreshed',
  mode: 'given another mode',
  hold: 'held or released',
  freeze: 'frozen',
  tie: 'unfrozen',
};

function endWords(
  kind: LedgerAct['act']['kind'],
  { done, refused, isStopped }: Extract<ManyState, { kind: 'ended' }>,
): string {
  const things = kind === 'hold' ? 'document' : 'object';
  const what = `${done.toLocaleString('en')} ${things}${done === 1 ? '' : 's'} ${DONE_WORDS[kind]}`;
  return `${what}${refused.length > 0 ? `, ${refused.length} refused` : ''}${isStopped ? ', then stopped' : ''}.`;
}

/** What can be done to the chosen rows, and what became of it. */
export function ManyActs({ selection, count, total, isAll, onAll, onDone }: Props) {
  const { isAllowed, whyNot } = useMayChange();
  const dispatch = useAppDispatch();
  const { state, run: runSteps, stop } = useManySteps();
  const [kind, setKind] = useState<LedgerAct['act']['kind']>('refresh');
  const isRunning = state.kind === 'running';
  const outcome = state.kind === 'ended' ? state : null;
  const [mode, setMode] = useState<Parameters<typeof ModeFields>[0]['own'] | undefined>(undefined);
  const [tying, setTying] = useState<readonly string[] | null>(null);
  const idsOf = async (those: LedgerSelection): Promise<string[]> =>
    'ids' in those
      ? those.ids
      : dispatch(
          ledgerApi.endpoints.ledgerIds.initiate(those.query, {
            subscribe: false,
            forceRefetch: true,
          }),
        ).unwrap();
  const run = async (what: LedgerAct['act']) => {
    if (!selection) return;
    setKind(what.kind);
    // Its steps belong together, so that they can be taken back as one.
    const name = crypto.randomUUID();
    await runSteps(async () => {
      const ids = await idsOf(selection);
      return inSteps(ids, (step) =>
        dispatch(
          ledgerApi.endpoints.actOnMany.initiate({ selection: { ids: step }, act: what, name }),
        ).unwrap(),
      );
    });
    onDone();
  };
  const act1 = (what: LedgerAct['act'], words: string) => (
    <Button
      disabled={!isAllowed || isRunning}
      title={whyNot}
      onClick={() => void run(what)}
      key={words}
    >
      {words}
    </Button>
  );
  return (
    <div
      role="toolbar"
      aria-label="The chosen objects"
      className={`flex min-h-[45px] flex-wrap items-center gap-2 border-b border-hairline px-6 py-1.5 ${selection ? 'bg-rope/10' : 'bg-mist'}`}
    >
      {isRunning ? (
        <>
          <span role="status" className="font-semibold">
            {state.done.toLocaleString('en')} of {state.total.toLocaleString('en')} …
          </span>
          <progress
            aria-label="How far it is"
            className="h-2 w-48 accent-deep"
            max={Math.max(1, state.total)}
            value={state.done}
          />
          <Button onClick={stop}>Stop</Button>
        </>
      ) : selection ? (
        <>
          <span className="font-semibold">{count.toLocaleString('en')} chosen</span>
          {!isAll && count < total && (
            <button type="button" className="underline" onClick={onAll}>
              Choose all {total.toLocaleString('en')}
            </button>
          )}
          <span className="w-2" />
          {act1({ kind: 'refresh' }, 'Refresh')}
          <Button disabled={!isAllowed || isRunning} title={whyNot} onClick={() => setMode(null)}>
            When they refresh
          </Button>
          <Button
            disabled={!isAllowed || isRunning}
            title={whyNot}
            onClick={() => void idsOf(selection).then(setTying, () => setTying(null))}
          >
            Tie to another file …
          </Button>
          {act1({ kind: 'hold', isHeld: true }, 'Hold their documents')}
          {act1({ kind: 'hold', isHeld: false }, 'Release them')}
          {act1({ kind: 'freeze' }, 'Freeze')}
          {act1({ kind: 'tie' }, 'Unfreeze')}
        </>
      ) : (
        <span role="status" className="text-muted">
          {outcome ? endWords(kind, outcome) : 'Choose rows to do something to many at once.'}
        </span>
      )}
      {state.kind === 'failed' && <FaultNote fault={state.fault} />}
      {outcome && outcome.refused.length > 0 && (
        <details className="basis-full">
          <summary>What was refused</summary>
          <ul className="max-h-40 overflow-auto">
            {outcome.refused.map(({ id, name, fault }) => (
              <li key={id}>
                <span className="font-semibold">{name}:</span> {fault.message} {fault.hint}
              </li>
            ))}
          </ul>
        </details>
      )}
      {tying && <TieElsewhere ids={tying} onClose={() => setTying(null)} />}
      {mode !== undefined && (
        <QuestionBox
          title={`When ${count.toLocaleString('en')} ${count === 1 ? 'object refreshes' : 'objects refresh'}`}
          onClose={() => setMode(undefined)}
        >
          <ModeFields
            own={mode}
            inherited={{ mode: null, from: 'source or document' }}
            disabled={false}
            onChange={setMode}
          />
          <div className="flex gap-2">
            <Button
              kind="primary"
              onClick={() => {
                setMode(undefined);
                void run({ kind: 'mode', mode });
              }}
            >
              Set it
            </Button>
            <Button onClick={() => setMode(undefined)}>Cancel</Button>
          </div>
        </QuestionBox>
      )}
    </div>
  );
}
