import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { expect, header, reportWith, test, text, type WantedObject } from './fixtures.ts';

const area = (top: number, left: number, bottom: number, right: number) => ({
  top,
  left,
  bottom,
  right,
});

test('odd reaches say so in place and leave the document usable', async ({ product, desk }) => {
  const wide = Array.from({ length: 4 }, (_, row) =>
    Array.from({ length: 300 }, (_, column) => (row === 0 ? `C${column + 1}` : row * column)),
  );
  const long = Array.from({ length: 5_001 }, (_, row) =>
    row === 0 ? ['Plot', 'Plants'] : [`Row ${row}`, row],
  );
  const broken = [['Share', 'Sum'], ...Array.from({ length: 4 }, () => ['#DIV/0!', '#REF!'])];
  for (const [name, rows] of Object.entries({ wide, long, broken })) {
    const lines = rows.map((row) => row.join(',')).join('\n');
    await writeFile(join(product.sources, 'monitoring', `${name}.csv`), lines);
  }
  const of = (
    name: string,
    sheet: string,
    where: WantedObject['area'],
    form: WantedObject['form'] = 'table',
  ): WantedObject => ({ name, path: `${sheet}.csv`, sheet, area: where, form });
  const errors: string[] = [];
  desk.on('pageerror', (error) => errors.push(error.message));
  const id = await reportWith(desk, product, 'Odd reaches', [
    of('Nothing', 'wide', area(20, 1, 22, 3)),
    of('Nothing drawn', 'wide', area(20, 1, 22, 3), 'chart'),
    of('One cell', 'wide', area(2, 3, 2, 3)),
    of('One cell as a picture', 'wide', area(2, 3, 2, 3), 'facsimile'),
    of('No value', 'wide', area(20, 1, 20, 1), 'value'),
    of('Words drawn', 'long', area(1, 1, 9, 1), 'chart'),
    of('Errors', 'broken', area(1, 1, 5, 2)),
    of('Errors drawn', 'broken', area(1, 1, 5, 2), 'chart'),
    of('Wide', 'wide', area(1, 1, 4, 300)),
    of('Long', 'long', area(1, 1, 5_001, 2)),
  ]);
  await desk.goto(`${product.address}/documents/${id}`);
  await expect(header(desk)).toContainText('10 in step');
  const report = text(desk);
  await expect(report.getByText(/There are no numbers in these cells to draw/)).toHaveCount(3);
  await expect(report.getByRole('table', { name: 'One cell', exact: true })).toContainText('2');
  await expect(report.getByRole('table', { name: 'Errors', exact: true })).toContainText('#DIV/0!');
  // Folded into strips, each with the columns that name its rows.
  const strips = report.getByRole('table', { name: 'Wide', exact: true });
  await strips.last().scrollIntoViewIfNeeded();
  await expect(strips.last()).toContainText('C300');
  // As many pages as it takes, and writing goes on below.
  await report.locator('p').last().scrollIntoViewIfNeeded();
  await report.locator('p').last().click();
  await desk.keyboard.type('Written below all of it.');
  await expect(report).toContainText('Written below all of it.');
  await expect(header(desk)).toContainText('Saved');
  expect(errors).toEqual([]);
});
