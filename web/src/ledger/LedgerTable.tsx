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
import { type CSSProperties, useMemo, useRef } from 'react';
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
  const seen = items.flatMap(({ index }) => {
    const line = lines[index]!;
    return 'row' in line ? [line.row] : [];
  });
  const { loaded, rowAt } = useSeenRows(query, seen);
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
            checked={isAll || (loaded.length > 0 && loaded.every((id) => chosen.has(id)))}
            onChange={({ target }) =>
              onChoose(target.checked ? new Set([...chosen, ...loaded]) : new Set())
            }
            className="size-4 accent-deep"
          />
        </span>
        {HEADS.map((head) => (
          <Head key={head.column} {...head} query={query} onSort={onSort} />
        ))}
      </div>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: it is scrolled with the keyboard */}
      <div ref={scroller} tabIndex={0} role="rowgroup" className="min-h-0 flex-1 overflow-auto">
        <div className="relative" style={{ height: virtual.getTotalSize() }}>
          {items.map(({ index, start }) => {
            const line = lines[index]!;
            const style = { transform: `translateY(${start}px)`, height: ROW_HEIGHT };
            if ('group' in line) {
              return <GroupLine key={`group ${line.group}`} {...line} style={style} />;
            }
            const row = rowAt(line.row);
            const isChosen = row !== undefined && (isAll || chosen.has(row.tether.id));
            return (
              <RowLine
                key={line.row}
                {...{ row, isChosen, style }}
                index={line.row + 2}
                onChoose={(isOn) => row && turn(row.tether.id, isOn)}
              />
            );
          })}
        </div>
      </div>
    </div>
  );
}

/** The rows of the ledger that are seen, by their places. They lie on two of its pages at most. */
function useSeenRows(query: LedgerQuery, seen: readonly number[]) {
  const page = Math.floor((seen[0] ?? 0) / LEDGER_PAGE);
  const last = Math.floor((seen.at(-1) ?? 0) / LEDGER_PAGE);
  const { currentData: one } = useLedgerQuery({ ...query, page });
  const { currentData: two } = useLedgerQuery({ ...query, page: last }, { skip: last === page });
  return {
    loaded: [...(one?.rows ?? []), ...(two?.rows ?? [])].map(({ tether }) => tether.id),
    rowAt: (row: number): LedgerRow | undefined =>
      (Math.floor(row / LEDGER_PAGE) === page ? one : two)?.rows[row % LEDGER_PAGE],
  };
}

/** The head of a column, by which rows are sorted. */
function Head(props: (typeof HEADS)[number] & Pick<Props, 'query' | 'onSort'>) {
  const { column, words, query, onSort } = props;
  const isSorted = query.sort === column;
  const Arrow = query.down ? ArrowDown : ArrowUp;
  return (
    <span
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
}

function GroupLine(props: { group: string; count: number; style: CSSProperties }) {
  return (
    <div
      role="row"
      className="absolute inset-x-0 top-0 flex items-end border-b border-hairline bg-mist px-6 pb-1.5"
      style={props.style}
    >
      <span role="cell" className="font-semibold">
        {props.group || 'nobody'} <span className="font-normal text-muted">{props.count}</span>
      </span>
    </div>
  );
}

function RowLine(props: {
  /** Nothing until its page has come. */
  row: LedgerRow | undefined;
  index: number;
  isChosen: boolean;
  style: CSSProperties;
  onChoose: (isOn: boolean) => void;
}) {
  const { row, isChosen, onChoose } = props;
  return (
    <div
      role="row"
      aria-rowindex={props.index}
      className={`${GRID} absolute inset-x-0 top-0 border-b border-hairline px-6 ${isChosen ? 'bg-rope/10' : ''}`}
      style={props.style}
    >
      {row ? (
        <Cells {...{ row, isChosen, onChoose }} />
      ) : (
        <span role="cell" className="col-span-7 text-muted">
          …
        </span>
      )}
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
