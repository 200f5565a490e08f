import { autoUpdate, useFloating } from '@floating-ui/react';
import type { Tether } from '@tether/contract';
import { type Fault, formatCell, type Snapshot } from '@tether/core';
import {
  type ClipboardEvent,
  type KeyboardEvent,
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
} from 'react';
import { createPortal } from 'react-dom';
import { typedAs } from '../../placed/typed-as.ts';
import { writingWay } from '../../placed/writing-way.ts';
import { faultOf, useEditCellsMutation } from '../../state/api.ts';
import { useAppDispatch, useAppSelector } from '../../state/store.ts';
import { cellOpened, cellPicked, cellReturned } from '../../state/workbench-slice.ts';
import { FaultNote } from '../../ui/FaultNote.tsx';
import { BARS } from '../object/part/PartBar.tsx';

interface Props {
  tether: Tether;
  snapshot: Snapshot;
  /** The drawn table, in which the cell is looked for. */
  table: HTMLElement | null;
  /** The keys go on in the document, where the arrows pick the next cell: it takes the focus, its object selected. */
  onLeft: () => void;
}

/** The field over the cell of a table that somebody types in. */
export function CellEditor({ tether, snapshot, table, onLeft }: Props) {
  const typing = useAppSelector(({ workbench }) =>
    workbench.typing?.tetherId === tether.id ? workbench.typing : null,
  );
  const place = document.getElementById(BARS);
  if (!typing || !table || !place) return null;
  const { row, column, letters, refused } = typing;
  return createPortal(
    <Field
      key={`${row},${column}`}
      {...{ tether, snapshot, table, onLeft, row, column, letters, refused }}
    />,
    place,
  );
}

interface FieldProps extends Props {
  table: HTMLElement;
  row: number;
  column: number;
  letters: string | null;
  refused: { fault: Fault; isOver: boolean } | undefined;
}

function Field(props: FieldProps) {
  const { snapshot, table, onLeft, row, column, letters, refused } = props;
  const [sheetRow, sheetColumn] = [snapshot.area.top + row, snapshot.area.left + column];
  const cell = snapshot.cells.find((each) => each.row === sheetRow && each.column === sheetColumn);
  const [typed, setTyped] = useState(letters ?? typedAs(cell));
  const [isOver, setOver] = useState(refused?.isOver ?? false);
  const input = useRef<HTMLInputElement>(null);
  const { floating, style, width } = useOverCell(table, row, column);
  const { isClosed, close, go } = useLeaving(props);
  const { send, isLoading, error } = useCorrecting(props, sheetRow, sheetColumn, isOver);
  const dispatch = useAppDispatch();
  useEffect(() => {
    const field = input.current;
    field?.focus({ preventScroll: true });
    // Letters that opened it stand before the next one; what stood there is written over.
    if (letters === null) field?.select();
    else field?.setSelectionRange(letters.length, letters.length);
  }, [letters]);
  const leave = () => {
    close();
    onLeft();
  };
  /** It goes on at once, since the next letters belong elsewhere; what is not taken opens again, and says why. */
  const save = async (then: () => void) => {
    then();
    if (typed === typedAs(cell)) return;
    const done = await send([[typed]]);
    if (!('error' in done)) return;
    const why = { fault: faultOf(done.error), isOver };
    const place = { tetherId: props.tether.id, row, column };
    dispatch(cellReturned({ ...place, letters: typed, refused: why }));
  };
  const press = (event: KeyboardEvent) => {
    const { key, shiftKey } = event;
    if (key === 'Escape') {
      event.preventDefault();
      leave();
    } else if (key === 'Enter' || key === 'Tab') {
      event.preventDefault();
      const back = shiftKey ? -1 : 1;
      void save(() => (key === 'Enter' ? go(back, 0) : go(0, back)));
    }
  };
  const paste = (event: ClipboardEvent) => {
    const text = event.clipboardData.getData('text/plain').replace(/\r?\n$/, '');
    if (!/[\t\n]/.test(text)) return;
    event.preventDefault();
    const lines = text.split(/\r?\n/).map((line) => line.split('\t'));
    void send(lines).then((done) => !('error' in done) && close());
  };
  const fault = error ? faultOf(error) : refused?.fault;
  const needsStep = cell?.formula !== undefined && !isOver;
  return (
    <div
      ref={floating}
      style={{ ...style, ...(needsStep || fault ? {} : { width: Math.max(72, width) }) }}
      className="z-40 flex flex-col rounded-box border-2 border-edited bg-white shadow-paper print:hidden"
    >
      {needsStep ? (
        <FormulaStep
          formula={cell.formula!}
          onLeave={leave}
          onPut={() => {
            setOver(true);
            setTimeout(() => input.current?.focus());
          }}
        />
      ) : (
        <input
          ref={input}
          aria-label={`Correction of ${formatCell({ row: sheetRow, column: sheetColumn })}`}
          value={typed}
          aria-busy={isLoading}
          onChange={(event) => setTyped(event.target.value)}
          onKeyDown={press}
          onPaste={paste}
          // Who goes elsewhere has not thrown away what was typed: it is kept, or says why it cannot be.
          onBlur={() => !isClosed.current && void save(close)}
          className="h-6 w-full min-w-0 px-1.5 outline-none"
        />
      )}
      {fault && <FaultNote fault={fault} className="max-w-[300px] p-2" />}
    </div>
  );
}

/** Something that stands over a cell of a drawn table, wherever that goes; and how wide the cell is. */
function useOverCell(table: HTMLElement, row: number, column: number) {
  const { refs, floatingStyles } = useFloating({
    placement: 'bottom-start',
    strategy: 'fixed',
    transform: false,
    middleware: [{ name: 'over', fn: ({ rects }) => ({ y: rects.reference.y }) }],
    whileElementsMounted: autoUpdate,
  });
  const cell = table.querySelector(`[data-cell="${row},${column}"]`);
  useLayoutEffect(() => {
    refs.setPositionReference({
      contextElement: table,
      getBoundingClientRect: () =>
        (table.querySelector(`[data-cell="${row},${column}"]`) ?? table).getBoundingClientRect(),
    });
  }, [refs, table, row, column]);
  const width = cell?.getBoundingClientRect().width ?? 0;
  return { floating: refs.setFloating, style: floatingStyles, width };
}

/** The ways out of the field: closed, or on to a neighbour, as in any grid. */
function useLeaving({ tether, snapshot, onLeft, row, column }: FieldProps) {
  const dispatch = useAppDispatch();
  const isClosed = useRef(false);
  const close = () => {
    isClosed.current = true;
    dispatch(cellOpened(null));
  };
  const go = (down: number, across: number) => {
    const { area } = snapshot;
    const next = { tetherId: tether.id, row: row + down, column: column + across };
    const isThere =
      area.top + next.row <= area.bottom &&
      area.left + next.column <= area.right &&
      next.row >= 0 &&
      next.column >= 0;
    close();
    onLeft();
    if (isThere) dispatch(cellPicked(next));
  };
  return { isClosed, close, go };
}

/** Sends what was typed for a cell, and for those right of and below it. */
function useCorrecting(
  { tether }: FieldProps,
  sheetRow: number,
  sheetColumn: number,
  isOver: boolean,
) {
  // A refresh may move the rows while somebody types: then it is refused, and not put into another one.
  const [base] = useState(tether.base);
  const [edit, { isLoading, error }] = useEditCellsMutation();
  const send = (lines: string[][]) =>
    edit({
      id: tether.id,
      request: {
        base,
        cells: lines.flatMap((line, down) =>
          line.map((each, across) => ({
            row: sheetRow + down,
            column: sheetColumn + across,
            typed: each,
            ...(isOver ? { isOverFormula: true } : {}),
          })),
        ),
        writing: writingWay(),
      },
    });
  return { send, isLoading, error };
}

/** Asks whether a figure is to take the place of the formula that gives it. */
function FormulaStep(props: { formula: string; onLeave: () => void; onPut: () => void }) {
  const { formula, onLeave, onPut } = props;
  const look = 'rounded-box border border-hairline px-2 py-1 font-semibold hover:border-deep';
  return (
    <fieldset
      aria-label="A formula gives this figure"
      className="flex w-[280px] flex-col gap-2 p-2"
      onKeyDown={(event) => event.key === 'Escape' && onLeave()}
    >
      <p>
        A formula gives this figure:{' '}
        <code className="font-mono text-[12px] break-all">={formula}</code>
      </p>
      <div className="flex flex-wrap gap-2">
        <button
          type="button"
          // biome-ignore lint/a11y/noAutofocus: whoever typed into the cell goes on here
          autoFocus
          className={look}
          onClick={onLeave}
        >
          Leave the formula
        </button>
        <button type="button" className={look} onClick={onPut}>
          Put a figure in its place
        </button>
      </div>
    </fieldset>
  );
}
