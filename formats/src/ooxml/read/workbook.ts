import type { DateSystem, DefinedName, SheetSummary } from '@tether/core';
import { child, children, parseXml, truth } from '../../package/xml.ts';

/** What the workbook part tells (ECMA-376 Part 1, 18.2). */
export interface WorkbookPart {
  /** Sheets in their order, with the relationship that leads to each part. */
  sheets: (SheetSummary & { relationship: string })[];
  names: DefinedName[];
  dateSystem: DateSystem;
}

const STATES: Record<string, SheetSummary['state']> = {
  hidden: 'hidden',
  veryHidden: 'very hidden',
};

/** Reads the workbook part. */
export function parseWorkbook(bytes: Buffer): WorkbookPart {
  const root = parseXml(bytes);
  const sheets = children(child(root, 'sheets'), 'sheet').map(({ attributes }) => ({
    name: attributes.name ?? '',
    state: STATES[attributes.state ?? ''] ?? ('visible' as const),
    // Its own number is `sheetId`; the only `id` is the relationship's.
    relationship: attributes.id ?? '',
  }));
  const names = children(child(root, 'definedNames'), 'definedName').map(
    ({ attributes, text }) => ({
      name: attributes.name ?? '',
      refersTo: text.trim(),
      // `localSheetId` counts the sheets in their order from 0 (18.2.5).
      sheet:
        attributes.localSheetId === undefined
          ? null
          : (sheets[Number(attributes.localSheetId)]?.name ?? null),
      hidden: truth(attributes.hidden),
    }),
  );
  const date1904 = truth(child(root, 'workbookPr')?.attributes.date1904);
  return { sheets, names, dateSystem: date1904 ? '1904' : '1900' };
}
