import { expect, expectAccessible, header, type Page, test, text } from '../fixtures.ts';

const saved = (page: Page) => expect(header(page)).toContainText('Saved');
const rail = (page: Page) => page.getByRole('toolbar', { name: 'Text' });

/** Takes something out of one of the menus of the rail. */
async function choose(page: Page, menu: string, item: RegExp | string): Promise<void> {
  await rail(page).getByRole('button', { name: menu }).click();
  await page.getByRole('menuitem', { name: item }).click();
  // The menu gives the focus back a frame later: who types before that types nowhere.
  await expect(text(page)).toBeFocused();
}

/** Where the caret of an editor stands. */
interface Head {
  pos: number;
  depth: number;
}
interface Sized {
  content: { size: number };
}

/** Where the cursor stands: the words of its line. */
const lineOfCursor = (page: Page) =>
  page.evaluate(
    () => document.getSelection()?.anchorNode?.parentElement?.closest('p, h1')?.textContent,
  );

test('a click sets the cursor, whatever is written elsewhere in that moment', async ({
  report,
}) => {
  const lines = ['Decking starts when', 'Sallow Creek saltmarsh'];
  for (const [nth, words] of lines.entries()) {
    const line = text(report).getByText(words);
    // Words come in after the press and before the browser tells of the cursor: as from a colleague.
    await report.evaluate(() => {
      const dom = document.querySelector('.paper-text') as unknown as HTMLElement & {
        editor: {
          state: { tr: { insertText(words: string, at: number): unknown } };
          view: { dispatch(change: unknown): void };
        };
      };
      const { port1, port2 } = new MessageChannel();
      port1.onmessage = () => {
        const { view, state } = dom.editor;
        view.dispatch(state.tr.insertText('New: ', 1));
        dom.dataset.came = 'yes';
      };
      dom.dataset.came = 'not yet';
      dom.addEventListener('mousedown', () => port2.postMessage(0), { once: true });
    });
    await line.hover();
    await report.mouse.down();
    // Held, as a hand does; and let go at once.
    if (nth === 0) await expect(text(report)).toHaveAttribute('data-came', 'yes');
    await report.mouse.up();
    await expect(text(report)).toHaveAttribute('data-came', 'yes');
    expect(await lineOfCursor(report)).toContain(words);
    await report.keyboard.type('Here.');
    await expect(line).toContainText('Here.');
  }
});

test('a press on the paper beside or below the text puts the cursor into the nearest line', async ({
  report,
}) => {
  const line = text(report).getByText('Decking starts when');
  await line.scrollIntoViewIfNeeded();
  const { x, y, width, height } = (await line.boundingBox())!;
  // In the left margin: the line begins there. In the right one: it ends there.
  await report.mouse.click(x - 40, y + 8);
  await expect(text(report)).toBeFocused();
  await report.keyboard.type('So: ');
  await expect(line).toHaveText(/^So: Decking/);
  await report.mouse.click(x + width + 40, y + height - 6);
  await report.keyboard.type(' Indeed.');
  await expect(line).toHaveText(/ Indeed\.$/);
  // With Shift, what lies between is marked.
  await report.mouse.click(x - 40, y + 8);
  await report.keyboard.down('Shift');
  const grown = (await line.boundingBox())!;
  await report.mouse.click(x + width + 40, grown.y + grown.height - 6);
  await report.keyboard.up('Shift');
  expect(await report.evaluate(() => String(document.getSelection()))).toMatch(
    /^So: .* Indeed\.$/s,
  );
  // Far below the last line, the text is written on.
  const sheet = report.locator('.sheet').last();
  const size = (await sheet.boundingBox())!;
  await sheet.click({ position: { x: size.width / 2, y: size.height - 30 } });
  await report.keyboard.type(' The end.');
  await expect(text(report)).toContainText(/ The end\.$/);
});

test('letters, sides, quotations and signs are set, kept and undone', async ({ report }) => {
  const line = text(report).getByText('Decking starts when');
  await line.click();
  // The press has to be over before the keys count from where it set the cursor.
  await expect(text(report)).toBeFocused();
  // The editor hears of a moved caret a little later than the page: what counts is where it has it.
  const isAtEnd = () =>
    report.evaluate(() => {
      const { editor } = document.querySelector('.paper-text') as unknown as {
        editor: { state: { doc: Sized; selection: { $head: Head; empty: boolean } } };
      };
      const { $head, empty } = editor.state.selection;
      return empty && $head.pos + $head.depth === editor.state.doc.content.size;
    });
  await expect(async () => {
    await report.keyboard.press('Control+End');
    expect(await isAtEnd()).toBe(true);
  }).toPass();
  await report.keyboard.press('Enter');
  await report.keyboard.type('CO');
  await choose(report, 'Underlined, struck out, small letters', /Below the line/);
  await report.keyboard.type('2');
  await choose(report, 'Underlined, struck out, small letters', /Below the line/);
  await report.keyboard.type(' at 12');
  await choose(report, 'Signs: dashes, spaces, units', /narrow space/);
  await choose(report, 'Signs: dashes, spaces, units', /degree/);
  await report.keyboard.type('C over 4 m');
  await choose(report, 'Underlined, struck out, small letters', /Above the line/);
  await report.keyboard.type('2');
  const own = text(report).locator('p', { hasText: 'CO2' });
  await expect(own).toHaveText('CO2 at 12\u202f°C over 4 m2');
  await expect(own.locator('sub')).toHaveText('2');
  await expect(own.locator('sup')).toHaveText('2');

  await choose(report, 'Side of the lines', 'In the middle');
  await expect(own).toHaveCSS('text-align', 'center');
  await rail(report).getByRole('button', { name: 'Side of the lines' }).click();
  await expect(report.getByRole('menuitem', { name: 'In the middle , on' })).toBeVisible();
  await expectAccessible(report);
  await report.keyboard.press('Escape');
  await rail(report).getByRole('button', { name: 'Quotation' }).click();
  await expect(text(report).locator('blockquote')).toContainText('CO2');
  await saved(report);
  await report.reload();
  await expect(text(report).locator('blockquote p')).toHaveCSS('text-align', 'center');
  await expect(text(report).locator('blockquote sup')).toHaveText('2');
});

test('words lead to an address, which is opened, changed and taken off', async ({ report }) => {
  const link = text(report).getByRole('link');
  const field = report.getByLabel('Address', { exact: true });
  await text(report).getByText('Decking starts when').click({ clickCount: 3 });
  await rail(report).getByRole('button', { name: 'Link' }).click();
  await field.fill('marsh.example/tides');
  await expectAccessible(report);
  await field.press('Enter');
  await expect(link).toHaveAttribute('href', 'https://marsh.example/tides');
  await saved(report);

  // Nothing but what leads somewhere harmless becomes a link.
  await rail(report).getByRole('button', { name: 'Link' }).click();
  await field.fill('javascript:alert(1)');
  await field.press('Enter');
  await expect(report.getByRole('alert')).toContainText('Words cannot lead to this.');
  await expectAccessible(report);
  await field.press('Escape');
  await expect(link).toHaveAttribute('href', 'https://marsh.example/tides');

  await rail(report).getByRole('button', { name: 'Link' }).click();
  await expect(field).toHaveValue('https://marsh.example/tides');
  await report.getByRole('button', { name: 'Take it off' }).click();
  await expect(link).toHaveCount(0);
  await report.getByRole('button', { name: 'Undo' }).click();
  await expect(link).toHaveCount(1);
});

test('the contents list headings with their pages, and a page begins where somebody wishes', async ({
  report,
}) => {
  await text(report).getByText('Sallow Creek saltmarsh').click();
  await choose(report, 'Contents, footnote, page', /^Contents/);
  const contents = text(report).getByRole('navigation', { name: 'Contents' });
  const entry = (words: string) => contents.getByRole('listitem').filter({ hasText: words });
  await expect(entry('Planting and survival')).toHaveText(/1$/);
  await expect(report.locator('.sheet')).toHaveCount(2);
  await report.keyboard.type('Before the page ends.');
  await choose(report, 'Contents, footnote, page', 'Begin a page');
  await expect(entry('Planting and survival')).toHaveText(/2$/);
  await expect(text(report).getByRole('heading', { name: 'Planting and survival' })).toHaveClass(
    /begins-page/,
  );
  await expectAccessible(report);
  await contents.getByRole('button', { name: 'Boardwalk' }).click();
  await expect(text(report).getByRole('heading', { name: 'Boardwalk' })).toBeInViewport();
  await report.keyboard.type(' and decking');
  await expect(entry('Boardwalk and decking')).toBeVisible();
  await saved(report);

  // In print as on the screen, without the sign that a page ends.
  const sheets = await report.locator('.sheet').count();
  await header(report).getByRole('link', { name: 'Print' }).click();
  await expect(report.getByRole('status').filter({ hasText: `${sheets} pages` })).toBeVisible();
  await expect(report.locator('.page-break')).toBeHidden();
  await expect(report.getByRole('heading', { name: 'Planting and survival' })).toHaveClass(
    /begins-page/,
  );
});

test('words are found, also in captions, and replaced one by one or all at once', async ({
  report,
}) => {
  await rail(report).getByRole('button', { name: 'Find and replace' }).click();
  const bar = report.getByRole('search', { name: 'Find and replace' });
  await bar.getByLabel('Find', { exact: true }).fill('creek');
  await expect(bar.getByRole('status')).toHaveText('1 of 4');
  await expect(text(report).locator('.found')).toHaveCount(4);
  await expectAccessible(report);
  await report.keyboard.press('Enter');
  await expect(bar.getByRole('status')).toHaveText('2 of 4');
  await bar.getByLabel('Replace with').fill('brook');
  await bar.getByRole('button', { name: 'Replace it' }).click();
  await expect(bar.getByRole('status')).toHaveText('2 of 3');
  await bar.getByRole('button', { name: 'Replace all 3' }).click();
  await expect(bar.getByRole('status')).toHaveText('Not found');
  await expect(text(report).getByText('brook')).toHaveCount(3);
  // Each of the two was one step.
  await report.getByRole('button', { name: 'Undo' }).click();
  await expect(bar.getByRole('status')).toContainText('of 3');
  await report.getByRole('button', { name: 'Undo' }).click();
  await expect(bar.getByRole('status')).toContainText('of 4');
  await bar.getByRole('button', { name: 'Close find and replace' }).click();
  await expect(bar).toHaveCount(0);
  await expect(text(report).locator('.found')).toHaveCount(0);
});

test('a table of one’s own is put in, filled by Tab, changed and kept', async ({ report }) => {
  await text(report).getByText('Decking starts when').click();
  await report.keyboard.press('Control+End');
  await rail(report).getByRole('button', { name: 'A table of your own' }).click();
  const box = report.getByRole('dialog');
  await box.getByLabel('Columns').fill('0');
  await expect(box.getByRole('button', { name: 'Put it in' })).toBeDisabled();
  await box.getByLabel('Columns').fill('2');
  await box.getByLabel('Rows').fill('2');
  await expectAccessible(report);
  await box.getByLabel('Rows').press('Enter');
  const own = text(report).locator('.fixed-table');
  await expect(own.locator('th')).toHaveCount(2);
  await report.keyboard.type('Plot');
  await report.keyboard.press('Tab');
  await report.keyboard.type('Depth');
  await report.keyboard.press('Tab');
  await report.keyboard.type('North');
  await report.keyboard.press('Tab');
  await report.keyboard.type('12.5');
  // At the end Tab makes a row.
  await report.keyboard.press('Tab');
  await report.keyboard.type('South');
  await report.keyboard.press('Tab');
  await report.keyboard.type('9.25');
  await expect(own.locator('tr')).toHaveCount(3);
  await choose(report, 'This table', 'Figures of this column at its right side');
  await expect(own.getByText('12.5')).toHaveCSS('text-align', 'right');
  await expect(own.getByText('Depth')).not.toHaveCSS('text-align', 'right');
  await choose(report, 'This table', 'A column at the left');
  await expect(own.locator('th')).toHaveCount(3);
  await choose(report, 'This table', 'A row above');
  await expect(own.locator('tr')).toHaveCount(4);
  await choose(report, 'This table', 'Take out this row');
  await expect(own).not.toContainText('South');
  await report.keyboard.press('Control+z');
  await expect(own).toContainText('South');
  // Two cells of the header are marked and merged.
  await own.getByText('Plot').hover();
  await report.mouse.down();
  await own.getByText('Depth').hover();
  await report.mouse.up();
  await expect(own.locator('.selectedCell')).toHaveCount(3);
  await choose(report, 'This table', 'Merge the marked cells');
  await expect(own.locator('th[colspan="3"]')).toHaveText('PlotDepth');
  await saved(report);
  await report.reload();
  await expect(own.locator('th[colspan="3"]')).toHaveText('PlotDepth');
  await expect(own.getByText('9.25')).toHaveCSS('text-align', 'right');
});

test('a picture is chosen, said what it shows, made smaller and kept', async ({
  report,
  product,
}) => {
  const drawing = (inner: string) =>
    `<svg xmlns="http://www.w3.org/2000/svg" width="400" height="200">${inner}</svg>`;
  const choosePicture = (name: string, bytes: string) =>
    report
      .getByLabel('Pictures to take in')
      .setInputFiles({ name, mimeType: 'image/svg+xml', buffer: Buffer.from(bytes) });
  await text(report).getByText('Decking starts when').click();
  await report.keyboard.press('Control+End');
  // What is no drawing in it stays out.
  await choosePicture(
    'plan.svg',
    drawing('<script>alert(1)</script><rect width="400" height="200" fill="#1f6f78"/>'),
  );
  const picture = text(report).locator('.picture');
  await expect(picture.locator('img')).toHaveJSProperty('naturalWidth', 400);
  const field = picture.getByLabel('What it shows');
  await expect(field).toBeFocused();
  await report.keyboard.type('Plan of the saltings');
  await expectAccessible(report);
  await report.keyboard.press('Enter');
  await expect(picture.getByRole('img', { name: 'Plan of the saltings' })).toBeVisible();
  // The cursor stands behind it.
  await report.keyboard.type('As seen from the dyke');
  await expect(text(report).getByText('As seen from the dyke')).toBeVisible();
  // A selected picture is not written over.
  await picture.locator('img').click();
  await expect(field).toBeVisible();
  await report.keyboard.type('!');
  await expect(field).toHaveCount(0);
  await expect(picture).toHaveCount(1);

  // Elsewhere first: two clicks at one place are a double one.
  await text(report).getByText('As seen from the dyke').click();
  await picture.locator('img').click();
  await expect(field).toBeVisible();
  const box = (await picture.locator('img').boundingBox())!;
  await report.mouse.move(box.x + box.width + 2, box.y + box.height + 2);
  await report.mouse.down();
  await report.mouse.move(box.x + box.width / 2, box.y + box.height / 2, { steps: 4 });
  await report.mouse.up();
  await expect
    .poll(async () => (await picture.locator('img').boundingBox())!.width)
    .toBeLessThan(box.width * 0.7);
  await saved(report);

  // Its caption is numbered among the figures, listed, and goes with it.
  await picture.getByRole('button', { name: 'Caption' }).click();
  await report.keyboard.type('The saltings from the dyke');
  const figure = text(report).locator('figure.captioned');
  await expect(figure.locator('figcaption')).toHaveAttribute('data-name', 'Figure 1');
  await choose(report, 'Contents, footnote, page', /List of tables/);
  const list = text(report).getByRole('navigation', { name: 'List of tables and figures' });
  await expect(list).toContainText('Figure 1. The saltings from the dyke');
  await expect(list.getByRole('listitem')).toContainText(/\d$/);
  await figure.locator('img').click();
  await report.keyboard.press('ControlOrMeta+c');
  await text(report).getByText('As seen from the dyke').click();
  await report.keyboard.press('Control+End');
  await report.keyboard.press('ControlOrMeta+v');
  await expect(figure.nth(1).locator('figcaption')).toHaveAttribute('data-name', 'Figure 2');
  await report.keyboard.press('ControlOrMeta+z');
  await expect(figure).toHaveCount(1);
  await saved(report);

  await choosePicture('words.svg', 'only words');
  await expect(report.getByText('This is no picture that a document can hold.')).toBeVisible();
  await report.getByRole('button', { name: 'Close', exact: true }).click();

  await report.reload();
  await expect(picture.getByRole('img', { name: 'Plan of the saltings' })).toBeVisible();
  const sent = await report.request.get(
    new URL((await picture.locator('img').getAttribute('src'))!, product.address).href,
  );
  expect(await sent.text()).not.toContain('script');
});
