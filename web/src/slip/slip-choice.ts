import type { ChangeSlip, Choice } from '@tether/core';

/** Names of the changes of a slip that can be left: `3` for a row as a whole, `3:5` for a cell of it, `columns`, `arrangement`. */
export function keysOf(slip: ChangeSlip): string[] {
  const keys = slip.rows.flatMap((row, index) =>
    row.kind === 'changed' && !row.hiding
      ? row.cells.map(({ column }) => `${index}:${column}`)
      : // A row that moved is one change, told where it went.
        row.kind === 'removed' && row.twin !== undefined
        ? []
        : [`${index}`],
  );
  if (slip.columns) keys.push('columns');
  return slip.arrangement ? [...keys, 'arrangement'] : keys;
}

/** What is chosen of a slip when these of its changes are left. */
export function choiceWithout(slip: ChangeSlip, left: ReadonlySet<string>): Choice {
  const rows: Choice['rows'] = [];
  slip.rows.forEach((row, index) => {
    if (row.kind === 'changed' && !row.hiding) {
      const columns = row.cells
        .map(({ column }) => column)
        .filter((column) => !left.has(`${index}:${column}`));
      if (columns.length === row.cells.length) rows.push({ row: index, columns: null });
      else if (columns.length > 0) rows.push({ row: index, columns });
    } else {
      const key = row.kind === 'removed' && row.twin !== undefined ? row.twin : index;
      if (!left.has(`${key}`)) rows.push({ row: index, columns: null });
    }
  });
  const columns = slip.columns ? { columns: !left.has('columns') } : {};
  return { rows, ...columns, arrangement: slip.arrangement && !left.has('arrangement') };
}
