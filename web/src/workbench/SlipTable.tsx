import { type CellChange, type ChangeSlip, columnName, type RowChange } from '@tether/core';

interface Props {
  slip: ChangeSlip;
  label: string;
  /** Called with the cell of a row when it is clicked; without it rows cannot be clicked. */
  onCell?: (cell: { row: number; column: number }) => void;
}

/** A change slip: totals first, then row by row each cell before → after with the difference. */
export function SlipTable({ slip, label, onCell }: Props) {
  return (
    <table aria-label={label} className="w-full border-collapse text-left">
      <thead>
        <tr className="border-b border-hairline text-sm text-muted">
          <th className="py-1 pr-3 font-semibold">Row</th>
          <th className="py-1 pr-3 font-semibold">Column</th>
          <th className="py-1 pr-3 text-right font-semibold">Before</th>
          <th className="w-5 py-1" aria-label="becomes" />
          <th className="py-1 pr-3 font-semibold">After</th>
          <th className="py-1 text-right font-semibold">Difference</th>
        </tr>
      </thead>
      <tbody>
        {slip.totals.map((total) => (
          <tr key={total.column} className="border-b border-hairline bg-mist/60 font-semibold">
            <td className="py-1 pr-3 pl-1">Total</td>
            <td className="py-1 pr-3">{total.header || columnName(total.column)}</td>
            <td className="py-1 pr-3 text-right">{total.before}</td>
            <td className="py-1 text-muted">→</td>
            <td className="py-1 pr-3">{total.after}</td>
            <td className="py-1 pr-1 text-right">{total.difference}</td>
          </tr>
        ))}
        {slip.rows.map((row) =>
          row.kind === 'changed'
            ? row.cells.map((cell, index) => (
                <ChangedCell
                  key={`${row.after}-${cell.column}`}
                  row={row}
                  cell={cell}
                  isFirst={index === 0}
                  onCell={onCell}
                />
              ))
            : wholeRow(row),
        )}
        {slip.arrangement && (
          <tr className="border-b border-hairline">
            <td colSpan={6} className="py-1 pl-1">
              Widths, heights, hidden parts or merged cells changed.
            </td>
          </tr>
        )}
      </tbody>
    </table>
  );
}

function wholeRow(row: RowChange) {
  const faces = row.cells.map((cell) => (row.kind === 'inserted' ? cell.after : cell.before)?.text);
  return (
    <tr key={`${row.kind}-${row.before}-${row.after}`} className="border-b border-hairline">
      <td className="py-1 pr-3 pl-1 align-top whitespace-nowrap">
        <RowName row={row} />
      </td>
      <td colSpan={5} className="py-1">
        <span className="font-semibold">
          {row.kind === 'inserted' ? 'Row inserted' : 'Row removed'}
        </span>
        {faces.length > 0 && ': '}
        <span className={row.kind === 'removed' ? 'line-through decoration-muted' : ''}>
          {faces.filter(Boolean).join(' · ')}
        </span>
      </td>
    </tr>
  );
}

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
}) {
  const { row, cell, isFirst, onCell } = props;
  const place = { row: row.before ?? 0, column: cell.column };
  const header = cell.header || columnName(cell.column);
  return (
    <tr
      className={`border-b border-hairline ${onCell ? 'cursor-pointer hover:bg-rope/10' : ''}`}
      onClick={onCell && (() => onCell(place))}
    >
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
        <td colSpan={4} className="py-1 pr-1">
          {cell.after?.text || 'The cell'} looks different
        </td>
      ) : (
        <>
          <td className="py-1 pr-3 text-right text-muted">{cell.before?.text ?? 'empty'}</td>
          <td className="py-1 text-muted">→</td>
          <td className="py-1 pr-3 font-semibold">{cell.after?.text ?? 'empty'}</td>
          <td className="py-1 pr-1 text-right">{cell.difference}</td>
        </>
      )}
    </tr>
  );
}
