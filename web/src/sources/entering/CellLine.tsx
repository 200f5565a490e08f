import { type Cell, type CellAddress, formatCell } from '@tether/core';
import type { PointerEvent, ReactNode } from 'react';
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
      {entering?.refused.map((each) => (
        <Refusal
          key={`${each.fault.code} ${each.cells[0]?.row} ${each.cells[0]?.column}`}
          refused={each}
          entering={entering}
        />
      ))}
    </div>
  );
}

/** What was not taken, and what can be done about it. */
function Refusal(props: { refused: Entering['refused'][number]; entering: Entering }) {
  const { refused, entering } = props;
  const { cells, fault, insist } = refused;
  const [first] = cells;
  const { opened } = entering;
  const isOpen = opened && first && opened.row === first.row && opened.column === first.column;
  // The field keeps the keys until it is decided.
  const keepKeys = (event: PointerEvent) => event.preventDefault();
  return (
    <div className="flex items-start gap-2">
      <FaultNote
        fault={first ? { ...fault, message: `${formatCell(first)}: ${fault.message}` } : fault}
        className="flex-1"
      />
      {insist && (
        <Button
          onPointerDown={keepKeys}
          onClick={() => void insist.run().then((done) => done && isOpen && entering.close())}
        >
          {insist.words}
        </Button>
      )}
      {cells.length === 1 && !isOpen && (
        <Button onPointerDown={keepKeys} onClick={() => entering.openAgain(refused)}>
          Open it again
        </Button>
      )}
      <Button kind="quiet" onPointerDown={keepKeys} onClick={() => entering.leave(refused)}>
        Leave it as it is
      </Button>
    </div>
  );
}
