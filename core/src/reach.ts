import { type Area, cellCount, formatReference } from './address.ts';
import { fail, ok, type Result } from './fault.ts';
import { findSheet, type SheetSummary } from './sheet.ts';

/** A fixed range of one sheet. */
export interface BlockReach {
  kind: 'block';
  sheet: string;
  area: Area;
}

/** Which part of a source a tether takes, and how it follows growth. */
export type Reach = BlockReach;

/** The most cells that one placed object may take. */
export const MAX_REACH_CELLS = 200_000;

/** The cells a reach takes from a workbook with these sheets. Fails with `sheet-missing` or `reach-too-large`. */
export function resolveReach(
  reach: Reach,
  sheets: readonly SheetSummary[],
): Result<{ sheet: string; area: Area }> {
  const sheet = findSheet(sheets, reach.sheet);
  if (!sheet) {
    return fail('sheet-missing', {
      sheet: reach.sheet,
      sheets: sheets.map((each) => each.name).join(', '),
    });
  }
  const cells = cellCount(reach.area);
  if (cells > MAX_REACH_CELLS) {
    return fail('reach-too-large', { cells: cells.toLocaleString('en') });
  }
  return ok({ sheet: sheet.name, area: reach.area });
}

/** The reach in words a person reads: `Counts!A3:F14`. */
export function describeReach(reach: Reach): string {
  return formatReference(reach);
}
