import { BAR_AXIS, barEnd } from '../look/bar.ts';
import {
  ascentOf,
  descentOf,
  PIXELS_PER_POINT,
  textWidth,
  wrapText,
} from '../look/fonts/measure.ts';
import {
  CELL_PADDING,
  indentOf,
  LINE_HEIGHT,
  layoutTable,
  PLAIN_LETTERS,
  usualAlignment,
} from '../look/layout.ts';
import type { Box } from '../page/box.ts';
import { placeIn, shownPlaces, spansIn } from '../sheet/merged.ts';
import {
  type BorderLine,
  type Cell,
  type CellIcon,
  type Dress,
  gridOf,
  isFilled,
  type Letters,
  type Snapshot,
} from '../sheet/sheet.ts';
import { fittedText } from './fitting.ts';

/** One thing that a facsimile draws, in the order in which they lie over each other. */
export type Mark =
  | ({ kind: 'fill'; colour: string /** What it fades into at its right. */; to?: string } & Box)
  | { kind: 'line'; from: [x: number, y: number]; to: [x: number, y: number]; line: BorderLine }
  | {
      kind: 'text';
      text: string;
      /** Left end of the baseline. */
      x: number;
      y: number;
      /** Pixels the text takes. */
      width: number;
      letters: Letters;
      /** Degrees counter-clockwise about (x, y). */
      rotation: number;
      /** What of it is seen, where it is longer than its cell. */
      clip: Box | null;
    }
  | { kind: 'icon'; icon: CellIcon; x: number; y: number };

/** A part of a sheet exactly as in the source, as marks on a plane: it scales as one piece and stays crisp. */
export interface Facsimile {
  width: number;
  height: number;
  marks: Mark[];
}

/** How thick each border is drawn, in pixels, by its name in ECMA-376 Part 1, 18.18.3. */
export function borderWidth({ style }: BorderLine): number {
  if (style === 'thick' || style === 'double') return 3;
  return /^(medium|slant)/.test(style) ? 2 : 1;
}

/** Draws what a tether takes with the look of the source. Hidden rows and columns are not there. */
export function drawFacsimile(snapshot: Snapshot): Facsimile {
  const { dresses } = snapshot;
  const { widths, heights } = layoutTable(snapshot, 'source', 0);
  const [xs, ys] = [offsets(widths), offsets(heights)];
  const grid = gridOf(snapshot);
  const fills: Mark[] = [];
  const texts: Mark[] = [];
  const lines: Mark[] = [];
  const shown = shownPlaces(snapshot);
  const spans = spansIn(snapshot, [shown.rows], shown.columns, grid);
  for (const r of shown.rows) {
    const row = grid[r]!;
    for (const c of shown.columns) {
      const span = spans.get(`${r},${c}`);
      const own = row[c];
      const cell = span ? span.cell : own;
      if (!cell && !own) continue;
      const last = (places: number[], first: number, count: number) =>
        places[placeIn(places, first) + count - 1]!;
      const [right, bottom] = span
        ? [last(shown.columns, c, span.columns), last(shown.rows, r, span.rows)]
        : [c, r];
      const box: Box = {
        x: xs[c]!,
        y: ys[r]!,
        width: xs[right + 1]! - xs[c]!,
        height: ys[bottom + 1]! - ys[r]!,
      };
      const ownDress = own?.dress === undefined ? undefined : dresses[own.dress];
      lines.push(...bordersOf(ownDress, { ...box, width: widths[c]!, height: heights[r]! }));
      if (span === null || !cell) continue;
      const dress = cell.dress === undefined ? undefined : dresses[cell.dress];
      if (dress?.fill) fills.push({ kind: 'fill', colour: dress.fill, ...box });
      if (cell.bar) {
        const { from, to, colour, axis } = cell.bar;
        const bar = { x: box.x + from * box.width, width: (to - from) * box.width };
        const far = barEnd(cell.bar);
        fills.push({
          kind: 'fill',
          colour,
          ...(far === colour ? {} : { to: far }),
          ...box,
          ...bar,
        });
        if (axis !== undefined) {
          const x = box.x + axis * box.width;
          lines.push({
            kind: 'line',
            from: [x, box.y],
            to: [x, box.y + box.height],
            line: { style: 'thin', colour: BAR_AXIS },
          });
        }
      }
      if (cell.icon) texts.push({ kind: 'icon', icon: cell.icon, x: box.x + 2, y: box.y + 2 });
      texts.push(...textOf(cell, dress, box, roomBeside(row, widths, c, right)));
    }
  }
  return {
    width: xs.at(-1)!,
    height: ys.at(-1)!,
    marks: [...fills, ...texts, ...lines],
  };
}

function offsets(sizes: readonly number[]): number[] {
  const sums = [0];
  for (const size of sizes) sums.push(sums.at(-1)! + size);
  return sums;
}

/** Pixels of the empty cells at each side that a text runs over. */
function roomBeside(
  row: readonly (Cell | undefined)[],
  widths: readonly number[],
  from: number,
  to: number,
): { left: number; right: number } {
  let [left, right] = [0, 0];
  for (let c = to + 1; c < row.length && !isFilled(row[c]); c++) right += widths[c]!;
  for (let c = from - 1; c >= 0 && !isFilled(row[c]); c--) left += widths[c]!;
  return { left, right };
}

function textOf(
  cell: Cell,
  dress: Dress | undefined,
  box: Box,
  beside: { left: number; right: number },
): Mark[] {
  if (cell.text === '') return [];
  const base = dress?.letters ?? PLAIN_LETTERS;
  const colour = cell.ink ?? base.colour;
  const letters: Letters = colour ? { ...base, colour } : base;
  const { x: pad } = CELL_PADDING.source;
  const rotation = dress?.rotation ?? 0;
  const indent = indentOf(dress) + (cell.icon ? 16 : 0);
  const set = dress?.horizontal;
  const align = set === 'fill' || set === 'justify' ? 'left' : (set ?? usualAlignment(cell));
  const room = box.width - 2 * pad - indent;
  const wraps = dress?.wrap === true && rotation === 0;
  const shown = fittedText(cell, dress, box.width, 'source');
  const rows = wraps ? wrapText(shown, letters, room) : [shown.replace(/[\r\n]+/g, ' ')];
  const line = letters.size * PIXELS_PER_POINT * LINE_HEIGHT;
  const ascent = ascentOf(letters);
  // The letters stand in the middle of their line.
  const lead = (line - ascent - descentOf(letters)) / 2;
  const block = rows.length * line;
  const vertical = dress?.vertical ?? 'bottom';
  const top =
    vertical === 'top' || vertical === 'justify'
      ? box.y
      : vertical === 'center'
        ? box.y + (box.height - block) / 2
        : box.y + box.height - block;
  return rows.flatMap((each, index): Mark[] => {
    const text = each.trimEnd();
    if (text === '') return [];
    const width = textWidth(text, letters);
    const left = box.x + pad + (align === 'left' ? indent : 0);
    const x =
      align === 'right'
        ? box.x + box.width - pad - width - indent
        : align === 'center'
          ? box.x + (box.width - width) / 2
          : left;
    const y = top + index * line + lead + ascent;
    const isText = cell.type === 'text' && !wraps;
    const seen: Box = {
      x: box.x - (isText && align !== 'left' ? beside.left : 0),
      y: box.y,
      width:
        box.width +
        (isText && align !== 'left' ? beside.left : 0) +
        (isText && align !== 'right' ? beside.right : 0),
      height: box.height,
    };
    const isCut = x < seen.x - 0.5 || x + width > seen.x + seen.width + 0.5;
    if (rotation !== 0) return [turned(text, width, letters, rotation, box, ascent)];
    return [{ kind: 'text', text, x, y, width, letters, rotation, clip: isCut ? seen : null }];
  });
}

/** A turned text stands in the middle of its cell across, at its foot. */
function turned(
  text: string,
  width: number,
  letters: Letters,
  rotation: number,
  box: Box,
  ascent: number,
): Mark {
  const angle = (rotation * Math.PI) / 180;
  const [across, up] = [Math.cos(angle) * width, Math.sin(angle) * width];
  const x = box.x + box.width / 2 - across / 2 + (Math.sin(angle) * ascent) / 2;
  const y = box.y + box.height - 3 - (up < 0 ? -up : 0);
  return { kind: 'text', text, x, y: up < 0 ? y + up : y, width, letters, rotation, clip: null };
}

function bordersOf(dress: Dress | undefined, { x, y, width, height }: Box): Mark[] {
  if (!dress) return [];
  const sides: [BorderLine | undefined, [number, number], [number, number]][] = [
    [dress.top, [x, y], [x + width, y]],
    [dress.right, [x + width, y], [x + width, y + height]],
    [dress.bottom, [x, y + height], [x + width, y + height]],
    [dress.left, [x, y], [x, y + height]],
  ];
  return sides.flatMap(([line, from, to]) => (line ? [{ kind: 'line', from, to, line }] : []));
}
