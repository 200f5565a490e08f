import { rename } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { setCell } from '@tether/demo';
import {
  cleat,
  dragCells,
  expect,
  expectAccessible,
  header,
  placed,
  test,
  text,
} from '../fixtures.ts';

const COUNTS = 'monitoring/planting-counts.xlsx';

function alongside(page: Page) {
  return page.getByRole('region', { name: 'Alongside' });
}

function cameIn(page: Page) {
  return page.getByRole('region', { name: 'Pasted or dropped cells' });
}

async function openAlongside(page: Page) {
  await header(page).getByRole('button', { name: 'Alongside' }).click();
  await expect(alongside(page).getByRole('application')).toContainText('SC-12');
}

/** The cord of the object at this place in reading order, with both its ends as they are drawn now. */
async function cordAt(page: Page, nth: number) {
  return page
    .locator('[data-cord]')
    .nth(nth)
    .evaluate((group) => {
      const centre = (name: string) => {
        const box = group.querySelector(name)!.getBoundingClientRect();
        return { x: box.left + box.width / 2, y: box.top + box.height / 2 };
      };
      return {
        path: group.querySelector('.cord')!.getAttribute('d') ?? '',
        object: centre('.cord-at-object'),
        cells: centre('.cord-at-cells'),
      };
    });
}

/** The cord when the panes have come to rest: drawn the same at two looks in turn. */
async function stillCord(page: Page, nth: number) {
  let before = '';
  await expect
    .poll(
      async () => {
        const { path } = await cordAt(page, nth);
        const isStill = path !== '' && path === before;
        before = path;
        return isStill;
      },
      { intervals: [400] },
    )
    .toBe(true);
  return cordAt(page, nth);
}

/** Puts cells on the clipboard as another program does. */
async function copyElsewhere(page: Page, rows: string[][]) {
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write']);
  await page.evaluate(
    (content) => navigator.clipboard.writeText(content),
    rows.map((row) => row.join('\t')).join('\n'),
  );
}

test('cords lead from objects to their cells: straight, sagging, broken; both ends follow', async ({
  product,
  report,
}) => {
  await openAlongside(report);
  const mark = cleat(report, 'Planting counts by plot');
  const held = async () => {
    const box = (await mark.boundingBox())!;
    const { object } = await cordAt(report, 0);
    return [Math.abs(object.x - box.x - box.width), Math.abs(object.y - box.y - box.height / 2)];
  };
  // It is held at the cleat, and at the left side of the cells; straight, since both are in step.
  await expect.poll(async () => Math.max(...(await held()))).toBeLessThan(2);
  const label = alongside(report).getByRole('button', { name: 'Planting counts by plot' });
  await expect(label).toBeVisible();
  expect((await cordAt(report, 0)).path).toMatch(/^M[\d. -]+L[\d. -]+$/);

  // Scrolling and zoom take it along.
  await report.locator('[data-scroll]').evaluate((element) => element.scrollBy(0, 60));
  await expect.poll(async () => Math.max(...(await held()))).toBeLessThan(2);
  const before = (await cordAt(report, 0)).cells.y;
  await alongside(report)
    .getByRole('application')
    .evaluate((element) => element.scrollBy(0, 44));
  await expect.poll(async () => (await cordAt(report, 0)).cells.y).toBeLessThan(before - 15);
  await report.getByRole('button', { name: 'Smaller' }).click();
  await expect.poll(async () => Math.max(...(await held()))).toBeLessThan(2);

  // The more cells are behind the deeper it hangs.
  const sag = async () => {
    const match = /^M([\d.-]+) ([\d.-]+)Q[\d.-]+ ([\d.-]+) ([\d.-]+) ([\d.-]+)$/.exec(
      (await cordAt(report, 0)).path,
    );
    return match ? (Number(match[3]) - (Number(match[2]) + Number(match[5])) / 2) / 2 : 0;
  };
  await product.save(COUNTS, [setCell('Counts', 'D8', 104)]);
  await expect.poll(sag).toBeGreaterThan(10);
  const little = await sag();
  await product.save(
    COUNTS,
    [5, 6, 7, 9, 10, 11, 12].map((row) => setCell('Counts', `D${row}`, 70 + row)),
  );
  await expect.poll(sag).toBeGreaterThan(little + 10);
  await header(report)
    .getByRole('button', { name: /^Refresh/ })
    .click();
  await expect.poll(sag).toBe(0);

  // Adrift it is broken before it reaches the cells.
  const file = join(product.sources, COUNTS);
  await rename(file, `${file}.away`);
  await expect(report.locator('[data-cord]').first()).toHaveAttribute('data-standing', 'adrift');
  await expect
    .poll(async () => report.locator('.cord-strands').first().getAttribute('d'))
    .toMatch(/^M/);
});

test('from either end to the other', async ({ report }) => {
  await openAlongside(report);
  await expectAccessible(report);
  // The label of the cells selects the object; its cells are shown for the object.
  await alongside(report).getByRole('button', { name: 'Planting counts by plot' }).click();
  await expect(
    text(report).locator('.ProseMirror-selectednode', { hasText: 'SC-01' }),
  ).toBeVisible();
  await expect(alongside(report)).toContainText('Counts!A4:G17');
  // Another object brings its own source, and its panel when that is asked for.
  await cleat(report, 'Boardwalk piles as driven').click();
  await expect(report.getByRole('complementary')).toContainText('boardwalk-piles.xlsx');
  await expect(
    alongside(report).getByRole('application', { name: 'Cells of Piles' }),
  ).toContainText('P-01');
  await header(report).getByRole('button', { name: 'Hide the panel' }).click();
  // A press on a cord goes to the end that is nearer.
  await alongside(report).getByRole('button', { name: 'planting-counts.xlsx' }).click();
  await expect(alongside(report).getByRole('application')).toContainText('SC-12');
  await report.locator('[data-scroll]').evaluate((element) => element.scrollTo(0, 0));
  const { object, cells } = await stillCord(report, 0);
  const at = (share: number) =>
    [object.x + (cells.x - object.x) * share, object.y + (cells.y - object.y) * share] as const;
  await report.mouse.click(...at(0.8));
  await expect(alongside(report)).toContainText('Counts!A4:G17');
  const { object: there } = await stillCord(report, 0);
  expect(Math.hypot(there.x - object.x, there.y - object.y)).toBeLessThan(4);
  await report.mouse.click(...at(0.1));
  await expect(
    text(report).locator('.ProseMirror-selectednode', { hasText: 'SC-01' }),
  ).toBeVisible();
  await alongside(report).getByRole('button', { name: 'Close alongside' }).click();
  await expect(alongside(report)).toBeHidden();
  await expect(report.locator('[data-cord]')).toHaveCount(0);
});

test('cells are dragged out of the source into the text, and grow when they are told to', async ({
  product,
  report,
}) => {
  await openAlongside(report);
  await dragCells(report, 'Counts', 'A4', 'C8');
  await alongside(report)
    .getByRole('button', { name: /^Drag these cells/ })
    .dragTo(text(report).getByText('Plots with a survival below'), {
      targetPosition: { x: 40, y: 2 },
    });
  await expect(cameIn(report)).toContainText('Counts!A4:C8');
  const name = 'Counts: Plot, Species, Planted';
  await expect(placed(report, name).getByRole('row')).toHaveCount(5);
  await cameIn(report).getByRole('button', { name: 'Follow new rows too' }).click();
  await expect(placed(report, name).getByRole('row', { name: /SC-12/ })).toBeVisible();
  await product.save(COUNTS, [setCell('Counts', 'C5', 333)]);
  await expect(cleat(report, name)).toContainText('behind');
  // Without a mouse: the cells are taken with the keys and placed where the cursor stands. One cell goes into the line.
  await text(report).getByText('SC-04: fence first').click();
  await report.keyboard.press('Home');
  const grid = alongside(report).getByRole('application');
  await grid.focus();
  await report.keyboard.press('ArrowDown');
  await report.keyboard.press('ArrowUp');
  await alongside(report)
    .getByRole('button', { name: /^Drag these cells/ })
    .press('Enter');
  // The keys go on from where the drag ended, C8.
  await expect(text(report).getByRole('listitem').first()).toContainText('180SC-04: fence first');
});

test('copied cells are pasted live, or as fixed figures', async ({ product, report }) => {
  await report.context().grantPermissions(['clipboard-read', 'clipboard-write']);
  await openAlongside(report);
  await dragCells(report, 'Counts', 'A5', 'C6');
  await report.keyboard.press('Control+C');
  await expect
    .poll(() => report.evaluate(() => navigator.clipboard.readText()))
    .toBe('SC-01\tCommon cordgrass\t240\nSC-02\tCommon cordgrass\t240');
  await text(report).getByText('All plots were counted').click();
  await report.keyboard.press('Control+V');
  const name = 'Counts: Plot, Species, Planted';
  await expect(placed(report, name)).toContainText('240');
  await product.save(COUNTS, [setCell('Counts', 'C5', 333)]);
  await expect(cleat(report, name)).toContainText('behind');
  await cameIn(report).getByRole('button', { name: 'Fixed figures instead' }).click();
  await expect(cleat(report, name)).toHaveCount(0);
  const fixed = text(report).locator('.fixed-table');
  await expect(fixed).toContainText('240');
  // Undo makes it live again.
  await report.keyboard.press('Control+Z');
  await expect(cleat(report, name)).toContainText('behind');
  await expect(fixed).toHaveCount(0);
});

test('cells of another program are found among the sources, and made live', async ({ report }) => {
  await copyElsewhere(report, [
    ['SC-05', 'Sea aster', '150', '132'],
    ['SC-06', 'Sea aster', '150', '141'],
  ]);
  await text(report).getByText('Plots with a survival below').click();
  await report.keyboard.press('Control+V');
  const fixed = text(report).locator('.fixed-table');
  await expect(fixed).toContainText('141');
  await expect(cameIn(report)).toContainText('Surely from Counts!A9:D10 of planting-counts.xlsx');
  await expect(cameIn(report)).toContainText('all 8 cells are the same');
  await expectAccessible(report);
  await cameIn(report).getByRole('button', { name: 'Make it live' }).click();
  await expect(cleat(report, 'Counts: SC-05')).toContainText('in step');
  await expect(fixed).toHaveCount(0);

  // What no source holds stays as fixed figures; words stay words.
  await copyElsewhere(report, [
    ['Elsewhere', '77,777'],
    ['Nowhere', '88,888'],
  ]);
  await text(report).getByText('SC-04: fence first').click();
  await report.keyboard.press('Control+V');
  await expect(cameIn(report)).toContainText('No source holds these 4 cells');
  await expect(fixed).toContainText('88,888');
  await cameIn(report).getByRole('button', { name: 'Leave it as it is' }).click();
  await expect(cameIn(report)).toBeHidden();
  // Tables of fixed figures are kept with the text.
  await expect(header(report)).toContainText('Saved');
  await report.reload();
  await expect(text(report).locator('.fixed-table')).toContainText('88,888');

  // However long it is, nothing of it is left out.
  await copyElsewhere(
    report,
    Array.from({ length: 2_100 }, (_, row) => [`Line ${row + 1}`, `${700_000 + row}`]),
  );
  await text(report).getByText('SC-07: wait for the silt').click();
  await report.keyboard.press('Control+V');
  await expect(text(report).locator('.fixed-table', { hasText: 'Line 1' })).toContainText(
    'Line 2100',
  );
});
