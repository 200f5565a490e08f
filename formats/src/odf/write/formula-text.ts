import { tokenize } from '@borgar/fx';
import { fail, ok, type Result } from '@tether/core';

/** A reference of one or two corners, with its sheet. */
const REFERENCE =
  /^(?:'((?:[^']|'')*)'!|([^'!]+)!)?(\$?[A-Za-z]*\$?\d*)(?::(\$?[A-Za-z]*\$?\d*))?$/;

/**
 * A formula as somebody types it in the notation of OpenDocument files (OpenFormula, ODF 1.3 Part 4, clause 5):
 * `SUM(B2:B5,Costs!A1)` becomes `of:=SUM([.B2:.B5];[$Costs.A1])`. Fault: `write-not-possible` for what it has no word for here.
 */
export function openFormula(typed: string): Result<string> {
  let made = 'of:=';
  let braces = 0;
  for (const { type, value } of tokenize(typed)) {
    switch (type) {
      case 'range':
      case 'range_beam': {
        const reference = openReference(value);
        if (reference === null) return cannot(value);
        made += reference;
        break;
      }
      case 'range_ternary':
      case 'structured':
      case 'context':
      case 'context_quote':
        return cannot(value);
      case 'func':
        made += value.toUpperCase();
        break;
      case 'whitespace':
      case 'newline':
        made += value;
        break;
      default:
        if (value === '{') braces++;
        if (value === '}') braces--;
        // Within an array `;` parts columns and `|` rows; elsewhere `;` parts arguments.
        if (value === ',') made += ';';
        else if (value === ';' && braces > 0) made += '|';
        else made += value;
    }
  }
  return ok(made);
}

const cannot = (what: string) =>
  fail('write-not-possible', { why: `an open document has no word for ${what}` });

function openReference(value: string): string | null {
  const match = REFERENCE.exec(value);
  if (!match) return value === '#REF!' ? value : null;
  const [, quoted, bare, from, to] = match;
  const sheet = quoted?.replaceAll("''", "'") ?? bare ?? null;
  // A file elsewhere, or several sheets at once.
  if (sheet !== null && /[[\]:]/.test(sheet)) return null;
  const named = sheet === null ? '' : `$${/^[\p{L}\p{N}_]+$/u.test(sheet) ? sheet : quote(sheet)}`;
  return `[${named}.${from}${to === undefined ? '' : `:.${to}`}]`;
}

const quote = (sheet: string) => `'${sheet.replaceAll("'", "''")}'`;
