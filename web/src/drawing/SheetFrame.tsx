import { FRAME_LINES, fontSizeFor, frameOf, LINE_WIDTHS, PIXELS_PER_MM } from '@tether/core';
import {
  type DrawingSettings,
  type DrawingSheet,
  TITLE_BLOCK,
  TITLE_FIELDS,
  type TitleCell,
  titleCells,
} from '@tether/documents';
import { CAPITALS, PAGE_FONT } from '../page/drawn/page-letters.ts';
import { titleBlockBox } from './drawing-kind.ts';

const INK = '#10242b';
const size = (height: number) => fontSizeFor(height, CAPITALS);

interface Props {
  sheet: DrawingSheet;
  settings: DrawingSettings;
  /** Which of how many sheets it is. */
  nth: number;
  count: number;
  /** Fields that an object fills. */
  tied: readonly string[];
}

/** The frame of a sheet by ISO 5457, and its title block by ISO 7200; in millimetres. */
export function SheetFrame({ sheet, settings, nth, count, tied }: Props) {
  const frame = frameOf(sheet.size, sheet.isLandscape);
  const { space, border, across, down, named, centring } = frame;
  const { width, height } = frame.sheet;
  /** Middles of the strips that carry the names of fields. */
  const strip = {
    top: (border.y + space.y) / 2,
    bottom: (space.y + space.height + border.y + border.height) / 2,
    left: (border.x + space.x) / 2,
    right: (space.x + space.width + border.x + border.width) / 2,
  };
  const name = { fontFamily: PAGE_FONT, fontSize: size(FRAME_LINES.letters), fill: INK };
  return (
    <svg
      aria-hidden
      className="pointer-events-none absolute top-0 left-0"
      width={width * PIXELS_PER_MM}
      height={height * PIXELS_PER_MM}
      viewBox={`0 0 ${width} ${height}`}
    >
      <g stroke={INK} fill="none">
        <rect {...border} strokeWidth={FRAME_LINES.grid} />
        {across
          .slice(1)
          .flatMap(({ from }) =>
            named
              .filter((side) => side === 'top' || side === 'bottom')
              .map((side) => (
                <path
                  key={`${from} ${side}`}
                  strokeWidth={FRAME_LINES.grid}
                  d={
                    side === 'top'
                      ? `M${from} ${border.y}V${space.y}`
                      : `M${from} ${space.y + space.height}V${border.y + border.height}`
                  }
                />
              )),
          )}
        {down
          .slice(1)
          .flatMap(({ from }) =>
            named
              .filter((side) => side === 'left' || side === 'right')
              .map((side) => (
                <path
                  key={`${from} ${side}`}
                  strokeWidth={FRAME_LINES.grid}
                  d={
                    side === 'left'
                      ? `M${border.x} ${from}H${space.x}`
                      : `M${space.x + space.width} ${from}H${border.x + border.width}`
                  }
                />
              )),
          )}
        <rect {...space} strokeWidth={FRAME_LINES.frame} />
        {centring.map(([a, b], index) => (
          <path key={index} d={`M${a.x} ${a.y}L${b.x} ${b.y}`} strokeWidth={FRAME_LINES.centring} />
        ))}
      </g>
      <g {...name} textAnchor="middle" dominantBaseline="central">
        {across.flatMap((field) =>
          named
            .filter((side) => side === 'top' || side === 'bottom')
            .map((side) => (
              <text key={`${field.name} ${side}`} x={(field.from + field.to) / 2} y={strip[side]}>
                {field.name}
              </text>
            )),
        )}
        {down.flatMap((field) =>
          named
            .filter((side) => side === 'left' || side === 'right')
            .map((side) => (
              <text key={`${field.name} ${side}`} x={strip[side]} y={(field.from + field.to) / 2}>
                {field.name}
              </text>
            )),
        )}
        <text x={strip.right - 2} y={height - 2.4} fontSize={size(1.8)} textAnchor="end">
          {sheet.size}
        </text>
      </g>
      <TitleBlock {...{ sheet, settings, nth, count, tied }} />
    </svg>
  );
}

/** Lines of the title block: its outline and what is within it. */
const [NARROW, WIDE] = [LINE_WIDTHS[1], LINE_WIDTHS[5]];
/** Height of the small words that name a field, and the room around what it says; millimetres. */
const NAME_HEIGHT = 1.3;
const INSET = 1;

function TitleBlock({ sheet, settings, nth, count, tied }: Props) {
  const block = titleBlockBox(sheet);
  return (
    <g transform={`translate(${block.x} ${block.y})`} fontFamily={PAGE_FONT} fill={INK}>
      <rect {...TITLE_BLOCK} fill="white" stroke={INK} strokeWidth={WIDE} />
      {titleCells().map(({ cell, x, y, width, height, letters }) => {
        const words = cell === 'sheet' ? `${nth} / ${count}` : (settings.fields[cell] ?? '');
        const isTied = tied.includes(cell);
        return (
          <g key={cell} transform={`translate(${x} ${y})`}>
            <rect width={width} height={height} fill="none" stroke={INK} strokeWidth={NARROW} />
            <text x={INSET} y={INSET + NAME_HEIGHT} fontSize={size(NAME_HEIGHT)} fill="#5b6f77">
              {nameOf(cell)}
            </text>
            {!isTied && (
              <text
                x={INSET}
                y={height - (cell === 'owner' ? height / 2 - letters / 2 : 2)}
                fontSize={size(letters)}
                fontWeight={cell === 'title' ? 600 : 400}
                {...fitting(words, letters, width - 2 * INSET)}
              >
                {words}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
}

export const nameOf = (cell: TitleCell): string =>
  cell === 'sheet' ? 'Sheet' : TITLE_FIELDS[cell].name;

/** Mean width of letters in parts of the height of capitals. */
const MEAN_WIDTH = 0.78;

/** Words that are too long for their cell are set narrower, never cut off. */
function fitting(words: string, letters: number, room: number) {
  return words.length * letters * MEAN_WIDTH > room
    ? { textLength: room, lengthAdjust: 'spacingAndGlyphs' as const }
    : {};
}
