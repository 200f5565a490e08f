import { rm, writeFile } from 'node:fs/promises';
import { expect, test } from '@jest/globals';
import {
  type CellAddress,
  FormulaError,
  formatCell,
  isSameResult,
  parseCell,
  type Scalar,
} from '@tether/core';
import { runs } from '@tether/core/testing';
import fc from 'fast-check';
import { loadBook } from './calc/load-book.ts';
import { planWrite } from './calc/plan-write.ts';
import { buildWorkbook, writeFixture } from './ooxml/workbook.fixture.ts';
import type { SheetPatch } from './ooxml/write/write-workbook.ts';
import { openSource } from './open-source.ts';
import { writeSource } from './write-source.ts';

const SIZE = 6;
const SHEETS = ['Counts', 'Notes'] as const;

interface Held {
  value: Scalar | undefined;
  formula: string | null;
}

/** All that stands in a workbook, by sheet and cell; with what its formulas come to here against what it says. */
async function heldIn(path: string) {
  const source = await openSource(path, 'book.xlsx', {});
  if (!source.ok) throw new Error(source.fault.message);
  const cells = new Map<string, Held>();
  for (const { name } of source.value.sheets) {
    const read = await source.value.readFormulas(name);
    if (!read.ok) throw new Error(read.fault.message);
    for (const { row, column, value, formula = null } of read.value.cells) {
      cells.set(`${name}!${formatCell({ row, column })}`, { value, formula });
    }
  }
  const book = await loadBook(source.value, { withoutFormulasToo: true });
  if (!book.ok || typeof book.value === 'string') throw new Error('no book');
  await source.value.close();
  return { cells, book: book.value };
}

const place = fc.record({
  sheet: fc.constantFrom(...SHEETS),
  row: fc.integer({ min: 1, max: SIZE }),
  column: fc.integer({ min: 1, max: SIZE }),
});
/** Formulas look only at cells before their own, so that none goes round in a circle. */
const formulaFor = ({ row, column }: CellAddress) => {
  const before = formatCell(column > 1 ? { row, column: column - 1 } : { row, column: 1 });
  if (column === 1) return '1+1';
  return fc.sample(
    fc.constantFrom(
      `SUM(A1:${before})`,
      `${before}*2`,
      `IF(${before}>50,"many","few")`,
      `Counts!A1&${before}`,
      `COUNTA(A1:A${SIZE})+${before}`,
    ),
    { numRuns: 1, seed: row * 31 + column },
  )[0]!;
};
const figure = fc.oneof(
  fc.integer({ min: -99, max: 99 }),
  fc.constantFrom('plot', 'a & b', ' ', true),
);

test('1,000 random entries into random workbooks: what is read back is the plan, and all else is as before', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.tuple(place, fc.option(figure)), { minLength: 10, maxLength: 40 }),
      fc.array(fc.tuple(place, fc.option(figure), fc.boolean()), { minLength: 5, maxLength: 5 }),
      async (cells, entries) => {
        const made: Record<string, Map<string, string>> = { Counts: new Map(), Notes: new Map() };
        for (const [{ sheet, row, column }, value] of cells) {
          const inner =
            value === null
              ? `><f>${formulaFor({ row, column }).replaceAll('&', '&amp;').replaceAll('>', '&gt;')}</f>`
              : typeof value === 'string'
                ? ` t="inlineStr"><is><t xml:space="preserve">${value.replaceAll('&', '&amp;')}</t></is>`
                : typeof value === 'boolean'
                  ? ' t="b"><v>1</v>'
                  : `><v>${value}</v>`;
          made[sheet]!.set(`${row} ${column}`, inner);
        }
        const sheets = Object.fromEntries(
          SHEETS.map((name) => {
            const rows = Array.from({ length: SIZE }, (_, r) => {
              const own = Array.from({ length: SIZE }, (__, c) => {
                const inner = made[name]!.get(`${r + 1} ${c + 1}`);
                const ref = formatCell({ row: r + 1, column: c + 1 });
                return inner === undefined ? '' : `<c r="${ref}"${inner}</c>`;
              });
              return `<row r="${r + 1}">${own.join('')}</row>`;
            });
            return [name, `<sheetData>${rows.join('')}</sheetData>`];
          }),
        );
        const path = await writeFixture(buildWorkbook({ sheets }));
        const write = async (patches: readonly SheetPatch[]) => {
          const done = await writeSource(path, 'book.xlsx', patches, { isRecalculated: true });
          if (!done.ok) throw new Error(done.fault.message);
          await writeFile(path, done.value.bytes);
        };
        // What its formulas come to stands in the file, as in one that a program saved.
        const fresh = await heldIn(path);
        await write(
          [...fresh.cells].flatMap(([ref, { formula }]): SheetPatch[] => {
            const [sheet, name] = ref.split('!') as [string, string];
            const { row, column } = parseCell(name)!;
            const value = fresh.book.get(sheet, row, column);
            return formula === null ? [] : [{ sheet, row, column, value, how: 'result' }];
          }),
        );
        const before = await heldIn(path);
        expect(before.book.counts.notComputed).toBe(0);
        const wished = new Map<string, SheetPatch>();
        for (const [at, value, isFormula] of entries) {
          const key = `${at.sheet}!${formatCell(at)}`;
          wished.set(
            key,
            isFormula
              ? { ...at, value: null, how: 'formula', formula: formulaFor(at) }
              : { ...at, value, how: 'formula too' },
          );
        }
        const plan = planWrite(before.book, [...wished.values()]);
        expect(plan.notFinal).toEqual([]);
        await write(plan.patches);
        const after = await heldIn(path);
        await rm(path);

        const planned = new Map(
          plan.patches.map((each) => [`${each.sheet}!${formatCell(each)}`, each]),
        );
        const refs = new Set([...before.cells.keys(), ...after.cells.keys(), ...planned.keys()]);
        for (const ref of refs) {
          const [was, now, wish] = [before.cells.get(ref), after.cells.get(ref), planned.get(ref)];
          const formula = wish
            ? wish.how === 'formula'
              ? wish.formula
              : wish.how === 'result'
                ? was?.formula
                : undefined
            : was?.formula;
          expect([ref, now?.formula ?? null]).toEqual([ref, formula ?? null]);
          const value = wish ? wish.value : was!.value;
          const isPlanned = isSameResult(now?.value ?? null, value ?? null);
          expect([ref, isPlanned, shown(now?.value), shown(value)]).toEqual([
            ref,
            true,
            shown(now?.value),
            shown(value),
          ]);
        }
        // Whoever computes it anew finds nothing else.
        for (const { status } of after.book.check()) expect(status).toBe('same');
      },
    ),
    { numRuns: runs(200) },
  );
}, 120_000);

const shown = (value: Scalar | undefined) =>
  value instanceof FormulaError ? value.code : (value ?? null);
