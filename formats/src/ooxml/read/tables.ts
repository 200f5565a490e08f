import { ok, parseReference, type Result, type TableObject } from '@tether/core';
import type { PackageFile } from '../../package/package-file.ts';
import { child, children, parseXml, truth } from '../../package/xml.ts';
import { readRelationships } from './relationships.ts';

/** A table object with what its part says of its style (18.5.1.5). */
export interface SheetTable extends TableObject {
  look: {
    style: string;
    firstColumn: boolean;
    lastColumn: boolean;
    rowStripes: boolean;
    columnStripes: boolean;
  } | null;
}

/** The table objects of a sheet part (ECMA-376 Part 1, 18.5.1.2). */
export async function readTables(
  file: PackageFile,
  sheet: string,
  sheetPart: string,
): Promise<Result<SheetTable[]>> {
  const links = await readRelationships(file, sheetPart);
  if (!links.ok) return links;
  const tables: SheetTable[] = [];
  for (const { type, target, external } of links.value) {
    if (type !== 'table' || external) continue;
    const bytes = await file.read(target);
    if (!bytes.ok) return bytes;
    const root = parseXml(bytes.value);
    const { ref, displayName, name, headerRowCount, totalsRowCount } = root.attributes;
    const reference = parseReference(ref ?? '');
    if (!reference.ok) continue;
    const info = child(root, 'tableStyleInfo')?.attributes;
    tables.push({
      name: displayName ?? name ?? '',
      sheet,
      area: reference.value.area,
      headerRows: Number(headerRowCount ?? 1),
      totalsRows: Number(totalsRowCount ?? 0),
      columns: children(child(root, 'tableColumns'), 'tableColumn').map(
        ({ attributes }) => attributes.name ?? '',
      ),
      look: info?.name
        ? {
            style: info.name,
            firstColumn: truth(info.showFirstColumn),
            lastColumn: truth(info.showLastColumn),
            rowStripes: truth(info.showRowStripes),
            columnStripes: truth(info.showColumnStripes),
          }
        : null,
    });
  }
  return ok(tables);
}
