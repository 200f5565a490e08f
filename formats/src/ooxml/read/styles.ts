import {
  type BorderLine,
  builtInFormat,
  type Dress,
  type HorizontalAlignment,
  type Letters,
  type PartDress,
  type SheetTableStyle,
  showsDate,
  type VerticalAlignment,
} from '@tether/core';
import { child, children, parseXml, truth, type XmlElement } from '../../package/xml.ts';
import { Palette } from './colour.ts';
import { parseTableStyles, presetTableStyle } from './table-styles.ts';

/** One cell format (`xf`), resolved. */
export interface CellFormat {
  /** Number format code. */
  code: string;
  isDate: boolean;
  /** Whether the code names a colour for some values. */
  hasInk: boolean;
  /** Index into `dresses`. */
  dress: number;
  /** Whether an empty cell with this format shows anything: a fill or a border. */
  isSeen: boolean;
}

/** The styles of a workbook (ECMA-376 Part 1, 18.8), as cells need them. */
export interface StylesPart {
  formats: CellFormat[];
  /** Different dresses only: formats that look the same share one. */
  dresses: Dress[];
  /** The letters of the normal style, which column widths are measured in. */
  normal: Letters;
  palette: Palette;
  /** What conditional formats change, by number (differential formatting, 18.8.14). */
  changes: PartDress[];
  /** A table style by its name, of the workbook or one that every program brings. */
  tableStyle(name: string): SheetTableStyle | null;
  readChange(format: XmlElement): PartDress;
  /** The letters of a part of a text (18.4.7), where it names some. */
  readRunLetters(properties: XmlElement | undefined): Letters | undefined;
}

/** Names that the standard gives to differential formatting (18.8.14, 18.8.15) and to the reference to it (18.3.1.10). */
export const CHANGE = { element: 'dxf', list: 'dxfs', reference: 'dxfId' } as const;

const PLAIN_LETTERS: Letters = { family: 'Calibri', size: 11 };

/** Reads the styles part; without one, everything is plain. */
export function parseStyles(bytes: Buffer | null, theme: Buffer | null): StylesPart {
  const root = bytes ? parseXml(bytes) : undefined;
  const indexed = children(child(child(root, 'colors'), 'indexedColors'), 'rgbColor').map(
    ({ attributes }) => attributes.rgb ?? '',
  );
  const palette = new Palette(theme, indexed);
  const codes = new Map(
    children(child(root, 'numFmts'), 'numFmt').map(({ attributes }) => [
      Number(attributes.numFmtId),
      attributes.formatCode ?? 'General',
    ]),
  );
  const letters = children(child(root, 'fonts'), 'font').map((font) => parseLetters(font, palette));
  const fills = children(child(root, 'fills'), 'fill').map((fill) => parseFill(fill, palette));
  const borders = children(child(root, 'borders'), 'border').map((border) =>
    parseBorder(border, palette),
  );
  const normal = letters[0] ?? PLAIN_LETTERS;

  const dresses: Dress[] = [];
  const known = new Map<string, number>();
  const formats = children(child(root, 'cellXfs'), 'xf').map((xf): CellFormat => {
    const { numFmtId, fontId, fillId, borderId } = xf.attributes;
    const fill = fills[Number(fillId ?? 0)];
    const border = borders[Number(borderId ?? 0)] ?? {};
    const dress: Dress = {
      letters: letters[Number(fontId ?? 0)] ?? normal,
      ...(fill === undefined ? {} : { fill }),
      ...border,
      ...parseAlignment(child(xf, 'alignment')),
    };
    const key = JSON.stringify(dress);
    let index = known.get(key);
    if (index === undefined) {
      index = dresses.push(dress) - 1;
      known.set(key, index);
    }
    const code = codes.get(Number(numFmtId ?? 0)) ?? builtInFormat(Number(numFmtId ?? 0));
    return {
      code,
      isDate: showsDate(code),
      hasInk: code.includes('['),
      dress: index,
      isSeen: fill !== undefined || Object.keys(border).length > 0,
    };
  });
  if (formats.length === 0) {
    dresses.push({ letters: normal });
    formats.push({ code: 'General', isDate: false, hasInk: false, dress: 0, isSeen: false });
  }
  const readChange = (format: XmlElement) => parseChange(format, palette, codes);
  const changes = children(child(root, CHANGE.list), CHANGE.element).map(readChange);
  const own = parseTableStyles(root, changes);
  return {
    formats,
    dresses,
    normal,
    palette,
    changes,
    tableStyle: (name) => own.get(name) ?? presetTableStyle(name, palette),
    readChange,
    readRunLetters: (properties) => properties && parseLetters(properties, palette),
  };
}

/** What a conditional format changes; in it a solid fill names its colour as the ground's (18.8.14, common practice). */
function parseChange(
  format: XmlElement,
  palette: Palette,
  codes: ReadonlyMap<number, string>,
): PartDress {
  const change: PartDress = {};
  const font = child(format, 'font');
  if (font) {
    const letters: Partial<Letters> = {};
    for (const [name, key] of [
      ['b', 'bold'],
      ['i', 'italic'],
      ['strike', 'strike'],
    ] as const) {
      const element = child(font, name);
      if (element) letters[key] = isOn(element);
    }
    const underline = child(font, 'u');
    if (underline) letters.underline = underline.attributes.val !== 'none';
    const colour = palette.resolve(child(font, 'color'));
    if (colour) letters.colour = colour;
    if (Object.keys(letters).length > 0) change.letters = letters;
  }
  const pattern = child(child(format, 'fill'), 'patternFill');
  if (pattern && pattern.attributes.patternType !== 'none') {
    const ground = palette.resolve(child(pattern, 'bgColor'));
    const front = palette.resolve(child(pattern, 'fgColor'));
    const fill = ground ?? front;
    if (fill) change.fill = fill;
  }
  const border = child(format, 'border');
  if (border) {
    Object.assign(change, parseBorder(border, palette));
    const inner = (name: string) => parseLine(child(border, name), palette);
    const [across, down] = [inner('horizontal'), inner('vertical')];
    if (across) change.horizontalLine = across;
    if (down) change.verticalLine = down;
  }
  const numFmt = child(format, 'numFmt')?.attributes;
  if (numFmt) {
    const id = Number(numFmt.numFmtId);
    change.format = numFmt.formatCode ?? codes.get(id) ?? builtInFormat(id);
  }
  return change;
}

function isOn(element: XmlElement | undefined): boolean {
  return element !== undefined && truth(element.attributes.val, true);
}

function parseLetters(font: XmlElement, palette: Palette): Letters {
  const underline = child(font, 'u');
  const colour = palette.resolve(child(font, 'color'));
  return {
    // Within a text the element is called `rFont` (18.4.5).
    family: (child(font, 'name') ?? child(font, 'rFont'))?.attributes.val ?? PLAIN_LETTERS.family,
    size: Number(child(font, 'sz')?.attributes.val ?? PLAIN_LETTERS.size),
    ...(isOn(child(font, 'b')) ? { bold: true } : {}),
    ...(isOn(child(font, 'i')) ? { italic: true } : {}),
    ...(underline && underline.attributes.val !== 'none' ? { underline: true } : {}),
    ...(isOn(child(font, 'strike')) ? { strike: true } : {}),
    ...(colour === undefined || colour === '#000000' ? {} : { colour }),
  };
}

function parseFill(fill: XmlElement, palette: Palette): string | undefined {
  const pattern = child(fill, 'patternFill');
  if (pattern) {
    const kind = pattern.attributes.patternType ?? 'none';
    if (kind === 'none') return undefined;
    // A solid fill is drawn in the foreground colour; of a hatched one the ground is what carries (18.8.32).
    return palette.resolve(child(pattern, kind === 'solid' ? 'fgColor' : 'bgColor'));
  }
  const stop = children(child(fill, 'gradientFill'), 'stop')[0];
  return palette.resolve(child(stop, 'color'));
}

function parseLine(side: XmlElement | undefined, palette: Palette): BorderLine | undefined {
  const style = side?.attributes.style;
  if (!style || style === 'none') return undefined;
  return { style, colour: palette.resolve(child(side, 'color')) ?? '#000000' };
}

function parseBorder(border: XmlElement, palette: Palette) {
  const line = (...names: string[]): BorderLine | undefined =>
    parseLine(
      names.map((name) => child(border, name)).find((each) => each !== undefined),
      palette,
    );
  const sides = {
    top: line('top'),
    right: line('right', 'end'),
    bottom: line('bottom'),
    left: line('left', 'start'),
  };
  return Object.fromEntries(
    Object.entries(sides).filter(([, side]) => side !== undefined),
  ) as Partial<Record<keyof typeof sides, BorderLine>>;
}

const HORIZONTAL: Record<string, HorizontalAlignment> = {
  left: 'left',
  center: 'center',
  centerContinuous: 'center',
  right: 'right',
  fill: 'fill',
  justify: 'justify',
  distributed: 'justify',
};
const VERTICAL: Record<string, VerticalAlignment> = {
  top: 'top',
  center: 'center',
  justify: 'justify',
  distributed: 'justify',
};

function parseAlignment(alignment: XmlElement | undefined): Partial<Dress> {
  if (!alignment) return {};
  const { horizontal, vertical, wrapText, indent, textRotation } = alignment.attributes;
  const turned = Number(textRotation ?? 0);
  // 91 to 180 mean clockwise; 255 is stacked letters (18.8.1), which are shown upright.
  const rotation = turned > 180 ? 0 : turned > 90 ? 90 - turned : turned;
  return {
    ...(HORIZONTAL[horizontal ?? ''] ? { horizontal: HORIZONTAL[horizontal ?? ''] } : {}),
    ...(VERTICAL[vertical ?? ''] ? { vertical: VERTICAL[vertical ?? ''] } : {}),
    ...(truth(wrapText) ? { wrap: true } : {}),
    ...(Number(indent) > 0 ? { indent: Number(indent) } : {}),
    ...(rotation === 0 ? {} : { rotation }),
  };
}
