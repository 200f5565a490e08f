import {
  type BorderLine,
  type Dress,
  digitWidth,
  type HorizontalAlignment,
  type Letters,
  showsDate,
} from '@tether/core';
import { child, children, type XmlElement } from '../../package/xml.ts';
import { formatCode, NUMBER_STYLES } from './number-styles.ts';

/** A condition under which a cell style gives way to another (`style:map`, ODF 1.3 Part 3, 16.3). */
export interface StyleMap {
  condition: string;
  style: string;
  base: string | null;
}

/** A cell style, resolved with everything it inherits. */
export interface CellStyle {
  dress: number;
  code: string;
  isDate: boolean;
  /** Whether an empty cell with this style shows anything. */
  isSeen: boolean;
  maps: StyleMap[];
}

const PLAIN: Letters = { family: 'Arimo', size: 10 };
const POINTS: Record<string, number> = {
  pt: 1,
  in: 72,
  cm: 72 / 2.54,
  mm: 72 / 25.4,
  pc: 12,
  px: 0.75,
};

/** A length in points (18.3.18); null when it is none. */
function points(text: string | undefined): number | null {
  const match = /^(-?[\d.]+)(pt|in|cm|mm|pc|px)$/.exec(text?.trim() ?? '');
  return match ? Number(match[1]) * POINTS[match[2]!]! : null;
}

/** The styles of an OpenDocument file: those of its styles part and those its content made for itself. */
export class OdfStyles {
  /** Different dresses only. */
  readonly dresses: Dress[] = [];
  private readonly byFamily = new Map<string, Map<string, XmlElement>>();
  private readonly defaults = new Map<string, XmlElement>();
  private readonly numbers = new Map<string, XmlElement>();
  private readonly fonts = new Map<string, string>();
  private readonly cells = new Map<string, CellStyle>();
  private readonly known = new Map<string, number>();

  /** Adds what `office:styles`, `office:automatic-styles` or `office:font-face-decls` hold. */
  add(element: XmlElement): void {
    for (const each of element.children) {
      const { name, attributes } = each;
      const own = attributes.name ?? '';
      if (name === 'style') {
        const family = attributes.family ?? '';
        if (!this.byFamily.has(family)) this.byFamily.set(family, new Map());
        this.byFamily.get(family)!.set(own, each);
      } else if (name === 'default-style') this.defaults.set(attributes.family ?? '', each);
      else if (name === 'font-face') {
        this.fonts.set(own, (attributes['font-family'] ?? own).replace(/^'|'$/g, ''));
      } else if ((NUMBER_STYLES as readonly string[]).includes(name)) this.numbers.set(own, each);
    }
  }

  /** Letters that a document's usual cell has: what column widths are measured in. */
  get normal(): Letters {
    return this.dresses[this.cell('Default').dress]!.letters;
  }

  get digitWidth(): number {
    return digitWidth(this.normal.family, this.normal.size);
  }

  /** A cell style by name; an unknown one is plain. */
  cell(name: string): CellStyle {
    const known = this.cells.get(name);
    if (known) return known;
    const dress = this.dressOf(name);
    const chain = this.chain('table-cell', name);
    const dataStyle = chain
      .map(({ attributes }) => attributes['data-style-name'])
      .findLast((each) => each !== undefined);
    const number = dataStyle === undefined ? undefined : this.numbers.get(dataStyle);
    const code = number ? formatCode(number, this.numbers) : 'General';
    const {
      letters: _,
      horizontal: __,
      vertical: ___,
      wrap: ____,
      indent: _____,
      rotation: ______,
      ...seen
    } = dress;
    const style: CellStyle = {
      dress: this.indexOf(dress),
      code,
      isDate: showsDate(code),
      isSeen: Object.keys(seen).length > 0,
      maps: chain.flatMap((element) =>
        children(element, 'map').map(({ attributes }) => ({
          condition: attributes.condition ?? '',
          style: attributes['apply-style-name'] ?? '',
          base: attributes['base-cell-address'] ?? null,
        })),
      ),
    };
    this.cells.set(name, style);
    return style;
  }

  /** The dress of a cell style by name. */
  dressOf(name: string): Dress {
    const chain = this.chain('table-cell', name);
    const properties = (kind: string) =>
      Object.assign({}, ...chain.map((style) => child(style, kind)?.attributes ?? {})) as Record<
        string,
        string
      >;
    const cell = properties('table-cell-properties');
    const paragraph = properties('paragraph-properties');
    const fill = colour(cell['background-color']);
    const horizontal =
      cell['text-align-source'] === 'value-type'
        ? undefined
        : HORIZONTAL[paragraph['text-align'] ?? ''];
    const vertical = { top: 'top', middle: 'center' }[
      cell['vertical-align'] ?? ''
    ] as Dress['vertical'];
    const turned = Number.parseFloat(cell['rotation-angle'] ?? '0') || 0;
    const rotation = turned > 180 ? turned - 360 : turned;
    const indent = Math.round((points(paragraph['margin-left']) ?? 0) / 9);
    return {
      letters: this.letters(chain) ?? PLAIN,
      ...(fill ? { fill } : {}),
      ...borders(cell),
      ...(horizontal ? { horizontal } : {}),
      ...(vertical ? { vertical } : {}),
      ...(cell['wrap-option'] === 'wrap' ? { wrap: true } : {}),
      ...(indent > 0 ? { indent } : {}),
      ...(rotation !== 0 && Math.abs(rotation) <= 90 ? { rotation } : {}),
    };
  }

  /** The letters of a text style on top of a cell's. */
  textLetters(name: string, cell: Letters): { letters?: Letters; shift?: 'super' | 'sub' } {
    const chain = this.chain('text', name).filter((style) => style.name === 'style');
    if (chain.length === 0) return {};
    const position = chain
      .map((style) => child(style, 'text-properties')?.attributes['text-position'])
      .findLast((each) => each !== undefined);
    const letters = this.letters(chain, cell)!;
    return {
      ...(JSON.stringify(letters) === JSON.stringify(cell) ? {} : { letters }),
      ...(/^(super|[1-9])/.test(position ?? '') ? { shift: 'super' as const } : {}),
      ...(/^(sub|-)/.test(position ?? '') ? { shift: 'sub' as const } : {}),
    };
  }

  /** Points of a column's width or a row's height; null when the style says none. */
  size(family: 'table-column' | 'table-row', name: string | undefined): number | null {
    if (name === undefined) return null;
    const style = this.chain(family, name).at(-1);
    const kind = family === 'table-column' ? 'column' : 'row';
    const attributes = child(style, `table-${kind}-properties`)?.attributes;
    return points(attributes?.[kind === 'column' ? 'column-width' : 'row-height']);
  }

  /** Whether a table style shows its sheet. */
  isShown(name: string | undefined): boolean {
    const style = name === undefined ? undefined : this.chain('table', name).at(-1);
    return child(style, 'table-properties')?.attributes.display !== 'false';
  }

  /** The style's element of any family with all it inherits, from the default to itself. */
  chain(family: string, name: string): XmlElement[] {
    const styles = this.byFamily.get(family);
    const chain: XmlElement[] = [];
    let next: string | undefined = name;
    while (next !== undefined && chain.length < 40) {
      const style: XmlElement | undefined = styles?.get(next);
      if (!style || chain.includes(style)) break;
      chain.unshift(style);
      next = style.attributes['parent-style-name'];
    }
    const fallback = this.defaults.get(family);
    return fallback ? [fallback, ...chain] : chain;
  }

  private letters(chain: XmlElement[], base: Letters = PLAIN): Letters | null {
    const text = Object.assign(
      {},
      ...chain.map((style) => child(style, 'text-properties')?.attributes ?? {}),
    ) as Record<string, string>;
    const named = text['font-name'];
    const family =
      named !== undefined
        ? (this.fonts.get(named) ?? named)
        : text['font-family']?.replace(/^'|'$/g, '');
    const size = points(text['font-size']);
    const ink = colour(text.color);
    const bold =
      text['font-weight'] === undefined ? base.bold : /^(bold|[6-9]00)$/.test(text['font-weight']);
    const italic =
      text['font-style'] === undefined
        ? base.italic
        : /^(italic|oblique)$/.test(text['font-style']);
    const line = (key: string, before: boolean | undefined) =>
      text[key] === undefined ? before : text[key] !== 'none';
    const underline = line('text-underline-style', base.underline);
    const strike = line('text-line-through-style', base.strike);
    const inkOf = ink ?? base.colour;
    return {
      family: family ?? base.family,
      size: size === null ? base.size : Number(size.toFixed(2)),
      ...(bold ? { bold } : {}),
      ...(italic ? { italic } : {}),
      ...(underline ? { underline } : {}),
      ...(strike ? { strike } : {}),
      ...(inkOf && inkOf !== '#000000' ? { colour: inkOf } : {}),
    };
  }

  private indexOf(dress: Dress): number {
    const key = JSON.stringify(dress);
    let index = this.known.get(key);
    if (index === undefined) {
      index = this.dresses.push(dress) - 1;
      this.known.set(key, index);
    }
    return index;
  }
}

const HORIZONTAL: Record<string, HorizontalAlignment> = {
  start: 'left',
  left: 'left',
  end: 'right',
  right: 'right',
  center: 'center',
  justify: 'justify',
};

/** A colour `#rrggbb`; `transparent` is none. */
export function colour(text: string | undefined): string | undefined {
  return /^#[0-9a-fA-F]{6}$/.test(text ?? '') ? text!.toUpperCase() : undefined;
}

/** Borders (20.183 and its fellows): one for all sides or one for each. */
function borders(cell: Record<string, string>): Pick<Dress, 'top' | 'right' | 'bottom' | 'left'> {
  const sides = ['top', 'right', 'bottom', 'left'] as const;
  return Object.fromEntries(
    sides.flatMap((side) => {
      const line = borderLine(cell[`border-${side}`] ?? cell.border);
      return line ? [[side, line]] : [];
    }),
  );
}

function borderLine(text: string | undefined): BorderLine | null {
  if (!text || text === 'none') return null;
  const parts = text.split(/\s+/);
  const width = parts.map((part) => points(part)).find((each) => each !== null) ?? 0.75;
  const kind = parts.find((part) =>
    /^(solid|dashed|dotted|double|double-thin|dash-dot|dash-dot-dot|fine-dashed)$/.test(part),
  );
  if (width === 0 || parts.includes('none') || parts.includes('hidden')) return null;
  const weight = width < 0.5 ? 'hair' : width < 1.4 ? 'thin' : width < 2.2 ? 'medium' : 'thick';
  const style =
    kind === 'dashed' || kind === 'fine-dashed'
      ? weight === 'thin' || weight === 'hair'
        ? 'dashed'
        : 'mediumDashed'
      : kind === 'dotted'
        ? 'dotted'
        : kind?.startsWith('double')
          ? 'double'
          : kind === 'dash-dot'
            ? 'dashDot'
            : kind === 'dash-dot-dot'
              ? 'dashDotDot'
              : weight;
  return {
    style,
    colour: parts.map((part) => colour(part)).find((each) => each !== undefined) ?? '#000000',
  };
}
