/**
 * Rows of shown texts out of text in which tabs part cells and line ends part rows, as programs put cells on the
 * clipboard; a field that holds such signs stands in quotes, doubled inside (common practice, after RFC 4180). Null for
 * what is no such table: one cell alone, or lines without any tab.
 */
export function readPastedText(text: string): string[][] | null {
  if (!text.includes('\t')) return null;
  const rows: string[][] = [[]];
  let field = '';
  let isQuoted = false;
  const endField = () => {
    rows.at(-1)!.push(field);
    field = '';
  };
  for (let at = 0; at < text.length; at++) {
    const sign = text[at]!;
    if (isQuoted) {
      if (sign !== '"') field += sign;
      else if (text[at + 1] === '"') {
        field += '"';
        at++;
      } else isQuoted = false;
    } else if (sign === '"' && field === '') isQuoted = true;
    else if (sign === '\t') endField();
    else if (sign === '\n') {
      endField();
      rows.push([]);
    } else if (sign !== '\r') field += sign;
  }
  endField();
  // A line end behind the last row begins no row.
  if (rows.length > 1 && rows.at(-1)!.length === 1 && rows.at(-1)![0] === '') rows.pop();
  return rows;
}
