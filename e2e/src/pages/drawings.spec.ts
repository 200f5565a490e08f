import { readFileSync } from 'node:fs';
import type { Locator } from '@playwright/test';
import { DOMParser } from '@xmldom/xmldom';
import {
  changeSlip,
  cleat,
  dragCells,
  expect,
  expectAccessible,
  header,
  openPlace,
  openReport,
  type Page,
  placed,
  poppler,
  printedFile,
  savedPages,
  test,
  text,
  unfold,
} from '../fixtures.ts';

const BLACK = '#10242b';
/** A plan of 26 by 7 m, drawn in true millimetres, with a script that nobody may run. */
const PLAN = `<svg xmlns="http://www.w3.org/2000/svg" width="26000mm" height="7000mm" viewBox="0 0 26000 7000">
<script>window.ranHere = true;</script>
<rect x="1700" y="2750" width="22300" height="1500" fill="#efe3d2" stroke="${BLACK}" stroke-width="18"/></svg>`;

/** Makes a drawing and opens it. */
async function newDrawing(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name: 'New document' }).click();
  await page.getByLabel('Kind').selectOption({ label: 'drawing' });
  await page.getByLabel('Name of the new document').fill(name);
  await page.getByRole('button', { name: 'Create it' }).click();
  await expect(sheet(page)).toBeVisible();
}

const sheet = (page: Page): Locator => page.getByRole('application', { name: /^Page of/ });
const rail = (page: Page): Locator => page.getByRole('toolbar', { name: 'Drawing' });
const panel = (page: Page): Locator => page.getByRole('complementary');
const thing = (page: Page): Locator => sheet(page).locator('[data-thing]');

/** Draws from one place of the sheet to another; millimetres. */
async function draw(page: Page, tool: string, from: [number, number], to: [number, number]) {
  await rail(page).getByRole('button', { name: tool, exact: true }).click();
  await drag(page, from, to);
}

async function drag(page: Page, from: [number, number], to: [number, number]) {
  const at = await placesOn(page);
  const [start, end] = [at(from), at(to)];
  await page.mouse.move(start.x, start.y);
  await page.mouse.down();
  await page.mouse.move((start.x + end.x) / 2, (start.y + end.y) / 2);
  await page.mouse.move(end.x, end.y);
  await page.mouse.up();
}

/** Where places of an A3 sheet are on the screen. */
async function placesOn(page: Page) {
  const box = (await sheet(page).boundingBox())!;
  return ([x, y]: [number, number]) => ({
    x: box.x + (x / 420) * box.width,
    y: box.y + (y / 297) * box.height,
  });
}

/** What a field of millimetres says. */
const field = (page: Page, label: string) => panel(page).getByLabel(label, { exact: true });

test('a schedule at the frame is folded, refreshed with a new pile, its mark set out, and printed to scale', async ({
  product,
  desk,
}) => {
  await newDrawing(desk, 'Boardwalk sheet');
  await rail(desk)
    .getByLabel('Plan to put in')
    .setInputFiles({ name: 'boardwalk.svg', mimeType: 'image/svg+xml', buffer: Buffer.from(PLAN) });
  await expect(sheet(desk).getByRole('img', { name: 'boardwalk' })).toBeVisible();
  expect(await desk.evaluate(() => 'ranHere' in window)).toBe(false);
  // Of its own unit it is 26 m wide, and the largest recommended scale at which that fits is 1:100.
  await expect(field(desk, 'Scale')).toHaveValue('1:100');
  await expect(panel(desk)).toContainText('26 m × 7 m');
  await field(desk, 'Scale').fill('1:0');
  await field(desk, 'Scale').press('Enter');
  await expect(panel(desk)).toContainText('“1:0” is not a scale.');
  await field(desk, 'Scale').fill('1:75');
  await field(desk, 'Scale').press('Enter');
  await expect(panel(desk)).toContainText('1:75 is none of the scales that ISO 5455 recommends.');
  await field(desk, 'Scale').fill('1:100');
  await field(desk, 'Scale').press('Enter');
  await desk.keyboard.press('Escape');

  const place = await openPlace(desk, 'Works', /boardwalk-piles/);
  await dragCells(desk, 'Piles', 'A4', 'E4');
  await place.getByRole('radio', { name: 'Growing block' }).click();
  await place.getByLabel('Name', { exact: true }).fill('Pile schedule');
  await place.getByRole('button', { name: 'Place it' }).click();
  const schedule = sheet(desk).getByRole('table', { name: 'Pile schedule' });
  await expect(schedule.first()).toContainText('P-10');
  // It stands where the frame begins, and is one table until its room is lower than it is.
  await expect(schedule).toHaveCount(1);
  await unfold(panel(desk), 'Where it stands');
  await expect(field(desk, 'Across')).toHaveValue('20');
  await field(desk, 'Across').fill('150');
  await field(desk, 'Across').press('Enter');
  await field(desk, 'Down').fill('120');
  await field(desk, 'Down').press('Enter');
  await field(desk, 'Room down').fill('50');
  await field(desk, 'Room down').press('Enter');
  await expect(schedule).toHaveCount(2);

  await unfold(panel(desk), 'Its rows as marks');
  await panel(desk).getByRole('button', { name: 'Mark its rows in boardwalk' }).click();
  await expect(panel(desk)).toContainText('10 of 10 rows have their marks.');
  await expect(sheet(desk).locator('[data-mark]')).toHaveCount(10);

  // A pile is driven, and the works file saved.
  await product.save('works/boardwalk-piles.xlsx', [
    {
      kind: 'insert row',
      sheet: 'Piles',
      row: 15,
      values: ['P-11', '175 x 175', 24, 5.4, 3.3],
    },
  ]);
  await expect(panel(desk)).toContainText('1 row inserted');
  await panel(desk).getByRole('button', { name: 'See the changes' }).click();
  await expect(changeSlip(desk)).toContainText('P-11');
  await expect(changeSlip(desk)).toContainText('“P-11” gets its mark.');
  await panel(desk).getByRole('button', { name: 'Refresh', exact: true }).click();
  await expect(schedule.last()).toContainText('P-11');
  await expect(sheet(desk).locator('[data-mark="P-11"]')).toHaveCount(1);

  // A click on a mark shows its row, in the table too.
  await sheet(desk).locator('[data-mark="P-03"] path').last().click();
  await expect(schedule.first().locator('.picked').first()).toContainText('P-03');
  await expectAccessible(desk);

  await header(desk).getByRole('link', { name: 'Print' }).click();
  await expect(desk.locator('[data-print-ready="1"]')).toBeVisible();
  const path = await printedFile(desk);
  expect(poppler('pdfinfo', path)).toMatch(/Page size:.*A3/);
  const words = [
    ...poppler('pdftotext', '-bbox', path, '-').matchAll(
      /xMin="([\d.]+)" yMin="([\d.]+)" xMax="([\d.]+)"[^>]*>([^<]*)</g,
    ),
  ].map(([, x, y, far, word]) => ({ x: Number(x), y: Number(y), far: Number(far), word }));
  const millimetres = (points: number) => (points * 25.4) / 72;
  // Labels of marks are those of which two stand on one line, 2.4 m apart in truth: 24 mm at 1:100.
  const [first, second] = ['P-01', 'P-02'].map((pile) => words.filter(({ word }) => word === pile));
  const away = first!.flatMap(({ x, y }) =>
    second!.filter((other) => Math.abs(other.y - y) < 0.5).map((other) => other.x - x),
  );
  expect(away.some((points) => Math.abs(millimetres(points) - 24) < 0.05)).toBe(true);
  // The middles of fields 2 and 3 of the border are 50 mm apart (ISO 5457:1999, 4.4).
  const middles = ['2', '3'].map((name) => {
    const { x, far } = words.filter(({ word }) => word === name).sort((a, b) => a.y - b.y)[0]!;
    return (x + far) / 2;
  });
  expect(Math.abs(millimetres(middles[1]! - middles[0]!) - 50)).toBeLessThan(0.1);

  // As a drawing: read by a library of its own, it says every word that the PDF says, and is as true to scale.
  const drawn = new DOMParser().parseFromString(
    readFileSync(await savedPages(desk, 'SVG'), 'utf8'),
    'text/xml',
  );
  const root = drawn.documentElement!;
  expect([root.getAttribute('width'), root.getAttribute('height')]).toEqual(['420mm', '297mm']);
  const texts = [...drawn.getElementsByTagName('text')].flatMap((each) =>
    [...(each.getElementsByTagName('tspan').length > 0 ? each.childNodes : [each])].map(
      ({ textContent }) => textContent ?? '',
    ),
  );
  const inPdf = words.map(({ word }) => word).sort();
  expect(
    texts
      .flatMap((each) => each.split(/\s+/))
      .filter(Boolean)
      .sort(),
  ).toEqual(inPdf);
  const across = ['P-01', 'P-02'].map((pile) => {
    const mark = [...drawn.getElementsByTagName('g')].find(
      (each) => each.getAttribute('data-mark') === pile,
    )!;
    return Number(/translate\((-?[\d.]+)/.exec(mark.getAttribute('transform')!)![1]);
  });
  const perMm = Number(root.getAttribute('viewBox')!.split(' ')[2]) / 420;
  const scaled = [...drawn.getElementsByTagName('g')].flatMap((each) => {
    const scale = /^scale\(([\d.]+)\)$/.exec(each.getAttribute('transform') ?? '');
    return scale ? [Number(scale[1])] : [];
  });
  expect(Math.abs(((across[1]! - across[0]!) * scaled[0]!) / perMm - 24)).toBeLessThan(0.05);
  expect(drawn.getElementsByTagName('script')).toHaveLength(0);

  // As a picture: so many dots, and it says how many there are to the inch. A browser takes whole pixels of the screen,
  // of which one is three dots here.
  const picture = readFileSync(await savedPages(desk, 'PNG', '300'));
  expect(Math.abs(picture.readUInt32BE(16) - (420 / 25.4) * 300)).toBeLessThan(4);
  expect(Math.abs(picture.readUInt32BE(20) - (297 / 25.4) * 300)).toBeLessThan(4);
  const said = picture.indexOf('pHYs');
  expect(picture.readUInt32BE(said + 4)).toBe(Math.round(300 / 0.0254));
});

test('things are drawn, written, moved, set in line and taken back, by pointer and by keys', async ({
  desk,
}) => {
  await newDrawing(desk, 'A sheet');
  await draw(desk, 'Rectangle', [40, 40], [100, 80]);
  await expect(thing(desk)).toHaveCount(1);
  await expect(field(desk, 'Across')).toHaveValue('40');
  await expect(field(desk, 'Width')).toHaveValue('60');
  await draw(desk, 'Circle or ellipse', [150, 100], [180, 130]);
  await draw(desk, 'Text', [40, 150], [100, 165]);
  await desk.keyboard.type('All piles of larch');
  await desk.keyboard.press('Control+Enter');
  await expect(sheet(desk)).toContainText('All piles of larch');
  await draw(desk, 'Dimension', [40, 80], [100, 80]);
  // 60 mm of the sheet.
  await expect(sheet(desk).locator('text', { hasText: /^60$/ })).toBeVisible();
  await expect(thing(desk)).toHaveCount(4);

  // A line of several points is clicked, and closed at its beginning: 40 by 30 mm and a half of them.
  const at = await placesOn(desk);
  await rail(desk).getByRole('button', { name: 'Line', exact: true }).click();
  for (const corner of [
    [250, 60],
    [290, 60],
    [290, 90],
    [250, 60],
  ] as [number, number][]) {
    const { x, y } = at(corner);
    await desk.mouse.move(x, y);
    await desk.mouse.click(x, y);
  }
  await expect(thing(desk)).toHaveCount(5);
  await expect(panel(desk)).toContainText('Area: 6 cm²');
  await desk.keyboard.press('Delete');
  await expect(thing(desk)).toHaveCount(4);

  // By hand, snapped to the left side of the frame.
  await desk.keyboard.press('Escape');
  await drag(desk, [70, 40], [51, 60]);
  await expect(field(desk, 'Across')).toHaveValue('20');
  await desk.keyboard.press('ArrowRight');
  await desk.keyboard.press('Shift+ArrowRight');
  await expect(field(desk, 'Across')).toHaveValue('31');
  await desk.keyboard.press('Control+z');
  await expect(field(desk, 'Across')).toHaveValue('20');
  await desk.keyboard.press('Control+z');
  await expect(field(desk, 'Across')).toHaveValue('40');
  await desk.keyboard.press('Control+Shift+z');
  await expect(field(desk, 'Across')).toHaveValue('20');

  // A frame dragged over several, which are set in line.
  await drag(desk, [15, 30], [200, 170]);
  await expect(panel(desk).getByRole('heading', { name: '4 things' })).toBeVisible();
  await panel(desk).getByRole('button', { name: 'Left edges in line' }).click();
  await unfold(panel(desk), 'On this page');
  const outline = panel(desk).getByRole('list', { name: 'Things on this page' });
  await outline.getByRole('button', { name: /All piles of larch/ }).click();
  await expect(field(desk, 'Across')).toHaveValue('20');
  await outline.getByRole('button', { name: /All piles of larch/ }).press('ArrowDown');
  await expect(panel(desk).getByRole('heading', { name: 'Circle or ellipse' })).toBeVisible();

  await sheet(desk).focus();
  await desk.keyboard.press('Control+d');
  await expect(thing(desk)).toHaveCount(5);
  await desk.keyboard.press('Delete');
  await expect(thing(desk)).toHaveCount(4);
  await panel(desk)
    .getByRole('button', { name: 'Undo' })
    .or(rail(desk).getByRole('button', { name: 'Undo' }))
    .first()
    .click();
  await expect(thing(desk)).toHaveCount(5);
  await expectAccessible(desk);
  // All of it is there again when the drawing is opened anew.
  await desk.reload();
  await expect(thing(desk)).toHaveCount(5);
});

test('layers of the sheet and of the plan, a schedule in its corner whose parts stand apart, and marks that follow a column', async ({
  desk,
}) => {
  await newDrawing(desk, 'Set out');
  const layered = PLAN.replace(
    '<rect',
    '<g id="marsh"><title>Marsh</title><rect width="26000" height="7000" fill="#f3f6ee"/></g><g id="deck"><title>Deck</title><rect',
  ).replace('</svg>', '</g></svg>');
  await rail(desk)
    .getByLabel('Plan to put in')
    .setInputFiles({ name: 'plan.svg', mimeType: 'image/svg+xml', buffer: Buffer.from(layered) });
  const plan = sheet(desk).getByRole('img', { name: 'plan' });
  await expect(plan).toBeVisible();
  await expect(panel(desk)).not.toContainText('this is a guess');
  await panel(desk).getByRole('checkbox', { name: 'Marsh' }).click();
  await expect(plan).toHaveAttribute('src', /without=1$/);
  await expect(panel(desk).getByRole('checkbox', { name: 'Deck' })).toBeChecked();
  await desk.keyboard.press('Escape');

  // A plan without a unit says that it is a guess, until somebody says how large it is.
  await rail(desk)
    .getByLabel('Plan to put in')
    .setInputFiles({
      ...{ name: 'bare.svg', mimeType: 'image/svg+xml' },
      buffer: Buffer.from(layered.replaceAll('00mm', '00')),
    });
  await expect(panel(desk)).toContainText('this is a guess');
  await field(desk, 'Plan is wide').fill('26');
  await field(desk, 'Plan is wide').press('Enter');
  await expect(panel(desk)).not.toContainText('this is a guess');
  await sheet(desk).press('Delete');
  await expect(sheet(desk).getByRole('img', { name: 'bare' })).toHaveCount(0);

  // Into the corner where the title block lies: above it, within the frame.
  const place = await openPlace(desk, 'Works', /boardwalk-piles/);
  await dragCells(desk, 'Piles', 'A4', 'E4');
  await place.getByRole('radio', { name: 'Growing block' }).click();
  await place.getByLabel('Name', { exact: true }).fill('Pile schedule');
  await place.getByLabel('Stands').selectOption({ label: 'lower right of the frame' });
  await place.getByRole('button', { name: 'Place it' }).click();
  const schedule = sheet(desk).getByRole('table', { name: 'Pile schedule' });
  await expect(schedule.first()).toContainText('P-10');
  await unfold(panel(desk), 'Where it stands');
  await expect
    .poll(async () => Number(await field(desk, 'Across').inputValue()))
    .toBeGreaterThan(200);
  expect(Number(await field(desk, 'Down').inputValue())).toBeGreaterThan(100);
  await expect(panel(desk).getByRole('region', { name: 'Where objects have no room' })).toHaveCount(
    0,
  );

  // In less room it stands in two parts, of which one goes to a place of its own and back.
  for (const [label, millimetres] of [
    ['Across', '40'],
    ['Down', '120'],
    ['Room down', '50'],
  ] as const) {
    await field(desk, label).fill(millimetres);
    await field(desk, label).press('Enter');
  }
  await expect(schedule).toHaveCount(2);
  await panel(desk).getByRole('checkbox', { name: 'Part 2 at a place of its own' }).click();
  const across = async (nth: number) => (await schedule.nth(nth).boundingBox())!.x;
  await expect.poll(async () => Math.abs((await across(1)) - (await across(0)))).toBeLessThan(2);
  await field(desk, 'Part 2 across').fill('-30');
  await field(desk, 'Part 2 across').press('Enter');
  await expect(panel(desk)).toContainText('“Pile schedule” goes over the frame.');
  const grip = sheet(desk).getByRole('button', { name: 'Pull part 2 to a place of its own' });
  const from = (await grip.boundingBox())!;
  await desk.mouse.move(from.x + 5, from.y + 8);
  await desk.mouse.down();
  await desk.mouse.move(from.x + 100, from.y + 8);
  await desk.mouse.move(from.x + 205, from.y + 8);
  await desk.mouse.up();
  await expect(panel(desk)).not.toContainText('goes over the frame');
  await panel(desk).getByRole('checkbox', { name: 'Part 2 at a place of its own' }).click();
  await expect.poll(async () => (await across(1)) - (await across(0))).toBeGreaterThan(50);

  await unfold(panel(desk), 'Its rows as marks');
  await panel(desk).getByRole('button', { name: 'Mark its rows in plan' }).click();
  await panel(desk).getByLabel('Ground').selectOption({ label: 'by what a column says' });
  await panel(desk).getByLabel('of', { exact: true }).selectOption('Section (mm)');
  await expect(sheet(desk).locator('[data-key]')).toContainText('150 x 150');
  await panel(desk).getByLabel('Area by').selectOption('Length (m)');
  const symbol = (pile: string) => sheet(desk).locator(`[data-mark="${pile}"] path`).last();
  const widths = await Promise.all(
    ['P-01', 'P-06'].map(async (pile) => (await symbol(pile).boundingBox())!.width),
  );
  expect(widths[0]).toBeLessThan(widths[1]!);
  await expectAccessible(desk);

  // What is drawn from now on comes onto a layer of its own, in its colour, and is not printed.
  await desk.keyboard.press('Escape');
  await sheet(desk).press('Escape');
  await unfold(panel(desk), 'Layers');
  await panel(desk).getByRole('button', { name: 'Add a layer' }).click();
  await panel(desk).getByLabel('New things on').selectOption({ label: 'Layer 1' });
  await panel(desk).getByLabel('Lines', { exact: true }).selectOption('0.7');
  await draw(desk, 'Arc', [60, 200], [120, 200]);
  await expect(panel(desk)).toContainText('0.7 mm, as its layer has it');
  await expect(panel(desk)).toContainText('Radius 37.5 mm');
  const arc = thing(desk).last().locator('path').last();
  await expect(arc).toHaveAttribute('stroke-width', '0.7');
  await sheet(desk).press('Escape');
  await panel(desk).getByRole('button', { name: 'Do not print Layer 1' }).click();
  const count = await thing(desk).count();
  await panel(desk).getByRole('button', { name: 'Hide Layer 1' }).click();
  await expect(thing(desk)).toHaveCount(count - 1);
  await panel(desk).getByRole('button', { name: 'Show Layer 1' }).click();
  await expect(thing(desk)).toHaveCount(count);
  await expectAccessible(desk);

  // A new object comes onto the layer that is chosen for it.
  const another = await openPlace(desk, 'Works', /boardwalk-piles/);
  await dragCells(desk, 'Piles', 'A4', 'B6');
  await expect(another.getByLabel('Layer').locator('option:checked')).toHaveText('Layer 1');
  await another.getByLabel('Layer').selectOption({ label: 'the usual one' });
  await another.getByRole('button', { name: 'Place it' }).click();
  await expect(thing(desk)).toHaveCount(count + 1);
  await unfold(panel(desk), 'Where it stands');
  await expect(panel(desk).getByLabel('Layer', { exact: true })).toHaveValue('none');
  await sheet(desk).press('Delete');
  await expect(thing(desk)).toHaveCount(count);
  await header(desk).getByRole('link', { name: 'Print' }).click();
  await expect(desk.locator('[data-print-ready="1"]')).toBeVisible();
  await expect(desk.locator('.sheet [data-thing]')).toHaveCount(count - 1);
});

test('two people work on one sheet; only the same of the same thing collides, and is said', async ({
  product,
  desk,
  browser,
}) => {
  await newDrawing(desk, 'For two');
  await draw(desk, 'Rectangle', [40, 40], [100, 80]);
  await draw(desk, 'Circle or ellipse', [150, 100], [180, 130]);
  const tam = await product.window(browser, 'Tam Reedsby');
  await tam
    .getByRole('link', { name: /For two/ })
    .first()
    .click();
  await expect(thing(tam)).toHaveCount(2);
  const choose = async (page: Page, name: string) => {
    await page.keyboard.press('Escape');
    await unfold(panel(page), 'On this page');
    await panel(page)
      .getByRole('list', { name: 'Things on this page' })
      .getByRole('button', { name })
      .click();
  };
  // One chooses a layer for a new object while the other takes out the one before it.
  await desk.keyboard.press('Escape');
  await unfold(panel(desk), 'Layers');
  await panel(desk).getByRole('button', { name: 'Add a layer' }).click();
  await panel(desk).getByRole('button', { name: 'Add a layer' }).click();
  const place = await openPlace(desk, 'Works', /boardwalk-piles/);
  await dragCells(desk, 'Piles', 'A4', 'B6');
  await place.getByLabel('Layer').selectOption({ label: 'Layer 2' });
  await tam.keyboard.press('Escape');
  await unfold(panel(tam), 'Layers');
  await panel(tam)
    .getByRole('button', { name: /^Delete Layer 1/ })
    .click();
  await expect(panel(tam)).not.toContainText('Layer 1');
  await place.getByLabel('Name', { exact: true }).fill('Heads of piles');
  await place.getByRole('button', { name: 'Place it' }).click();
  await unfold(panel(desk), 'Where it stands');
  await expect(
    panel(desk).getByLabel('Layer', { exact: true }).locator('option:checked'),
  ).toHaveText('Layer 2');
  await sheet(desk).press('Delete');
  await expect(thing(tam)).toHaveCount(2);
  await choose(desk, 'Rectangle');
  await choose(tam, 'Circle or ellipse');
  await field(desk, 'Across').fill('60');
  await field(desk, 'Across').press('Enter');
  await field(tam, 'Down').fill('200');
  await field(tam, 'Down').press('Enter');
  await choose(tam, 'Rectangle');
  await expect(field(tam, 'Across')).toHaveValue('60');

  // Both set the same while one of them is away.
  await tam.context().setOffline(true);
  await field(tam, 'Across').fill('90');
  await field(tam, 'Across').press('Enter');
  await field(desk, 'Across').fill('30');
  await field(desk, 'Across').press('Enter');
  await tam.context().setOffline(false);
  const told = (page: Page) => page.getByRole('alert').filter({ hasText: 'at the same time' });
  await expect.poll(async () => (await told(desk).count()) + (await told(tam).count())).toBe(1);
  const loser = (await told(desk).count()) > 0 ? desk : tam;
  const mine = loser === desk ? '30' : '90';
  await expect(told(loser)).toContainText(`yours was ${mine}`);
  await told(loser).getByRole('button', { name: 'Set mine again' }).click();
  await expect(field(desk, 'Across')).toHaveValue(mine);
  await expect(field(tam, 'Across')).toHaveValue(mine);
});

test('objects are copied with tethers of their own, cut and pasted with theirs, and say where they have no room', async ({
  desk,
}) => {
  await newDrawing(desk, 'Copies');
  const place = await openPlace(desk, 'Works', /boardwalk-piles/);
  await place.getByRole('button', { name: /Take all filled cells/ }).click();
  await place.getByLabel('Name', { exact: true }).fill('Piles');
  await place.getByRole('button', { name: 'Place it' }).click();
  const tables = sheet(desk).getByRole('table', { name: 'Piles' });
  await expect(tables).toHaveCount(1);
  await sheet(desk).focus();
  await desk.keyboard.press('Control+c');
  await desk.keyboard.press('Control+v');
  await expect(tables).toHaveCount(2);
  await desk.keyboard.press('Escape');
  const said = panel(desk).getByRole('region', { name: 'Where objects have no room' });
  await expect(said).toContainText('stands over “Piles”');
  await expect(header(desk)).toContainText('2 in step');
  await said.getByRole('button').first().click();
  await sheet(desk).focus();
  await desk.keyboard.press('Control+x');
  await expect(tables).toHaveCount(1);
  await expect(header(desk)).toContainText('1 in step');
  await desk.keyboard.press('Control+v');
  await expect(tables).toHaveCount(2);
  await expect(header(desk)).toContainText('2 in step');
  // The same object, not a third one: nothing more is known of the document than the two.
  await desk.getByRole('link', { name: 'Ledger' }).click();
  await expect(desk.getByRole('row', { name: /Copies/ })).toHaveCount(2);
});

test('who may only look sees a drawing and can change nothing', async ({
  product,
  desk,
  browser,
}) => {
  await newDrawing(desk, 'Looked at');
  await draw(desk, 'Rectangle', [40, 40], [100, 80]);
  const odile = await product.window(browser, 'Odile Marram');
  await odile
    .getByRole('link', { name: /Looked at/ })
    .first()
    .click();
  await expect(thing(odile)).toHaveCount(1);
  await expect(rail(odile)).toHaveCount(0);
  await drag(odile, [70, 40], [120, 90]);
  await expect(field(odile, 'Across')).toHaveValue('40');
  await expect(field(odile, 'Across')).toBeDisabled();
  await odile.keyboard.press('Delete');
  await expect(thing(odile)).toHaveCount(1);
  await expectAccessible(odile);
});

test('an object goes from a report onto a sheet, and from a sheet into a report, with a tether of its own', async ({
  report,
}) => {
  await report.context().grantPermissions(['clipboard-read', 'clipboard-write']);
  await cleat(report, 'Boardwalk piles as driven').click();
  await report.keyboard.press('Control+c');
  await report.getByRole('link', { name: 'Desk', exact: true }).click();
  await newDrawing(report, 'From a report');
  await sheet(report).focus();
  await report.keyboard.press('Control+v');
  const table = sheet(report).getByRole('table', { name: 'Boardwalk piles as driven' });
  await expect(table.first()).toContainText('P-10');
  await expect(header(report)).toContainText('1 in step');
  await field(report, 'Name').fill('Piles of the sheet');
  await field(report, 'Name').press('Enter');
  await expect(header(report)).toContainText('Saved');

  await sheet(report).focus();
  await report.keyboard.press('Control+c');
  await report.getByRole('link', { name: 'Desk', exact: true }).click();
  await openReport(report);
  await text(report).getByText('Ten piles stand').click();
  await report.keyboard.press('End');
  await report.keyboard.press('Control+v');
  await expect(placed(report, 'Piles of the sheet')).toContainText('P-10');
  await expect(header(report)).toContainText('3 in step');
});
