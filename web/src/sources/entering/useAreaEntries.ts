import {
  type Area,
  type Cell,
  type CellAddress,
  cellCount,
  formatArea,
  type Result,
  shiftFormula,
} from '@tether/core';
import { formulaAs, typedAs } from '../../placed/typed-as.ts';
import { faultOf, readingApi } from '../../state/api.ts';
import { useAppDispatch } from '../../state/store.ts';
import { keyOf, MOST_CELLS, type Typing, tooMany, type useSendEntries } from './useSendEntries.ts';

/** What is typed into many cells of a sheet at once: emptied, filled down, pasted. */
export function useAreaEntries(
  { sourceId, hash, sheet }: { sourceId: string; hash: string; sheet: string },
  { known, refuse, inTurn, send, ask }: ReturnType<typeof useSendEntries>,
) {
  const dispatch = useAppDispatch();
  /** What stands in an area of the file. */
  const read = async (area: Area): Promise<Result<Cell[]>> => {
    const asked = dispatch(
      readingApi.endpoints.cells.initiate({
        sourceId,
        hash,
        sheet,
        reference: formatArea(area),
      }),
    );
    const { data, error } = await asked;
    asked.unsubscribe();
    return data ? { ok: true, value: data.cells } : { ok: false, fault: faultOf(error) };
  };
  return {
    clear: (area: Area) =>
      inTurn(async () => {
        const held = cellCount(area) <= MOST_CELLS * 2 ? await read(area) : null;
        if (!held) {
          return refuse(sheet, [], tooMany(cellCount(area)));
        }
        if (!held.ok) return refuse(sheet, [], held.fault);
        const filled = held.value.filter(({ type }) => type !== 'blank');
        const typed = known.current.filter(
          ({ sheet: on, row, column }) =>
            on === sheet &&
            row >= area.top &&
            row <= area.bottom &&
            column >= area.left &&
            column <= area.right,
        );
        const places = new Map([...filled, ...typed].map((each) => [keyOf(each), each]));
        const cells = [...places.values()].map(({ row, column }) => ({ row, column, typed: '' }));
        await ask(sheet, cells, false, hash);
      }),
    fillDown: ({ top, left, bottom, right }: Area) =>
      inTurn(async () => {
        // Of one row: what stands above it.
        const from = top === bottom ? top - 1 : top;
        if (from < 1) return;
        const held = await read({ top: from, bottom: from, left, right });
        if (!held.ok) return refuse(sheet, [], held.fault);
        const cells: Typing[] = [];
        for (let column = left; column <= right; column++) {
          const cell = held.value.find((each) => each.column === column);
          const at = { row: from, column };
          const entry = known.current.find(
            (each) => each.sheet === sheet && keyOf(each) === keyOf(at),
          );
          const said = entry?.typed ?? (cell?.formula ? formulaAs(cell.formula) : typedAs(cell));
          const shift = said.startsWith('=') ? shiftFormula(said.slice(1)) : null;
          for (let row = from + 1; row <= bottom; row++) {
            const typed = shift ? `=${shift(row - from, 0)}` : said;
            cells.push({ row, column, typed });
          }
        }
        await ask(sheet, cells, false, hash);
      }),
    async paste({ row, column }: CellAddress, text: string) {
      const lines = text.replace(/\r?\n$/, '').split(/\r?\n/);
      const cells = lines.flatMap((line, down) =>
        line
          .split('\t')
          .map((typed, across) => ({ row: row + down, column: column + across, typed })),
      );
      await send(sheet, cells, false);
    },
  };
}
