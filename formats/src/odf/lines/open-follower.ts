import { columnName, followFormula, type LineChange, parseCell } from '@tether/core';
import { CannotFollow } from '../../moved-lines.ts';
import { resolved } from '../../package/entities.ts';
import { attributeIn, withAttribute } from '../../package/tags.ts';
import { parseOdfRange } from '../read/formula.ts';
import { elementAt } from '../write/elements.ts';
import { escapedValue } from '../write/open-text.ts';

const SHEET = String.raw`\$?(?:'(?:[^']|'')*'|[^\s.'#\]:]*)`;
const CORNER = String.raw`\$?[A-Za-z]*\$?\d*`;
/** A cell or a range, with its sheet: `$Counts.$A$3:.$F$14` (ODF 1.3 Part 3, 18.3.5). */
const ADDRESS = new RegExp(`^(${SHEET})\\.(${CORNER})(?::(${SHEET})\\.(${CORNER}))?$`);

/** Attributes that hold formulas. */
const FORMULAS = [
  'table:formula',
  'table:expression',
  'table:condition',
  'style:condition',
  'calcext:value',
];
/** Attributes that hold addresses, one or several. */
const ADDRESSES = [
  'table:cell-range-address',
  'table:target-range-address',
  'table:target-cell-address',
  'table:filter-target-range-address',
  'table:condition-source-range-address',
  'table:print-ranges',
  'table:scenario-ranges',
  'table:label-cell-range-address',
  'table:data-cell-range-address',
  'draw:notify-on-update-of-ranges',
  'chart:values-cell-range-address',
  'chart:label-cell-address',
  'calcext:target-range-address',
];
/** Attributes that hold a cell that stays near where it is taken out. */
const NEAR = ['table:end-cell-address'];
const BASES = ['table:base-cell-address', 'style:base-cell-address', 'calcext:base-cell-address'];
/** Elements that go when nothing is left of the cells that they are about. */
const GOING: Record<string, string> = {
  'calcext:conditional-format': 'calcext:target-range-address',
  'table:database-range': 'table:target-range-address',
  'table:label-range': 'table:data-cell-range-address',
};
/** Elements that cannot be without their cells. */
const STAYING: Record<string, string> = {
  'table:named-range': 'a name stands for nothing else',
  'table:data-pilot-table': 'a summary stands there',
  'table:source-cell-range': 'a summary reads nothing else',
  'table:scenario': 'a scenario stands there',
};

/** An opening tag that holds one of these attributes, whatever its other ones hold. */
const TAG = /<([\w.-]+:[\w.-]+)((?:\s+[\w:.-]+\s*=\s*(?:"[^"]*"|'[^']*'))*)\s*(\/?)>/g;
const MEANT = new RegExp(`\\s(?:${[...FORMULAS, ...ADDRESSES, ...NEAR, ...BASES].join('|')})\\s*=`);

/** Lets what an OpenDocument spreadsheet says follow rows or columns that are put in or taken out, and counts what did. */
export class OpenFollower {
  /** Formulas that are written otherwise now, and those of them that lost something that they looked at. */
  formulas = 0;
  lost = 0;

  constructor(readonly change: LineChange) {}

  /** All that is said in the tags of a text. `own` is the sheet in which it stands; empty where it names every sheet. */
  tags(xml: string, own: string): string {
    return xml.replace(TAG, (whole, name: string, attributes: string, end: string) => {
      if (!MEANT.test(attributes)) {
        const link = attributes.includes('="#') ? attributeIn(attributes, 'xlink:href') : null;
        if (link === null) return whole;
        const to = this.addresses(link.slice(1), own);
        return to === null || to === link.slice(1)
          ? whole
          : whole.replace(`"${link}"`, () => `"#${to}"`);
      }
      return `<${name}${this.attributes(attributes, name, own)}${end}>`;
    });
  }

  /** A text without the elements of whose cells nothing is left. */
  withoutGone(xml: string): string {
    let left = xml;
    for (const [name, attribute] of Object.entries(GOING)) {
      for (let at = 0; ; ) {
        const element = elementAt(left, name, at, left.length);
        if (!element) break;
        const said = attributeIn(element.attributes, attribute);
        const isGone = said !== null && this.addresses(said, '') === null;
        const inner = left.slice(element.inner, element.innerEnd);
        if (said !== null && !isGone && inner.includes('table:field-number')) {
          this.keepFields(said);
        }
        if (isGone) left = left.slice(0, element.from) + left.slice(element.to);
        at = isGone ? element.from : element.inner;
      }
    }
    return left;
  }

  /** Filters and sums count the columns of their range: none may come between them or go. */
  private keepFields(said: string): void {
    const range = parseOdfRange(resolved(said));
    const { sheet, axis, kind, at, count } = this.change;
    if (axis === 'rows' || range?.sheet?.toLowerCase() !== sheet.toLowerCase()) return;
    const { left, right } = range.area;
    const isWithin =
      kind === 'put in' ? at > left && at <= right : at <= right && at + count > left;
    if (isWithin) throw new CannotFollow('a filter counts its columns');
  }

  private attributes(written: string, name: string, own: string): string {
    let made = written;
    const base = BASES.map((each) => [each, attributeIn(written, each)] as const).find(
      ([, said]) => said !== null,
    );
    // What is said for a cell is said for the next that stays where that one is taken out.
    const shift = base ? this.shiftOf(base[1]!) : null;
    for (const each of FORMULAS) {
      const said = attributeIn(made, each);
      if (said === null) continue;
      const now = this.formula(said, base ? sheetOf(base[1]!, own) : own, shift);
      if (now !== said) made = withAttribute(made, each, now);
    }
    for (const each of ADDRESSES) {
      const said = attributeIn(made, each);
      if (said === null) continue;
      const now = this.addresses(said, own);
      if (now === said) continue;
      if (now === null && STAYING[name]) {
        throw new CannotFollow(`${STAYING[name]} than in what would be taken out`);
      }
      if (now === null && name.startsWith('chart:')) this.lost += 1;
      made = withAttribute(made, each, now);
    }
    for (const each of [...NEAR, ...BASES]) {
      const said = attributeIn(made, each);
      if (said === null) continue;
      const now = this.addresses(said, own, true);
      if (now !== null && now !== said) made = withAttribute(made, each, now);
    }
    return made;
  }

  /** A formula as written in an attribute (OpenFormula, ODF 1.3 Part 4, 5.8). */
  formula(written: string, own: string, shift: Shift | null = null): string {
    const text = resolved(written);
    let isLost = false;
    const followed = text.replace(
      /"(?:[^"]|"")*"|\[((?:'(?:[^']|'')*'|[^'\]])*)\]/g,
      (whole, reference: string | undefined) => {
        if (reference === undefined) return whole;
        const now = this.reference(shift ? shifted(reference, shift) : reference, own);
        if (now === null) {
          isLost = true;
          return `[${ADDRESS.exec(reference)?.[1] ?? ''}.#REF!]`;
        }
        return now === reference ? whole : `[${now}]`;
      },
    );
    if (followed === text) return written;
    this.formulas += 1;
    if (isLost) this.lost += 1;
    return escapedValue(followed);
  }

  /** Addresses as written in an attribute; null where nothing of them is left. A cell that is taken out can stay `near`. */
  addresses(written: string, own: string, near = false): string | null {
    const text = resolved(written);
    const parts = text.match(/(?:'(?:[^']|'')*'|[^'\s])+/g) ?? [];
    const left = parts.flatMap((part) => {
      const now = this.reference(part, own);
      return now ?? (near ? this.near(part) : []);
    });
    if (left.length === 0 && parts.length > 0) return null;
    const now = left.join(' ');
    return now === parts.join(' ') ? written : escapedValue(now);
  }

  /** A reference without brackets; null where nothing of it is left. */
  private reference(written: string, own: string): string | null {
    const match = ADDRESS.exec(written);
    if (!match) return written;
    const [, sheet = '', from = '', second, to] = match;
    const named = bareSheet(sheet) || own;
    if (second !== undefined && bareSheet(second) !== '' && bareSheet(second) !== named) {
      throw new CannotFollow('something reaches over several sheets at once');
    }
    if (named.toLowerCase() !== this.change.sheet.toLowerCase()) return written;
    const text = to === undefined ? from : `${from}:${to}`;
    const now = followFormula(text, this.change.sheet, this.change) ?? text;
    if (now === '#REF!') return null;
    const [first, last] = now.split(':');
    return last === undefined ? `${sheet}.${first}` : `${sheet}.${first}:${second ?? ''}.${last}`;
  }

  /** The cell that stands next where one is taken out. */
  private near(written: string): string {
    const [, sheet = '', cell = ''] = ADDRESS.exec(written) ?? [];
    const { axis, at } = this.change;
    return axis === 'rows'
      ? `${sheet}.${cell.replace(/\d+$/, String(at))}`
      : `${sheet}.${cell.replace(/^(\$?)[A-Za-z]+/, (_, sign) => sign + columnName(at))}`;
  }

  /** By how many rows and columns a formula is to be read otherwise whose base cell is taken out; null where that stays. */
  private shiftOf(base: string): Shift | null {
    const { kind, axis, at, count } = this.change;
    const [, , cell = ''] = ADDRESS.exec(resolved(base)) ?? [];
    const place = parseCell(cell.replaceAll('$', ''));
    if (!place || kind === 'put in') return null;
    if (sheetOf(base, '').toLowerCase() !== this.change.sheet.toLowerCase()) return null;
    const line = axis === 'rows' ? place.row : place.column;
    if (line < at || line >= at + count) return null;
    const by = at + count - line;
    return axis === 'rows' ? { rows: by, columns: 0 } : { rows: 0, columns: by };
  }
}

interface Shift {
  rows: number;
  columns: number;
}

/** A reference whose sides that are not fixed stand elsewhere. */
function shifted(reference: string, { rows, columns }: Shift): string {
  const match = ADDRESS.exec(reference);
  if (!match) return reference;
  const [, sheet = '', from = '', second, to] = match;
  const moved = (corner: string) =>
    corner.replace(
      /^(\$?)([A-Za-z]*)(\$?)(\d*)$/,
      (_, fixedColumn: string, letters: string, fixedRow: string, digits: string) => {
        const column = letters === '' ? null : parseCell(`${letters}1`)!.column;
        const name = column === null || fixedColumn ? letters : columnName(column + columns);
        const row = digits === '' || fixedRow ? digits : String(Number(digits) + rows);
        return `${fixedColumn}${name}${fixedRow}${row}`;
      },
    );
  return to === undefined
    ? `${sheet}.${moved(from)}`
    : `${sheet}.${moved(from)}:${second}.${moved(to)}`;
}

/** The sheet that an address names, without signs; `own` where it names none. */
function sheetOf(address: string, own: string): string {
  return bareSheet(ADDRESS.exec(resolved(address))?.[1] ?? '') || own;
}

function bareSheet(written: string): string {
  const name = written.replace(/^\$/, '');
  return name.startsWith("'") ? name.slice(1, -1).replaceAll("''", "'") : name;
}
