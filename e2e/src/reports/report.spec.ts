import type { Page, WebSocketRoute } from '@playwright/test';
import {
  choice,
  cleat,
  expect,
  expectAccessible,
  header,
  openPlace,
  openReport,
  placed,
  test,
  text,
  unfold,
} from '../fixtures.ts';

const saved = (page: Page) => expect(header(page)).toContainText('Saved');

/** Lets the connection over which a page writes be cut and mended; for pages that are opened from now on. */
async function cuttable(page: Page): Promise<{ cut(): Promise<void>; mend(): void }> {
  let isCut = false;
  const open = new Set<WebSocketRoute>();
  await page.routeWebSocket(/\/writing$/, async (socket) => {
    if (isCut) {
      await socket.close();
      return;
    }
    socket.connectToServer();
    open.add(socket);
  });
  return {
    cut: async () => {
      isCut = true;
      for (const socket of open) await socket.close();
      open.clear();
    },
    mend: () => {
      isCut = false;
    },
  };
}

async function typeAtTheEnd(page: Page, words: string): Promise<void> {
  await text(page).getByText('Decking starts when').click();
  // The end of the text, not of a line, which moves as the text grows.
  await page.keyboard.press('Control+End');
  await page.keyboard.type(` ${words}`);
}

test('text is formed, saved by itself and taken back', async ({ report }) => {
  await typeAtTheEnd(report, 'Signed off.');
  const rail = report.getByRole('toolbar', { name: 'Text' });
  await report.keyboard.press('Enter');
  await report.keyboard.type('Next steps');
  await rail.getByRole('button', { name: 'Heading 2' }).click();
  await expect(text(report).getByRole('heading', { name: 'Next steps', level: 2 })).toBeVisible();
  await report.keyboard.press('Enter');
  await rail.getByRole('button', { name: 'Numbers' }).click();
  await report.keyboard.type('Count again in spring');
  await rail.getByRole('button', { name: 'Bold' }).click();
  await report.keyboard.type(' in every plot');
  await expect(text(report).locator('ol strong')).toHaveText(' in every plot');
  await saved(report);
  await report.reload();
  await expect(text(report).locator('ol li')).toHaveText('Count again in spring in every plot');
  await expect(text(report)).toContainText('Signed off.');

  // Undo right after writing.
  await text(report).getByText('Count again').click();
  await report.keyboard.press('End');
  await report.keyboard.type(' and tell the trustees');
  await rail.getByRole('button', { name: 'Undo' }).click();
  await expect(text(report)).not.toContainText('tell the trustees');
  await rail.getByRole('button', { name: 'Redo' }).click();
  await expect(text(report)).toContainText('tell the trustees');
});

test('the rail is one stop for the Tab key and the arrows go along it', async ({ report }) => {
  const rail = report.getByRole('toolbar', { name: 'Text' });
  await rail.getByRole('button', { name: 'Paragraph' }).focus();
  await report.keyboard.press('ArrowDown');
  await expect(rail.getByRole('button', { name: 'Heading 1' })).toBeFocused();
  await report.keyboard.press('ArrowUp');
  await expect(rail.getByRole('button', { name: 'Paragraph' })).toBeFocused();
});

test('objects are copied, moved, taken out and brought back', async ({ report }) => {
  await cleat(report, 'Planting counts by plot').click();
  const panel = report.getByRole('complementary');
  await panel.getByRole('button', { name: 'Place a copy' }).click();
  await expect(placed(report, 'Planting counts by plot')).toHaveCount(2);
  await expect(header(report)).toContainText('3 in step');
  await saved(report);

  await cleat(report, 'Boardwalk piles as driven').click();
  await panel.getByRole('button', { name: 'Remove from the document' }).click();
  await expect(placed(report, 'Boardwalk piles as driven')).toHaveCount(0);
  await expect(header(report)).toContainText('2 in step');
  await report.getByRole('button', { name: 'Undo' }).click();
  await expect(placed(report, 'Boardwalk piles as driven')).toBeVisible();
  await expect(header(report)).toContainText('3 in step');

  const before = () =>
    placed(report, 'Boardwalk piles as driven').evaluate((table) => {
      const block = table.closest('.react-renderer')!;
      return block.previousElementSibling?.textContent ?? '';
    });
  expect(await before()).toContain('Ten piles stand.');
  await cleat(report, 'Boardwalk piles as driven').click();
  await panel.getByRole('button', { name: 'Move up' }).click();
  expect(await before()).toBe('Boardwalk');
  await panel.getByRole('button', { name: 'Move down' }).click();
  expect(await before()).toContain('Ten piles stand.');
  await saved(report);
});

test('an object cut and pasted is the same object; copied and pasted it gets its own tether', async ({
  report,
  browserName,
}) => {
  test.skip(browserName !== 'chromium', 'The clipboard is Chromium’s here.');
  await report.context().grantPermissions(['clipboard-read', 'clipboard-write']);
  const ids = () =>
    text(report)
      .locator('[data-tether-id]')
      .evaluateAll((all) => all.map((each) => each.getAttribute('data-tether-id')));
  const [first, second] = await ids();

  await cleat(report, 'Planting counts by plot').click();
  await report.keyboard.press('ControlOrMeta+x');
  await expect(placed(report, 'Planting counts by plot')).toHaveCount(0);
  await typeAtTheEnd(report, 'See above.');
  // Only when the words stand there has the editor followed the cursor to them.
  await expect(text(report)).toContainText('driven. See above.');
  await report.keyboard.press('ControlOrMeta+v');
  await expect(placed(report, 'Planting counts by plot')).toHaveCount(1);
  expect(await ids()).toEqual([second, first]);

  await cleat(report, 'Planting counts by plot').click();
  await report.keyboard.press('ControlOrMeta+c');
  await text(report).getByText('Sallow Creek saltmarsh').click();
  // The letter comes at once: it is meant for the words that were clicked, no longer for the object.
  await report.keyboard.type('!');
  await expect(text(report).getByText('Sallow Creek saltmarsh')).toContainText('!');
  await report.keyboard.press('ControlOrMeta+v');
  await expect(placed(report, 'Planting counts by plot')).toHaveCount(2);
  const [fresh, ...rest] = await ids();
  expect(rest).toEqual([second, first]);
  expect(fresh).not.toBe(first);
  await saved(report);
  await report.reload();
  await expect(header(report)).toContainText('3 in step');
});

test('two people write in one paragraph, one of them offline for a while, and nothing is lost', async ({
  product,
  report,
  browser,
}) => {
  const tam = await product.window(browser, 'Tam Reedsby');
  const line = await cuttable(tam);
  await openReport(tam);
  await expect(report.getByRole('list', { name: 'Also here' })).toContainText('Tam Reedsby');
  await expect(tam.getByRole('list', { name: 'Also here' })).toContainText('Ines Fallow');
  await typeAtTheEnd(tam, 'Tam one.');
  await expect(text(report)).toContainText('Tam one.');
  // Where he writes is seen, and is no part of the text.
  await expect(text(report).locator('.caret[data-name="Tam Reedsby"]')).toHaveCount(1);
  await expectAccessible(report);

  await line.cut();
  await typeAtTheEnd(tam, 'Tam two.');
  await expect(header(tam)).toContainText('Not saved yet');
  await typeAtTheEnd(report, 'Ines one.');
  await saved(report);
  await expect(text(tam)).toContainText('Tam two.');
  expect(await text(tam).textContent()).not.toContain('Ines one.');
  await expect(report.getByRole('list', { name: 'Also here' })).toHaveCount(0);

  line.mend();
  for (const page of [report, tam]) {
    for (const words of ['Tam one.', 'Tam two.', 'Ines one.']) {
      await expect(text(page)).toContainText(words);
    }
    await saved(page);
  }
  expect(await text(report).textContent()).toBe(await text(tam).textContent());

  // Each takes back what was their own.
  await report.keyboard.press('ControlOrMeta+z');
  await expect(text(tam)).not.toContainText('Ines one.');
  await expect(text(tam)).toContainText('Tam two.');
  await tam.keyboard.press('ControlOrMeta+z');
  await expect(text(report)).not.toContainText('Tam two.');
  await expect(text(report)).toContainText('Tam one.');
  await tam.context().close();
});

test('an object is placed, dressed and refreshed while somebody else writes and moves it', async ({
  product,
  report,
  browser,
}) => {
  const tam = await product.window(browser, 'Tam Reedsby');
  const line = await cuttable(tam);
  await openReport(tam);
  await line.cut();
  // Offline he moves it; meanwhile she lets it fit the page.
  await cleat(tam, 'Boardwalk piles as driven').click();
  await tam.getByRole('complementary').getByRole('button', { name: 'Move up' }).click();
  await cleat(report, 'Boardwalk piles as driven').click();
  const panel = report.getByRole('complementary');
  await unfold(panel, 'More on its look');
  await choice(panel, 'Column width', 'fit the page').click();
  await saved(report);
  await typeAtTheEnd(report, 'Meanwhile.');
  line.mend();
  await saved(tam);
  const before = (page: Page) =>
    placed(page, 'Boardwalk piles as driven')
      .first()
      .evaluate((table) => {
        const block = table.closest('.react-renderer')!;
        return block.previousElementSibling?.textContent ?? '';
      });
  for (const page of [report, tam]) {
    await expect.poll(() => before(page)).toBe('Boardwalk');
    await expect(cleat(page, 'Boardwalk piles as driven')).toHaveCount(1);
    await expect(text(page)).toContainText('Meanwhile.');
  }
  // The other width is there in the place that it was moved to.
  const width = (page: Page) =>
    placed(page, 'Boardwalk piles as driven')
      .first()
      .evaluate((table) => table.clientWidth);
  await expect.poll(async () => (await width(tam)) === (await width(report))).toBe(true);
  await expect(header(report)).toContainText('2 in step');
  await tam.context().close();
});

test('who writes in a paragraph that somebody else takes out is told, and can put it back', async ({
  product,
  report,
  browser,
}) => {
  const tam = await product.window(browser, 'Tam Reedsby');
  const line = await cuttable(tam);
  await openReport(tam);
  await line.cut();
  await text(tam).getByText('Ten piles stand').click();
  await tam.keyboard.press('End');
  await tam.keyboard.type(' Not before December.');
  await text(report).getByText('Ten piles stand').click({ clickCount: 3 });
  await report.keyboard.press('Delete');
  await report.keyboard.press('Backspace');
  await expect(text(report)).not.toContainText('Ten piles stand');
  await saved(report);
  line.mend();
  const told = tam.getByRole('alert').filter({ hasText: 'took out the paragraph' });
  await expect(told).toContainText('Not before December.');
  await expect(text(tam)).not.toContainText('Not before December.');
  await expectAccessible(tam);
  await told.getByRole('button', { name: 'Put it back' }).click();
  await expect(told).toHaveCount(0);
  await expect(text(report)).toContainText('Not before December.');
  // Who took it out wrote nothing in it, and is told nothing.
  await expect(report.getByRole('alert')).toHaveCount(0);
  await tam.context().close();
});

test('both move one object at the same time, and it is there once', async ({
  product,
  report,
  browser,
}) => {
  const tam = await product.window(browser, 'Tam Reedsby');
  const line = await cuttable(tam);
  await openReport(tam);
  await line.cut();
  for (const [page, way] of [
    [tam, 'Move up'],
    [report, 'Move down'],
  ] as const) {
    await cleat(page, 'Boardwalk piles as driven').click();
    await page.getByRole('complementary').getByRole('button', { name: way }).click();
  }
  await saved(report);
  line.mend();
  for (const page of [report, tam]) {
    await expect(text(page).locator('.placed-object')).toHaveCount(2);
    await expect(cleat(page, 'Boardwalk piles as driven')).toHaveCount(1);
    await expect(header(page)).toContainText('2 in step');
    await saved(page);
  }
  // What is far from the screen is drawn a little later, in each window at its own time.
  await expect
    .poll(async () => (await text(report).textContent()) === (await text(tam).textContent()))
    .toBe(true);
  await tam.context().close();
});

test('a state of the text is kept, looked at and brought back as a step', async ({ report }) => {
  await typeAtTheEnd(report, 'First thoughts.');
  const panel = report.getByRole('complementary');
  await panel.getByRole('button', { name: 'Keep it as it is now' }).click();
  await expect(panel.getByRole('button', { name: /by Ines Fallow/ })).toBeVisible();
  await text(report).getByText('Decking starts when').click();
  await report.keyboard.press('ControlOrMeta+a');
  await report.keyboard.press('Delete');
  await expect(header(report)).toContainText('No objects placed yet');
  await panel.getByRole('button', { name: /by Ines Fallow/ }).click();
  const kept = report.getByRole('dialog', { name: 'Text of Ines Fallow' });
  await expect(kept.getByLabel('What it said')).toContainText('First thoughts.');
  await kept.getByRole('radio', { name: 'what changed since' }).click();
  const since = kept.getByLabel('What changed since');
  await expect(since.locator('del', { hasText: 'First thoughts.' })).toBeVisible();
  await expect(since).toContainText('[Planting counts by plot, as a table]');
  await expectAccessible(report);
  await kept.getByRole('button', { name: 'Bring it back' }).click();
  await expect(text(report)).toContainText('First thoughts.');
  await expect(header(report)).toContainText('2 in step');
  await report.getByRole('button', { name: 'Undo' }).click();
  await expect(text(report)).not.toContainText('First thoughts.');
  await report.getByRole('button', { name: 'Redo' }).click();
  await expect(text(report)).toContainText('First thoughts.');
  await saved(report);
});

test('a colleague’s save leaves the cursor where one writes, and the undo of theirs alone', async ({
  product,
  report,
  browser,
}) => {
  const tam = await product.window(browser, 'Tam Reedsby');
  await openReport(tam);
  const line = text(report).getByText('Decking starts when');
  await line.click({ position: { x: 2, y: 8 } });
  await report.keyboard.press('Home');
  await text(tam).getByText('Sallow Creek saltmarsh').click();
  await tam.keyboard.press('End');
  await tam.keyboard.press('Enter');
  await tam.keyboard.type('Tam was here.');
  await saved(tam);
  await expect(text(report)).toContainText('Tam was here.');
  await report.keyboard.type('Ines: ');
  await expect(text(report).getByText(/^Ines: Decking starts when/)).toBeVisible();
  await saved(report);
  // Tam’s screen shows it too; what he undoes is not her line.
  await expect(text(tam)).toContainText('Ines: Decking starts when');
  await tam.keyboard.press('Control+z');
  await expect(text(tam)).toContainText('Ines: Decking starts when');
  await expect(text(report)).toContainText('Ines: Decking starts when');
  await tam.context().close();
});

test('writing goes on behind what was placed, and a selected object takes no letters', async ({
  report,
}) => {
  await text(report).getByText('Decking starts when').click();
  const place = await openPlace(report);
  await place.getByLabel('Cells', { exact: true }).fill('A4:D8');
  await place.getByLabel('Name', { exact: true }).fill('Five plots');
  await place.getByRole('button', { name: 'Place it' }).click();
  await expect(placed(report, 'Five plots')).toBeVisible();
  await expect(text(report)).toBeFocused();
  await report.keyboard.type('Written behind it.');
  await expect(report.getByRole('dialog')).toHaveCount(0);
  const order = await text(report).evaluate((root) =>
    [...root.children].map((each) =>
      each.querySelector('table') ? 'table' : (each.textContent ?? ''),
    ),
  );
  const at = order.findIndex((each) => each === 'Written behind it.');
  expect(order.slice(at - 2, at)).toEqual([
    expect.stringContaining('Decking starts when'),
    'table',
  ]);

  // A press on a cell selects the object; letters do not take its place.
  await placed(report, 'Five plots').getByRole('cell', { name: 'SC-02' }).click();
  await report.keyboard.type('x');
  await expect(report.getByText('Nothing was typed over “Five plots”')).toBeVisible();
  await expect(placed(report, 'Five plots')).toContainText('SC-02');
  await expectAccessible(report);
  await report.keyboard.press('Enter');
  await report.keyboard.type('Then: ');
  await expect(text(report).getByText('Then:', { exact: true })).toBeVisible();
  await expect(placed(report, 'Five plots')).toContainText('SC-02');
  await expect(report.getByText('Nothing was typed over')).toHaveCount(0);

  // What is pasted comes behind it too.
  await report.context().grantPermissions(['clipboard-read', 'clipboard-write']);
  await report.evaluate(() => navigator.clipboard.writeText('Out of a letter.'));
  await placed(report, 'Five plots').getByRole('cell', { name: 'SC-02' }).click();
  await report.keyboard.press('Control+v');
  await expect(text(report)).toContainText('Out of a letter.');
  await expect(placed(report, 'Five plots')).toContainText('SC-02');
});

test('a text with something unknown in it can be looked at and is not saved over', async ({
  product,
  desk,
}) => {
  await product.query(
    `update documents set content = jsonb_insert(content, '{content,1}',
      '{"type": "hologram", "content": [{"type": "text", "text": "Light"}]}')`,
  );
  const stored = async () => {
    const [{ id }] = await (await desk.request.get(`${product.address}/api/documents`)).json();
    return (await desk.request.get(`${product.address}/api/documents/${id}`)).json();
  };
  const before = await stored();
  expect(JSON.stringify(before.content)).toContain('hologram');
  await desk.reload();
  await desk.getByRole('link', { name: 'Autumn monitoring report' }).first().click();
  await expect(desk.getByRole('alert')).toContainText('not known here: “hologram”');
  await expect(text(desk)).toContainText('[hologram]');
  await expect(placed(desk, 'Planting counts by plot')).toBeVisible();
  await expect(header(desk).getByRole('button', { name: 'Place' })).toBeDisabled();
  await text(desk).getByText('Sallow Creek saltmarsh').click();
  await desk.keyboard.type('Over it. ');
  await expect(text(desk)).not.toContainText('Over it.');
  await expectAccessible(desk);
  await desk.getByRole('link', { name: 'Ledger' }).click();
  const after = await stored();
  expect([after.version, after.content]).toEqual([before.version, before.content]);
});

test('going to another page right after writing saves what was written', async ({ report }) => {
  await typeAtTheEnd(report, 'The last word.');
  await report.getByRole('link', { name: 'Desk', exact: true }).click();
  await openReport(report);
  await expect(text(report)).toContainText('The last word.');
  await saved(report);
  // Nothing of it stays in the browser once the server has it.
  await report.getByRole('link', { name: 'Desk', exact: true }).click();
  const left = async () => (await indexedDB.databases()).map(({ name }) => name);
  await expect.poll(() => report.evaluate(left)).toEqual([]);
});

test('coming back at once finds the text and goes on with it', async ({ report }) => {
  await typeAtTheEnd(report, 'The last word.');
  await report.getByRole('link', { name: 'Desk', exact: true }).click();
  await openReport(report);
  await expect(text(report)).toContainText('The last word.');
  await typeAtTheEnd(report, 'Or not.');
  await expect(text(report)).toContainText('Or not.');
  await saved(report);
  await expect(report.getByRole('alert')).toHaveCount(0);
  await report.reload();
  await expect(text(report)).toContainText('The last word. Or not.');
});

test('what a colleague saves appears while nothing unsaved is here', async ({
  product,
  report,
  browser,
}) => {
  const tam = await product.window(browser, 'Tam Reedsby');
  await openReport(tam);
  await expect(text(report).locator('.page-gap, .begins-page')).toHaveCount(1);
  await typeAtTheEnd(tam, 'Tam added this.');
  await expect(text(report)).toContainText('Tam added this.');
  // The text came in whole, and its pages with it.
  await expect(text(report).locator('.page-gap, .begins-page')).toHaveCount(1);
  await expect(report.locator('.sheet')).toHaveCount(2);
  await tam.context().close();
});

test('text that could not be saved comes back when the page is opened again', async ({
  report,
}) => {
  const line = await cuttable(report);
  await report.reload();
  await expect(text(report)).toBeVisible();
  await line.cut();
  await typeAtTheEnd(report, 'Written offline.');
  await expect(header(report)).toContainText('Not saved yet');
  report.on('dialog', (dialog) => void dialog.accept());
  line.mend();
  await report.reload();
  await expect(text(report)).toContainText('Written offline.');
  await saved(report);
  await report.reload();
  await expect(text(report)).toContainText('Written offline.');
});

test('a new report is made, named and filled', async ({ desk }) => {
  await desk.getByRole('button', { name: 'New document' }).click();
  await desk.getByLabel('Name of the new document').fill('Winter notes');
  await desk.getByRole('button', { name: 'Create it' }).click();
  await expect(header(desk)).toContainText('No objects placed yet');
  await expect(text(desk).getByRole('heading', { name: 'Winter notes' })).toBeVisible();
  await desk.getByLabel('Name of the document').fill('Winter count');
  await desk.getByLabel('Name of the document').press('Enter');
  await desk.getByRole('link', { name: 'Desk', exact: true }).click();
  await expect(desk.getByRole('link', { name: /Winter count/ })).toBeVisible();
});

test('who may only look sees everything and can change nothing', async ({ product, browser }) => {
  const page = await product.window(browser, 'Odile Marram');
  await expect(page.getByRole('button', { name: 'New document' })).toBeDisabled();
  await openReport(page);
  await expect(header(page).getByRole('button', { name: 'Place' })).toBeDisabled();
  await expect(text(page)).toHaveAttribute('contenteditable', 'false');
  await cleat(page, 'Planting counts by plot').click();
  await expect(page.getByRole('complementary')).toContainText('planting-counts.xlsx');
  await page.context().close();
});
