import { type BorderLine, type PartDress, type SheetTableStyle, STYLE_PARTS } from '@tether/core';
import { child, children, type XmlElement } from '../../package/xml.ts';
import { type Palette, tinted } from './colour.ts';

/** The table styles that a workbook brings itself (ECMA-376 Part 1, 18.8.42), by name. */
export function parseTableStyles(
  root: XmlElement | undefined,
  changes: readonly PartDress[],
): Map<string, SheetTableStyle> {
  const styles = new Map<string, SheetTableStyle>();
  for (const { attributes, children: elements } of children(
    child(root, 'tableStyles'),
    'tableStyle',
  )) {
    const style: SheetTableStyle = {};
    for (const element of elements) {
      const { type, size, dxfId } = element.attributes;
      const part = STYLE_PARTS.find((each) => each === type);
      const change = dxfId === undefined ? undefined : changes[Number(dxfId)];
      if (!part || (!change && size === undefined)) continue;
      style[part] = { ...change, ...(Number(size) > 1 ? { size: Number(size) } : {}) };
    }
    if (attributes.name) styles.set(attributes.name, style);
  }
  return styles;
}

/** Accent of each column of the gallery: none, then the six of the theme. */
const ACCENTS = ['dk1', 'accent1', 'accent2', 'accent3', 'accent4', 'accent5', 'accent6'] as const;
/** Pairs of accents of the last dark styles: the body's and the header's. */
const PAIRS = [
  ['dk1', 'dk1'],
  ['accent1', 'accent2'],
  ['accent3', 'accent4'],
  ['accent5', 'accent6'],
] as const;

/** Colours of a theme, for themes that a workbook leaves out: the usual ones (common practice). */
const USUAL: Record<string, string> = {
  lt1: '#FFFFFF',
  dk1: '#000000',
  accent1: '#4F81BD',
  accent2: '#C0504D',
  accent3: '#9BBB59',
  accent4: '#8064A2',
  accent5: '#4BACC6',
  accent6: '#F79646',
};

const bold = { bold: true };

/**
 * A style that every program brings, by its name (18.8.40 with the table of presets in the standard's annex), in the
 * colours of the workbook's theme; null for a name that is none. The families are built up alike: light ones with lines or
 * a dark head, medium ones with bands, dark ones on a ground. Values written down from memory of the annex.
 */
export function presetTableStyle(name: string, palette: Palette): SheetTableStyle | null {
  const match = /^TableStyle(Light|Medium|Dark)(\d{1,2})$/.exec(name);
  if (!match) return null;
  const colour = (scheme: string, tint = 0) => {
    const hex = (palette.named(scheme) ?? USUAL[scheme]!).slice(1);
    return `#${tint === 0 ? hex : tinted(hex, tint)}`;
  };
  const number = Number(match[2]);
  switch (match[1]) {
    case 'Light':
      return number >= 1 && number <= 21 ? light(number - 1, colour) : null;
    case 'Medium':
      return number >= 1 && number <= 28 ? medium(number - 1, colour) : null;
    default:
      return number >= 1 && number <= 11 ? dark(number - 1, colour) : null;
  }
}

type Colour = (scheme: string, tint?: number) => string;

const line = (style: string, colour: string): BorderLine => ({ style, colour });
const box = (each: BorderLine) => ({ top: each, right: each, bottom: each, left: each });

/** Bands of the accent; those of the first column of the gallery are grey. */
function band(accent: string, colour: Colour, tint: number): string {
  return accent === 'dk1' ? colour('lt1', -0.15) : colour(accent, tint);
}

function ends(): SheetTableStyle {
  return { firstColumn: { letters: bold }, lastColumn: { letters: bold } };
}

function stripes(dress: PartDress): SheetTableStyle {
  return { firstRowStripe: dress, firstColumnStripe: dress };
}

function light(at: number, colour: Colour): SheetTableStyle {
  const accent = ACCENTS[at % 7]!;
  const main = colour(accent);
  const thin = line('thin', main);
  if (at < 7) {
    const letters = { colour: colour(accent, accent === 'dk1' ? 0 : -0.25) };
    return {
      wholeTable: { letters, top: thin, bottom: thin },
      headerRow: { letters: bold, bottom: thin },
      totalRow: { letters: bold, top: thin },
      ...ends(),
      ...stripes({ fill: band(accent, colour, 0.8) }),
    };
  }
  if (at < 14) {
    return {
      wholeTable: box(thin),
      headerRow: { letters: { bold: true, colour: colour('lt1') }, fill: main },
      totalRow: { letters: bold, top: line('double', main) },
      ...ends(),
      firstRowStripe: { top: thin, bottom: thin },
      firstColumnStripe: { left: thin, right: thin },
    };
  }
  return {
    wholeTable: { ...box(thin), horizontalLine: thin, verticalLine: thin },
    headerRow: { letters: bold, bottom: line('medium', main) },
    totalRow: { letters: bold, top: line('double', main) },
    ...ends(),
    ...stripes({ fill: band(accent, colour, 0.8) }),
  };
}

function medium(at: number, colour: Colour): SheetTableStyle {
  const accent = ACCENTS[at % 7]!;
  const main = colour(accent);
  const white = { bold: true, colour: colour('lt1') };
  if (at < 7) {
    const thin = line('thin', colour(accent, accent === 'dk1' ? 0 : 0.4));
    return {
      wholeTable: { ...box(thin), horizontalLine: thin },
      headerRow: { letters: white, fill: main },
      totalRow: { letters: bold, top: line('double', main) },
      ...ends(),
      ...stripes({ fill: band(accent, colour, 0.8) }),
    };
  }
  if (at < 14) {
    const thin = line('thin', colour('lt1'));
    const thick = line('thick', colour('lt1'));
    const ground = accent === 'dk1' ? colour('dk1', 0.8) : colour(accent, 0.8);
    return {
      wholeTable: { fill: ground, horizontalLine: thin, verticalLine: thin },
      headerRow: { letters: white, fill: main, bottom: thick },
      totalRow: { letters: white, fill: main, top: thick },
      firstColumn: { letters: white, fill: main },
      lastColumn: { letters: white, fill: main },
      ...stripes({ fill: colour(accent, 0.6) }),
    };
  }
  if (at < 21) {
    const edge = line('medium', colour('dk1'));
    return {
      wholeTable: { top: edge, bottom: edge },
      headerRow: { letters: white, fill: main, bottom: edge },
      totalRow: { top: line('double', colour('dk1')) },
      firstColumn: { letters: white, fill: main },
      lastColumn: { letters: white, fill: main },
      ...stripes({ fill: colour('lt1', -0.15) }),
    };
  }
  const thin = line('thin', accent === 'dk1' ? main : colour(accent, 0.4));
  return {
    wholeTable: {
      fill: colour(accent, 0.8),
      ...box(thin),
      horizontalLine: thin,
      verticalLine: thin,
    },
    headerRow: { letters: bold },
    totalRow: { letters: bold, top: line('medium', main) },
    ...ends(),
    ...stripes({ fill: colour(accent, 0.6) }),
  };
}

function dark(at: number, colour: Colour): SheetTableStyle {
  const white = { bold: true, colour: colour('lt1') };
  if (at < 7) {
    const accent = ACCENTS[at]!;
    const edge = line('medium', colour('lt1'));
    const [ground, deep, deepest] =
      accent === 'dk1'
        ? [colour('dk1', 0.45), colour('dk1', 0.25), colour('dk1', 0.15)]
        : [colour(accent), colour(accent, -0.25), colour(accent, -0.5)];
    return {
      wholeTable: { letters: { colour: colour('lt1') }, fill: ground },
      headerRow: { letters: white, fill: colour('dk1'), bottom: edge },
      totalRow: { letters: white, fill: deepest, top: edge },
      firstColumn: { letters: white, fill: deep, right: edge },
      lastColumn: { letters: white, fill: deep, left: edge },
      ...stripes({ fill: deep }),
    };
  }
  const [body, head] = PAIRS[at - 7]!;
  return {
    wholeTable: { fill: body === 'dk1' ? colour('lt1', -0.15) : colour(body, 0.8) },
    headerRow: { letters: white, fill: colour(head) },
    totalRow: { letters: bold, top: line('double', colour('dk1')) },
    ...ends(),
    ...stripes({ fill: body === 'dk1' ? colour('lt1', -0.35) : colour(body, 0.6) }),
  };
}
