import {
  type Anchor,
  anchorsOf,
  fail,
  findSheet,
  formatArea,
  formatReference,
  ok,
  parseReference,
  type Result,
  type SheetPrint,
} from '@tether/core';
import { type OpenSource, printSource } from '@tether/formats';

/** Where an area of a file stands in another state of it, as it is printed. */
interface Matched {
  /** With its sheet; null where it is not found. */
  area: string | null;
  sheet: string | null;
  confidence: number;
  standing: 'in step' | 'behind' | 'reshaped' | 'adrift';
  rows: Anchor['rows'];
  columns: Anchor['columns'];
  reasons: string[];
  evidence: Anchor['evidence'] | null;
  /** Other places where it may stand. */
  others: { area: string; confidence: number }[];
}

const NOTHING = { inserted: 0, deleted: 0, moved: 0 };

/**
 * Where the area of a reach stands in another file. Faults: those of reading, `sheet-missing`, `reference-malformed`.
 */
export async function matchArea(
  old: OpenSource,
  now: OpenSource,
  reach: string,
): Promise<Result<Matched>> {
  const reference = parseReference(reach);
  if (!reference.ok) return reference;
  const wanted = reference.value.sheet ?? old.sheets[0]?.name ?? '';
  const sheet = findSheet(old.sheets, wanted);
  if (!sheet) {
    const sheets = old.sheets.map(({ name }) => name).join(', ');
    return fail('sheet-missing', { sheet: wanted, sheets });
  }
  const [before, after] = [await printSource(old), await printSource(now)];
  if (!before.ok) return before;
  if (!after.ok) return after;
  const names = old.sheets.map(({ name }) => name);
  const prints = after.value.prints.filter((print): print is SheetPrint => print !== null);
  const own = before.value.prints.find((print) => print?.name === sheet.name);
  const { area } = reference.value;
  const anchors = own ? anchorsOf(own, area, prints, names) : [];
  const [first, ...others] = anchors;
  if (!first) {
    return ok({
      ...{ area: null, sheet: null, confidence: 0, standing: 'adrift', evidence: null, others: [] },
      ...{ rows: NOTHING, columns: NOTHING },
      reasons: ['Nothing in the other file holds enough of what stood there.'],
    });
  }
  const isSame = first.evidence.cells === 1 && formatArea(first.area) === formatArea(area);
  return ok({
    area: placeOf(first),
    sheet: first.sheet,
    confidence: first.confidence,
    standing: !first.isCertain ? 'reshaped' : isSame ? 'in step' : 'behind',
    rows: first.rows,
    columns: first.columns,
    reasons: first.reasons,
    evidence: first.evidence,
    others: others.map((each) => ({ area: placeOf(each), confidence: each.confidence })),
  });
}

/** An area with its sheet, always in quotes, so that whoever reads it need not know when they are wanted. */
function placeOf({ sheet, area }: Anchor): string {
  return `'${sheet.replaceAll("'", "''")}'!${formatReference({ sheet: null, area })}`;
}
