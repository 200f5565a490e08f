import { Checkbox } from '@headlessui/react';
import {
  type CellChange,
  type ChangeSlip,
  type ColumnChange,
  columnName,
  describeLandmarks,
  describeLostTotals,
  type RowChange,
  showPerCent,
} from '@tether/core';
import { Check } from 'lucide-react';
import type { ReactNode } from 'react';

/** Which changes are taken; see `slipChoice`. */
interface SlipTicks {
  isOn: (key: string) => boolean;
  set: (key: string, isOn: boolean) => void;
}

interface Props {
  slip: ChangeSlip;
  label: string;
  /** Called with the cell of a row when it is clicked; without it rows cannot be clicked. */
  onCell?: (cell: { row: number; column: number }) => void;
  /** Ticks to take some changes and leave others. */
  ticks?: SlipTicks | undefined;
}

/** A change slip: totals first, then row by row each cell before → after with the difference. */
export function SlipTable({ slip, label, onCell, ticks }: Props) {
  const tick = (key: string, name: string) =>
    ticks && (
      <td className="w-6 py-1 align-top">
        <ChangeTick label={name} isOn={ticks.isOn(key)} onChange={(isOn) => ticks.set(key, isOn)} />
      </td>
    );
  const looks = slip.rows.flatMap((row, at) => {
    const cells =
      row.kind === 'changed' && !row.hiding ? row.cells.filter((cell) => !isFigure(cell)) : [];
    return cells.length > 0 ? [{ row, at, cells }] : [];
  });
  return (
    <table aria-label={label} className="w-full border-collapse text-left">
      <thead>
        <tr className="border-b border-hairline text-sm text-muted">
          {ticks && <th className="py-1" aria-label="Take" />}
          <th className="py-1 pr-3 font-semibold">Row</th>
          <th className="py-1 pr-3 font-semibold">Column</th>
          <th className="py-1 pr-3 text-right font-semibold">Before</th>
          <th className="w-5 py-1" aria-label="becomes" />
          <th className="py-1 pr-3 font-semibold">After</th>
          <th className="py-1 pr-1 text-right font-semibold">Difference</th>
          <th className="py-1 pl-2 text-right font-semibold">Per cent</th>
        </tr>
      </thead>
      <tbody>
        {slip.landmarks && (
          <tr className="border-b border-hairline bg-rope/10">
            {ticks && <td />}
            <td colSpan={7} className="py-1 pl-1">
              These cells stand {describeLandmarks(slip.landmarks)}: look whether they are still the
              right ones.
            </td>
          </tr>
        )}
        {slip.lostTotals !== undefined && (
          <tr className="border-b border-hairline bg-rope/10">
            {ticks && <td />}
            <td colSpan={7} className="py-1 pl-1">
              The table comes {describeLostTotals(slip.lostTotals)}, which was its last row: look
              whether its cells are still the right ones.
            </td>
          </tr>
        )}
        {slip.totals.map((total) => (
          <tr key={total.column} className="border-b border-hairline bg-mist/60 font-semibold">
            {ticks && <td />}
            <td className="py-1 pr-3 pl-1">Total</td>
            <td className="py-1 pr-3">{total.header || columnName(total.column)}</td>
            <td className="py-1 pr-3 text-right">{total.before}</td>
            <td className="py-1 text-muted">→</td>
            <td className="py-1 pr-3">{total.after}</td>
            <td className="py-1 pr-1 text-right">{total.difference}</td>
            <td className="py-1 pl-2 text-right text-muted">{total.perCent}</td>
          </tr>
        ))}
        {slip.columns?.map((column, at) => (
          <WholeColumn
            key={`${column.kind}-${column.before}-${column.after}`}
            column={column}
            // They are taken together: each stands where the others leave it.
            tick={at === 0 ? tick('columns', 'Take the changed columns') : ticks && <td />}
          />
        ))}
        {slip.rows.map((row, at) =>
          row.hiding ? (
            <WholeRow
              key={`${row.hiding}-${row.before}-${row.after}`}
              row={row}
              from={null}
              tick={tick(`${at}`, `Take the row ${row.label}`)}
            />
          ) : row.kind === 'changed' ? (
            row.cells
              .filter(isFigure)
              .map((cell, index) => (
                <ChangedCell
                  key={`${row.after}-${cell.column}`}
                  row={row}
                  cell={cell}
                  isFirst={index === 0}
                  onCell={onCell}
                  tick={tick(
                    `${at}:${cell.column}`,
                    `Take ${cell.header || columnName(cell.column)} of ${row.label || `row ${row.after}`}`,
                  )}
                />
              ))
          ) : row.kind === 'removed' && row.twin !== undefined ? null : (
            <WholeRow
              key={`${row.kind}-${row.before}-${row.after}`}
              row={row}
              from={row.twin === undefined ? null : (slip.rows[row.twin]?.before ?? null)}
              tick={tick(`${at}`, `Take the row ${row.label}`)}
            />
          ),
        )}
        {looks.length > 0 && (
          <tr className="border-b border-hairline bg-mist/60">
            {ticks && <td />}
            <th scope="rowgroup" colSpan={7} className="py-1 pl-1 font-semibold">
              Looks different, figures as before
            </th>
          </tr>
        )}
        {looks.map(({ row, at, cells }) =>
          cells.map((cell, index) => (
            <ChangedCell
              key={`look ${row.after}-${cell.column}`}
              row={row}
              cell={cell}
              isFirst={index === 0}
              onCell={onCell}
              tick={tick(
                `${at}:${cell.column}`,
                `Take the look of ${cell.header || columnName(cell.column)} of ${row.label || `row ${row.after}`}`,
              )}
            />
          )),
        )}
        {slip.arrangement && (
          <tr className="border-b border-hairline">
            {tick('arrangement', 'Take widths, heights and merged cells')}
            <td colSpan={7} className="py-1 pl-1">
              Widths, heights, hidden parts or merged cells changed.
            </td>
          </tr>
        )}
      </tbody>
    </table>
  );
}

function ChangeTick(props: { label: string; isOn: boolean; onChange: (isOn: boolean) => void }) {
  const { label, isOn, onChange } = props;
  return (
    <Checkbox
      checked={isOn}
      onChange={onChange}
      aria-label={label}
      className={`mt-0.5 grid size-4 place-items-center rounded-[3px] border ${isOn ? 'border-deep bg-deep text-white' : 'border-muted bg-white'}`}
    >
      {isOn && <Check size={12} strokeWidth={3} aria-hidden />}
    </Checkbox>
  );
}

/** A row that came, went, or moved (from the row `from`). */
function WholeRow(props: { row: RowChange; from: number | null; tick: ReactNode }) {
  const { row, from, tick } = props;
  const isThere = row.kind === 'inserted' || row.hiding === 'shown';
  const faces = row.cells.map((cell) => (isThere ? cell.after : cell.before)?.text);
  const what =
    row.hiding !== undefined
      ? row.hiding === 'hidden'
        ? 'Row hidden in the source'
        : 'Row shown again in the source'
      : from !== null
        ? `Row moved, from row ${from}`
        : row.kind === 'inserted'
          ? 'Row inserted'
          : 'Row removed';
  return (
    <tr className="border-b border-hairline">
      {tick}
      <td className="py-1 pr-3 pl-1 align-top whitespace-nowrap">
        <RowName row={row} />
      </td>
      <td colSpan={6} className="py-1">
        <span className="font-semibold">{what}</span>
        {faces.length > 0 && ': '}
        <span className={isThere ? '' : 'line-through decoration-muted'}>
          {faces.filter(Boolean).join(' · ')}
        </span>
      </td>
    </tr>
  );
}

/** A column that came, went or moved. */
function WholeColumn({ column, tick }: { column: ColumnChange; tick: ReactNode }) {
  const { kind, before, after, header, cells } = column;
  const what =
    kind === 'moved'
      ? `Column moved, from column ${columnName(before!)}`
      : kind === 'hidden'
        ? 'Column hidden in the source'
        : kind === 'shown'
          ? 'Column shown again in the source'
          : kind === 'inserted'
            ? 'Column inserted'
            : 'Column removed';
  return (
    <tr className="border-b border-hairline">
      {tick}
      <td className="py-1 pr-3 pl-1 align-top whitespace-nowrap" />
      <td className="py-1 pr-3 align-top whitespace-nowrap">
        <span className="font-mono text-[11px] text-muted">{columnName((after ?? before)!)}</span>{' '}
        {header}
      </td>
      <td colSpan={5} className="py-1">
        <span className="font-semibold">{what}</span>
        {cells.length > 0 && ': '}
        <span
          className={kind === 'removed' || kind === 'hidden' ? 'line-through decoration-muted' : ''}
        >
          {cells
            .slice(0, SHOWN_OF_COLUMN)
            .map(({ face }) => face.text)
            .join(' · ')}
        </span>
        {cells.length > SHOWN_OF_COLUMN && ` and ${cells.length - SHOWN_OF_COLUMN} more`}
      </td>
    </tr>
  );
}

/** So many cells of a column that came or went are shown. */
const SHOWN_OF_COLUMN = 12;

function RowName({ row }: { row: RowChange }) {
  return (
    <>
      <span className="font-mono text-[11px] text-muted">{row.after ?? row.before}</span>{' '}
      {row.label}
    </>
  );
}

function ChangedCell(props: {
  row: RowChange;
  cell: CellChange;
  isFirst: boolean;
  onCell: Props['onCell'];
  tick: ReactNode;
}) {
  const { row, cell, isFirst, onCell, tick } = props;
  const place = { row: row.before ?? 0, column: cell.columnBefore ?? cell.column };
  const header = cell.header || columnName(cell.column);
  return (
    <tr
      className={`border-b border-hairline ${onCell ? 'cursor-pointer hover:bg-rope/10' : ''}`}
      onClick={onCell && (() => onCell(place))}
    >
      {tick}
      <td className="py-1 pr-3 pl-1 whitespace-nowrap">{isFirst && <RowName row={row} />}</td>
      <td className="py-1 pr-3">
        {onCell ? (
          <button
            type="button"
            className="text-left underline decoration-hairline"
            title="Show the cell"
          >
            {header}
          </button>
        ) : (
          header
        )}
      </td>
      {cell.kind === 'look' ? (
        <td colSpan={5} className="py-1 pr-1">
          {cell.before && cell.before.text !== cell.after?.text
            ? `${cell.before.text} is shown as ${cell.after?.text ?? ''}`
            : `${cell.after?.text || 'The cell'} looks different`}
        </td>
      ) : (
        <>
          <td className="py-1 pr-3 text-right text-muted">{cell.before?.text ?? 'empty'}</td>
          <td className="py-1 text-muted">→</td>
          <td className="py-1 pr-3 font-semibold">
            {cell.after?.text ?? 'empty'}
            {cell.kind === 'volatile' && (
              <span className="ml-1.5 font-normal text-muted">changes at every save</span>
            )}
          </td>
          <td className="py-1 pr-1 text-right">{cell.difference}</td>
          <td className="py-1 pl-2 text-right text-muted">{perCent(cell)}</td>
        </>
      )}
    </tr>
  );
}

function isFigure({ kind }: CellChange): boolean {
  return kind !== 'look';
}

/** By how much a cell changed, of what it was; empty where that says nothing. */
function perCent({ before, after }: CellChange): string {
  if (before?.type !== 'number' || after?.type !== 'number') return '';
  // Shares are told in points already.
  if (before.text.endsWith('%')) return '';
  return showPerCent(before.value as number, after.value as number);
}
