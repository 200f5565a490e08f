import { autoUpdate, flip, offset, shift, useFloating } from '@floating-ui/react';
import { Columns3, Ellipsis, Rows3, Square, Table2, Undo2, X } from 'lucide-react';
import { useLayoutEffect } from 'react';
import { createPortal } from 'react-dom';
import { useAppDispatch, useAppSelector } from '../../../state/store.ts';
import { cellPicked } from '../../../state/workbench-slice.ts';
import { IconButton } from '../../../ui/IconButton.tsx';
import { Popup } from '../../../ui/Popup.tsx';
import { LookButtons } from './LookButtons.tsx';
import { MeasureFields } from './MeasureFields.tsx';
import { type Part, usePart } from './usePart.ts';

/**
 * Where bars are put: beside the document, not into it, where they would be part of its text; and within the application,
 * so that a press on the rest of it closes what they have opened.
 */
export const BARS = 'workbench-bars';

type Props = Parameters<typeof usePart>[0] & {
  /** The drawn table, in which the picked cell is looked for. */
  table: HTMLElement | null;
};

/**
 * A small bar at the picked cells of a table, for what is set for them. It stands above the table, so that it covers none
 * of its cells, and below the picked cell where there is no room.
 */
export function PartBar({ table, ...wish }: Props) {
  const picked = useAppSelector(({ workbench }) =>
    workbench.picked?.tetherId === wish.tetherId ? workbench.picked : null,
  );
  const place = document.getElementById(BARS);
  if (!picked || !table || !place) return null;
  return createPortal(
    <Bar table={table} wish={wish} row={picked.row} column={picked.column} />,
    place,
  );
}

function Bar(props: {
  table: HTMLElement;
  wish: Parameters<typeof usePart>[0];
  row: number | null;
  column: number | null;
}) {
  const { table, wish, row, column } = props;
  const part = usePart(wish);
  const dispatch = useAppDispatch();
  // It stands over the document, never over the panel beside it.
  const around = table.closest('main');
  const within = { padding: 8, ...(around ? { boundary: around } : {}) };
  const { refs, floatingStyles, update } = useFloating({
    placement: 'top-start',
    strategy: 'fixed',
    transform: false,
    middleware: [offset(6), flip(within), shift(within)],
    whileElementsMounted: autoUpdate,
  });
  useLayoutEffect(() => {
    refs.setPositionReference({
      contextElement: table,
      getBoundingClientRect() {
        // Looked for each time: what was drawn of it may have been replaced.
        const own = (cellIn(table, row, column) ?? table).getBoundingClientRect();
        const { top } = table.getBoundingClientRect();
        return new DOMRect(own.x, top, own.width, own.bottom - top);
      },
    });
  }, [refs, table, row, column]);
  // What was set may have made cells larger or smaller.
  // biome-ignore lint/correctness/useExhaustiveDependencies: drawn anew with these
  useLayoutEffect(update, [update, wish.overrides, wish.snapshot]);
  const close = () => dispatch(cellPicked(null));
  return (
    <fieldset
      ref={refs.setFloating}
      aria-label={`Look of ${part.name}`}
      style={floatingStyles}
      className="z-30 flex items-center rounded-box border border-hairline bg-white p-1 shadow-paper print:hidden"
      onKeyDown={(event) => event.key === 'Escape' && !event.defaultPrevented && close()}
    >
      <Extent part={part} row={row} column={column} />
      <span aria-hidden className="mx-0.5 h-5 w-px shrink-0 bg-hairline" />
      <LookButtons part={part} isAllowed />
      <Popup
        label="Number format and size"
        face={<Ellipsis size={16} aria-hidden />}
        placement="bottom-end"
        className="flex w-[260px] flex-col gap-2 p-3"
      >
        {() => <MeasureFields part={part} isAllowed />}
      </Popup>
      <IconButton
        icon={Undo2}
        label={`${part.name}: as it was`}
        disabled={Object.keys(part.look).length === 0}
        onClick={part.clear}
      />
      <IconButton icon={X} label="Close" onClick={close} />
    </fieldset>
  );
}

/** How far the setting reaches: the picked cell, its row, its column, or the table. */
function Extent(props: { part: Part; row: number | null; column: number | null }) {
  const { part, row, column } = props;
  const dispatch = useAppDispatch();
  const home = useAppSelector(({ workbench }) => workbench.pickedFirst);
  const tetherId = useAppSelector(({ workbench }) => workbench.picked?.tetherId);
  if (!tetherId) return null;
  const at = { row: row ?? home?.row ?? 0, column: column ?? home?.column ?? 0 };
  const extents = [
    { kind: 'cell', label: 'This cell', icon: Square, row: at.row, column: at.column },
    { kind: 'row', label: 'Its row', icon: Rows3, row: at.row, column: null },
    { kind: 'column', label: 'Its column', icon: Columns3, row: null, column: at.column },
    { kind: 'table', label: 'The whole table', icon: Table2, row: null, column: null },
  ] as const;
  return extents.map((each) => (
    <IconButton
      key={each.kind}
      icon={each.icon}
      label={each.label}
      isOn={part.kind === each.kind}
      onClick={() => dispatch(cellPicked({ tetherId, row: each.row, column: each.column }))}
    />
  ));
}

/** The first drawn cell of the picked part. */
function cellIn(table: HTMLElement, row: number | null, column: number | null): Element | null {
  if (row === null && column === null) return null;
  const wanted =
    row === null
      ? `[data-cell$=",${column}"]`
      : column === null
        ? `[data-cell^="${row},"]`
        : `[data-cell="${row},${column}"]`;
  return table.querySelector(wanted);
}
