import type { EntrySeen } from '@tether/contract';
import { type Area, formatCell } from '@tether/core';
import { useState } from 'react';
import { writingWay } from '../../placed/writing-way.ts';
import {
  faultOf,
  useDecideEntryMutation,
  useDropEntriesMutation,
  useEnterCellsMutation,
  useEntriesQuery,
  useSaveEntriesMutation,
} from '../../state/api.ts';
import { Button } from '../../ui/Button.tsx';
import { counted } from '../../ui/counted.ts';
import { FaultNote } from '../../ui/FaultNote.tsx';
import { Moment } from '../../ui/Moment.tsx';

/** So many entries are listed one by one. */
const MOST_LISTED = 60;

/** What waits to be saved in a source, and saving it; nothing where nothing waits. */
export function Waiting(props: {
  sourceId: string;
  hash: string;
  isAllowed: boolean;
  whyNot: string | undefined;
  onShow: (where: { sheet: string; area: Area }) => void;
}) {
  const { sourceId, hash, isAllowed, whyNot, onShow } = props;
  const { data: seen, error } = useEntriesQuery(sourceId);
  const [save, saving] = useSaveEntriesMutation();
  const [drop, dropping] = useDropEntriesMutation();
  /** What was let go last, for having it back. */
  const [dropped, setDropped] = useState<readonly EntrySeen[]>([]);
  const letGo = async () => {
    const mine = seen?.entries.filter(({ isMine }) => isMine) ?? [];
    const done = await drop(sourceId);
    if (!('error' in done)) setDropped(mine);
  };
  if (error) {
    return (
      <section>
        <FaultNote fault={faultOf(error)} />
      </section>
    );
  }
  if (!seen || seen.entries.length === 0) {
    return dropped.length === 0 ? null : (
      <section aria-label="Let go">
        <BringBack {...{ sourceId, hash, dropped }} onDone={() => setDropped([])} />
      </section>
    );
  }
  const { entries, plan, fault } = seen;
  const undecided = entries.filter(({ kind }) => kind === 'contested').length;
  const isBusy = saving.isLoading || dropping.isLoading;
  return (
    <section aria-labelledby="waiting" className="flex flex-col gap-2">
      <h2 id="waiting" className="text-[15px] font-semibold">
        Waiting to be saved
      </h2>
      <ul className="flex flex-col divide-y divide-hairline border-y border-hairline">
        {entries.slice(0, MOST_LISTED).map((entry) => (
          <li key={entry.id} className="py-1.5">
            <EntryLine {...{ sourceId, hash, entry, isAllowed, whyNot, onShow }} />
          </li>
        ))}
      </ul>
      {entries.length > MOST_LISTED && (
        <p className="text-muted">and {entries.length - MOST_LISTED} more</p>
      )}
      {plan && (
        <p>
          Saving writes {counted(plan.cells, 'cell')}
          {plan.follows > 0 &&
            `; ${counted(plan.follows, 'figure')} ${plan.follows === 1 ? 'follows' : 'follow'}`}
          .
        </p>
      )}
      {plan && plan.notFinal.length > 0 && (
        <p className="border-l-2 border-behind pl-2">
          {counted(plan.notFinal.length, 'figure')} {plan.notFinal.length === 1 ? 'is' : 'are'} not
          final: {plan.notFinal[0]!.sheet}!{plan.notFinal[0]!.ref}: {plan.notFinal[0]!.why}.
        </p>
      )}
      {plan?.losesSignature && (
        <p className="border-l-2 border-behind pl-2">
          The file is signed. Its signature does not hold any more once it is saved.
        </p>
      )}
      {fault && <FaultNote fault={fault} />}
      {undecided > 0 && (
        <p className="border-l-2 border-contested pl-2">
          Decide first where the file says something else now.
        </p>
      )}
      <div className="flex flex-wrap gap-2">
        <Button
          kind="primary"
          disabled={!plan || undecided > 0 || isBusy || !isAllowed}
          title={whyNot}
          onClick={() => plan && void save({ id: sourceId, token: plan.token })}
        >
          {saving.isLoading ? 'Saving …' : 'Save in the file'}
        </Button>
        {entries.some(({ isMine }) => isMine) && (
          <Button disabled={isBusy} onClick={() => void letGo()}>
            Let all mine go
          </Button>
        )}
      </div>
      {dropped.length > 0 && (
        <BringBack {...{ sourceId, hash, dropped }} onDone={() => setDropped([])} />
      )}
      {saving.error && <FaultNote fault={faultOf(saving.error)} />}
    </section>
  );
}

/** Types what was let go once more. */
function BringBack(props: {
  sourceId: string;
  hash: string;
  dropped: readonly EntrySeen[];
  onDone: () => void;
}) {
  const { sourceId, hash, dropped, onDone } = props;
  const [enter, { isLoading, error }] = useEnterCellsMutation();
  const bringBack = async () => {
    for (const sheet of new Set(dropped.map((each) => each.sheet))) {
      const cells = dropped
        .filter((each) => each.sheet === sheet)
        .map(({ row, column, typed }) => ({ row, column, typed, seen: null, isOverFormula: true }));
      const done = await enter({ id: sourceId, hash, sheet, cells, writing: writingWay() });
      if ('error' in done) return;
    }
    onDone();
  };
  return (
    <div className="flex flex-col items-start gap-2">
      <p className="text-muted">{counted(dropped.length, 'cell')} let go.</p>
      <Button disabled={isLoading} onClick={() => void bringBack()}>
        Bring them back
      </Button>
      {error && <FaultNote fault={faultOf(error)} />}
    </div>
  );
}

function EntryLine(props: {
  sourceId: string;
  hash: string;
  entry: EntrySeen;
  isAllowed: boolean;
  whyNot: string | undefined;
  onShow: (where: { sheet: string; area: Area }) => void;
}) {
  const { sourceId, hash, entry, isAllowed, whyNot, onShow } = props;
  const [decide, deciding] = useDecideEntryMutation();
  const [enter, entering] = useEnterCellsMutation();
  const { sheet, row, column, kind, agreed, theirs, yours, by, isMine, at } = entry;
  const off = { disabled: !isAllowed || deciding.isLoading || entering.isLoading, title: whyNot };
  const take = (decision: 'theirs' | 'yours') =>
    void decide({ id: sourceId, entry: entry.id, decision });
  const letGo = () =>
    void enter({
      id: sourceId,
      hash,
      sheet,
      cells: [{ row, column, typed: null, seen: at }],
      writing: writingWay(),
    });
  const failed = deciding.error ?? entering.error;
  return (
    <>
      <div className="flex items-baseline gap-2">
        <button
          type="button"
          className="font-mono text-[12px] font-semibold hover:underline"
          title="Show this cell"
          onClick={() =>
            onShow({ sheet, area: { top: row, left: column, bottom: row, right: column } })
          }
        >
          {sheet}!{formatCell({ row, column })}
        </button>
        <span className="ml-auto text-sm text-muted">
          {isMine ? 'You' : (by ?? 'Somebody')}, <Moment at={at} />
        </span>
      </div>
      {kind === 'contested' ? (
        <>
          <p className="font-semibold text-contested">The file was changed here, or around it</p>
          <dl className="mt-1 grid grid-cols-3 gap-2 break-words tabular-nums">
            <Said term="Agreed" text={agreed} />
            <Said term="Theirs" text={theirs} />
            <Said term="Yours" text={yours} />
          </dl>
          <div className="mt-1 flex flex-wrap gap-2">
            <Button {...off} onClick={() => take('theirs')}>
              Take theirs
            </Button>
            <Button {...off} onClick={() => take('yours')}>
              Keep yours
            </Button>
          </div>
        </>
      ) : (
        <p className="flex items-baseline gap-2 break-all tabular-nums">
          <span>
            {agreed || 'nothing'} → <b>{yours || 'nothing'}</b>
            {kind === 'same' && <span className="text-muted"> · the file says the same now</span>}
          </span>
          <button
            type="button"
            {...off}
            className="ml-auto text-sm text-muted underline decoration-hairline enabled:hover:text-ink"
            onClick={letGo}
          >
            Let it go
          </button>
        </p>
      )}
      {failed && <FaultNote fault={faultOf(failed)} className="mt-1" />}
    </>
  );
}

function Said({ term, text }: { term: string; text: string }) {
  return (
    <div>
      <dt className="text-sm text-muted">{term}</dt>
      <dd className="font-semibold">{text || 'nothing'}</dd>
    </div>
  );
}
