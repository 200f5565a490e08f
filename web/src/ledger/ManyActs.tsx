import type { LedgerAct, LedgerOutcome, LedgerSelection } from '@tether/contract';
import { useState } from 'react';
import { faultOf, useActOnManyMutation } from '../app/api.ts';
import { useMayChange } from '../app/useMayChange.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { QuestionBox } from '../ui/QuestionBox.tsx';
import { ModeFields } from '../workbench/ModeFields.tsx';

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
  tie: 'tied again',
};

/** What can be done to the chosen rows, and what became of it. */
export function ManyActs({ selection, count, total, isAll, onAll, onDone }: Props) {
  const { isAllowed, whyNot } = useMayChange();
  const [act, { isLoading, error }] = useActOnManyMutation();
  const [outcome, setOutcome] = useState<{
    words: string;
    refused: LedgerOutcome['refused'];
  } | null>(null);
  const [mode, setMode] = useState<Parameters<typeof ModeFields>[0]['own'] | undefined>(undefined);
  const run = async (what: LedgerAct['act']) => {
    if (!selection) return;
    const result = await act({ selection, act: what });
    if (!result.data) return;
    const { done, refused } = result.data;
    const things = what.kind === 'hold' ? 'document' : 'object';
    setOutcome({
      words: `${done.toLocaleString('en')} ${things}${done === 1 ? '' : 's'} ${DONE_WORDS[what.kind]}${refused.length > 0 ? `, ${refused.length} refused` : ''}.`,
      refused,
    });
    onDone();
  };
  const act1 = (what: LedgerAct['act'], words: string) => (
    <Button
      disabled={!isAllowed || isLoading}
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
      {selection ? (
        <>
          <span className="font-semibold">{count.toLocaleString('en')} chosen</span>
          {!isAll && count < total && (
            <button type="button" className="underline" onClick={onAll}>
              Choose all {total.toLocaleString('en')}
            </button>
          )}
          <span className="w-2" />
          {act1({ kind: 'refresh' }, 'Refresh')}
          <Button disabled={!isAllowed} title={whyNot} onClick={() => setMode(null)}>
            When they refresh
          </Button>
          {act1({ kind: 'hold', isHeld: true }, 'Hold their documents')}
          {act1({ kind: 'hold', isHeld: false }, 'Release them')}
          {act1({ kind: 'freeze' }, 'Freeze')}
          {act1({ kind: 'tie' }, 'Tie again')}
        </>
      ) : (
        <span role="status" className="text-muted">
          {outcome ? outcome.words : 'Choose rows to do something to many at once.'}
        </span>
      )}
      {error && <FaultNote fault={faultOf(error)} />}
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
