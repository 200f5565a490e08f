import { scanXml } from '../../package/xml.ts';

/**
 * Undoes the `_xHHHH_` escapes of a string (ECMA-376 Part 1, 22.9.2.19, ST_Xstring). NUL and halves of characters, which
 * no text can hold, become the replacement character.
 */
export function unescapeText(text: string): string {
  if (!text.includes('_x')) return text;
  return text
    .replace(/_x([0-9A-Fa-f]{4})_/g, (_, hex: string) =>
      String.fromCharCode(Number.parseInt(hex, 16)),
    )
    .replace(NO_CHARACTER, '\uFFFD');
}

const NO_CHARACTER = /[\0\p{Surrogate}]/gu;

/**
 * The shared strings of a workbook as plain text (ECMA-376 Part 1, 18.4.9): the runs of rich text joined, phonetic
 * hints (`rPh`) left out.
 */
export function parseSharedStrings(bytes: Buffer): string[] {
  const strings: string[] = [];
  let current = '';
  let inText = false;
  let inHint = false;
  scanXml(bytes, {
    open(name) {
      if (name === 'si') current = '';
      else if (name === 'rPh') inHint = true;
      else if (name === 't') inText = !inHint;
    },
    text(text) {
      if (inText) current += text;
    },
    close(name) {
      if (name === 'si') strings.push(unescapeText(current));
      else if (name === 'rPh') inHint = false;
      else if (name === 't') inText = false;
    },
  });
  return strings;
}
