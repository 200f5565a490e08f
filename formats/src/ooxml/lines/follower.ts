import {
  type Area,
  followFormula,
  formatArea,
  type LineChange,
  movedArea,
  parseReference,
  shiftFormula,
} from '@tether/core';
import { CannotFollow } from '../../moved-lines.ts';
import { resolved } from '../../package/entities.ts';
import { escaped } from '../write/xml-text.ts';

/** Lets the texts of a workbook’s parts follow rows or columns that are put in or taken out, and counts what did. */
export class Follower {
  /** Formulas that are written otherwise now, and those of them that lost something that they looked at. */
  formulas = 0;
  lost = 0;

  constructor(readonly change: LineChange) {}

  /** A formula as it stands in an element. `own` is the sheet in which it stands; empty where it names every sheet. */
  text(written: string, own: string): string {
    const { sheet } = this.change;
    const isOwn = own.toLowerCase() === sheet.toLowerCase();
    if (!isOwn && !written.includes('!')) return written;
    const text = resolved(written);
    const followed = followFormula(text, own, this.change);
    if (followed === null) throw new CannotFollow('a formula reaches over several sheets at once');
    if (followed === text) return written;
    this.formulas += 1;
    if (count(followed, '#REF!') > count(text, '#REF!')) this.lost += 1;
    return escaped(followed);
  }

  /** A formula that is written for the first cell of an area and meant for all of it. */
  relativeText(written: string, own: string, area: Area): string {
    const { kind, axis, at, count: many } = this.change;
    const first = axis === 'rows' ? area.top : area.left;
    const isCut = kind === 'take out' && first >= at && first < at + many;
    if (!isCut || own.toLowerCase() !== this.change.sheet.toLowerCase()) {
      return this.text(written, own);
    }
    // The first cell goes: it is written for the first that stays.
    const by = at + many - first;
    const shift = shiftFormula(resolved(written));
    return this.text(escaped(shift(axis === 'rows' ? by : 0, axis === 'rows' ? 0 : by)), own);
  }

  /** A reference of this sheet; null where nothing of it is left. */
  reference(written: string): string | null {
    const area = areaIn(written);
    if (!area) return written;
    const moved = movedArea(this.change, area);
    if (!moved) return null;
    const now = formatArea(moved);
    return now === formatArea(area) ? written : now;
  }

  /** Several references with spaces between; null where nothing of them is left. */
  references(written: string): string | null {
    const left = written.split(/\s+/).flatMap((each) => this.reference(each) ?? []);
    return left.length === 0 ? null : left.join(' ');
  }
}

const count = (text: string, word: string) => text.split(word).length - 1;

/** The area of a reference without its sheet; null for what is none. */
export function areaIn(written: string): Area | null {
  const parsed = parseReference(written.replaceAll('$', ''));
  return parsed.ok ? parsed.value.area : null;
}
