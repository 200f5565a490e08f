import { type Cell, type CellAddress, formatCell } from '@tether/core';
import type { ReactNode } from 'react';
import { formulaAs } from '../../placed/typed-as.ts';
import { Button } from '../../ui/Button.tsx';
import { FaultNote } from '../../ui/FaultNote.tsx';
import type { Entering } from './useEntering.ts';

/** What stands in the picked cell, and what could not be taken down. */
export function CellLine(props: {
  at: CellAddress | null;
  cell: Cell | undefined;
  entering: Entering | null;
  /** What else can be done with the selected cells. */
  menu: ReactNode;
}) {
  const { at, cell, entering, menu } = props;
  const entry = at ? entering?.entryAt(at) : undefined;
  const held = cell?.formula ? formulaAs(cell.formula) : String(cell?.value ?? '');
  const refused = entering?.refused;
  return (
    <div className="flex flex-col gap-1">
      <div className="flex h-7 items-center gap-3 overflow-hidden border-b border-hairline px-1">
        <span className="w-14 shrink-0 font-mono text-[12px]">{at ? formatCell(at) : ''}</span>
        <span className="min-w-0 truncate font-mono text-[12px]" data-cell-held>
          {entry ? entry.typed : held}
        </span>
        <span className="ml-auto shrink-0 text-sm text-muted">
          {entry
            ? `${entry.isMine ? 'You' : (entry.by ?? 'Somebody')} typed it; not in the file yet`
            : at
              ? entering
                ? 'Type to change it'
                : ''
              : 'Pick a cell to see what stands in it'}
        </span>
        {menu}
      </div>
      {refused && (
        <div className="flex items-start gap-2">
          <FaultNote fault={refused.fault} className="flex-1" />
          {refused.again && (
            <Button onPointerDown={(event) => event.preventDefault()} onClick={refused.again}>
              Open it again
            </Button>
          )}
          {refused.insist && (
            <Button
              // The field keeps the keys until it is decided.
              onPointerDown={(event) => event.preventDefault()}
              onClick={() => void refused.insist!.run().then((done) => done && entering?.close())}
            >
              {refused.insist.words}
            </Button>
          )}
          <Button
            kind="quiet"
            onPointerDown={(event) => event.preventDefault()}
            onClick={() => entering?.close()}
          >
            Leave it as it is
          </Button>
        </div>
      )}
    </div>
  );
}
