import { useVirtualizer } from '@tanstack/react-virtual';
import {
  LEDGER_PAGE,
  type LedgerColumn,
  type LedgerPage,
  type LedgerQuery,
  type LedgerRow,
} from '@tether/contract';
import { describeMode, describeReach } from '@tether/core';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { useMemo, useRef } from 'react';
import { Link } from 'react-router';
import { useLedgerQuery } from '../state/api.ts';
import { Moment } from '../ui/Moment.tsx';
import { StandingGlyph } from '../ui/StandingGlyph.tsx';
import { standingWords } from '../ui/standing-words.ts';

const ROW_HEIGHT = 46;
const GRID =
  'grid grid-cols-[34px_minmax(180px,1.5fr)_minmax(130px,1fr)_minmax(190px,1.5fr)_minmax(120px,0.9fr)_minmax(150px,1fr)_minmax(120px,0.8fr)] items-center';

const HEADS: { column: LedgerColumn; words: string }[] = [
  { column: 'name', words: 'Object' },
  { column: 'document', words: 'Document' },
  { column: 'source', words: 'Source and reach' },
  { column: 'mode', words: 'Refreshes' },
  { column: 'standing', words: 'Standing' },
  { column: 'refreshed', words: 'Last taken' },
];

/** One line of the table: a row of the ledger by its place, or the head of a group. */
type Line = { row: number } | { group: string; count: number };

interface Props {
  query: LedgerQuery;
  first: LedgerPage;
  chosen: ReadonlySet<string>;
  isAll: boolean;
  onChoose: (ids: ReadonlySet<string>) => void;
  onSort: (change: { sort: string; down: string }) => void;
}

/** The rows of the ledger: asked for page by page as they come near, drawn only where they are seen. */
// biome-ignore lint/complexity/noExcessiveLinesPerFunction: not taken apart yet
export function LedgerTable({ query, first, chosen, isAll, onChoose, onSort }: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const lines = useMemo(() => linesOf(first), [first]);
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 8,
  });
  const items = virtual.getVirtualItems();
  // What is seen lies on two pages at most.
  const seen = items.flatMap(({ index }) => {
    const line = lines[index]!;
    return 'row' in line ? [line.row] : [];
  });
  const page = Math.floor((seen[0] ?? 0) / LEDGER_PAGE);
  const last = Math.floor((seen.at(-1) ?? 0) / LEDGER_PAGE);
  const { currentData: one } = useLedgerQuery({ ...query, page });
  const { currentData: two } = useLedgerQuery({ ...query, page: last }, { skip: last === page });
  const rowAt = (row: number): LedgerRow | undefined =>
    (Math.floor(row / LEDGER_PAGE) === page ? one : two)?.rows[row % LEDGER_PAGE];

  const loaded = [...(one?.rows ?? []), ...(two?.rows ?? [])].map(({ tether }) => tether.id);
  const areLoadedChosen = loaded.length > 0 && loaded.every((id) => chosen.has(id));
  const turn = (id: string, isOn: boolean) => {
    const next = new Set(chosen);
    if (isOn) next.add(id);
    else next.delete(id);
    onChoose(next);
  };
  return (
    <div
      role="table"
      aria-label="Ledger"
      aria-rowcount={first.total + 1}
      className="flex min-h-0 flex-1 flex-col bg-white"
    >
      <div role="row" className={`${GRID} border-b border-hairline px-6 text-sm text-muted`}>
        <span role="columnheader">
          <input
            type="checkbox"
            aria-label="Choose the rows that are loaded"
            checked={isAll || areLoadedChosen}
            onChange={({ target }) =>
              onChoose(target.checked ? new Set([...chosen, ...loaded]) : new Set())
            }
            className="size-4 accent-deep"
          />
        </span>
        {HEADS.map(({ column, words }) => {
          const isSorted = query.sort === column;
          const Arrow = query.down ? ArrowDown : ArrowUp;
          return (
            <span
              key={column}
              role="columnheader"
              aria-sort={isSorted ? (query.down ? 'descending' : 'ascending') : 'none'}
            >
              <button
                type="button"
                className="flex items-center gap-1 py-1.5 font-semibold hover:text-ink"
                onClick={() => onSort({ sort: column, down: isSorted && !query.down ? 'yes' : '' })}
              >
                {words}
                {isSorted && <Arrow size={12} aria-hidden />}
              </button>
            </span>
          );
        })}
      </div>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: it is scrolled with the keyboard */}
      <div ref={scroller} tabIndex={0} role="rowgroup" className="min-h-0 flex-1 overflow-auto">
        <div className="relative" style={{ height: virtual.getTotalSize() }}>
          {items.map(({ index, start }) => {
            const line = lines[index]!;
            const style = { transform: `translateY(${start}px)`, height: ROW_HEIGHT };
            if ('group' in line) {
              return (
                <div
                  key={`group ${line.group}`}
                  role="row"
                  className="absolute inset-x-0 top-0 flex items-end border-b border-hairline bg-mist px-6 pb-1.5"
                  style={style}
                >
                  <span role="cell" className="font-semibold">
                    {line.group || 'nobody'}{' '}
                    <span className="font-normal text-muted">{line.count}</span>
                  </span>
                </div>
              );
            }
            const found = rowAt(line.row);
            return (
              <div
                key={line.row}
                role="row"
                aria-rowindex={line.row + 2}
                className={`${GRID} absolute inset-x-0 top-0 border-b border-hairline px-6 ${found && (isAll || chosen.has(found.tether.id)) ? 'bg-rope/10' : ''}`}
                style={style}
              >
                {found ? (
                  <Cells
                    row={found}
                    isChosen={isAll || chosen.has(found.tether.id)}
                    onChoose={(isOn) => turn(found.tether.id, isOn)}
                  />
                ) : (
                  <span role="cell" className="col-span-7 text-muted">
                    …
                  </span>
                )}
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}

function linesOf({ groups, total }: LedgerPage): Line[] {
  if (groups.length === 0) return Array.from({ length: total }, (_, row) => ({ row }));
  const lines: Line[] = [];
  let row = 0;
  for (const { label, count } of groups) {
    lines.push({ group: label, count });
    for (let n = 0; n < count; n++) lines.push({ row: row++ });
  }
  return lines;
}

function Cells(props: { row: LedgerRow; isChosen: boolean; onChoose: (isOn: boolean) => void }) {
  const { row, isChosen, onChoose } = props;
  const { tether, documentName, hold } = row;
  const remark = tether.waits
    ? 'waits for somebody'
    : tether.left
      ? 'left'
      : tether.pinnedTo
        ? 'behind on purpose'
        : tether.summary;
  return (
    <>
      <span role="cell">
        <input
          type="checkbox"
          aria-label={`Choose ${tether.name}`}
          checked={isChosen}
          onChange={({ target }) => onChoose(target.checked)}
          className="size-4 accent-deep"
        />
      </span>
      <span role="cell" className="min-w-0 pr-3">
        <Link
          to={`/documents/${tether.documentId}?object=${tether.id}`}
          className="block truncate font-semibold hover:underline"
          title={tether.name}
        >
          {tether.name}
        </Link>
        <span className="text-sm text-muted">{tether.form}</span>
      </span>
      <span role="cell" className="min-w-0 pr-3">
        <Link to={`/documents/${tether.documentId}`} className="block truncate hover:underline">
          {documentName}
        </Link>
        {hold && <span className="text-sm text-rope-dark">held{hold.by && ` by ${hold.by}`}</span>}
      </span>
      <span role="cell" className="min-w-0 pr-3">
        <Link
          to={`/sources/${tether.source.id}`}
          className="block truncate font-mono text-[12px] hover:underline"
        >
          {tether.source.folder}/{tether.source.path}
        </Link>
        <span className="block truncate font-mono text-[11px] text-muted">
          {describeReach(tether.reach)}
        </span>
      </span>
      <span role="cell" className="min-w-0 pr-3">
        <span className="block truncate" title={describeMode(tether.mode)}>
          {describeMode(tether.mode)}
        </span>
        <span className="text-sm text-muted">
          {tether.modeFrom === 'object' ? 'its own' : `by its ${tether.modeFrom}`}
        </span>
      </span>
      <span role="cell" className="min-w-0 pr-3">
        <span className="flex items-center gap-1.5">
          <StandingGlyph standing={tether.standing} />
          {standingWords(tether)}
        </span>
        <span className="block truncate text-sm text-muted" title={tether.reason?.message}>
          {tether.reason?.message ?? remark}
        </span>
      </span>
      <span role="cell" className="min-w-0">
        <Moment at={tether.refreshedAt} />
        <span className="block truncate text-sm text-muted">
          {tether.refreshedBy ?? tether.refreshedHow}
        </span>
      </span>
    </>
  );
}
