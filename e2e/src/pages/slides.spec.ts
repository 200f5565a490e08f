import { readFile } from 'node:fs/promises';
import type { Locator } from '@playwright/test';
import { setCell } from '@tether/demo';
import { DOMParser } from '@xmldom/xmldom';
import { strFromU8, unzipSync } from 'fflate';
import {
  expect,
  expectAccessible,
  header,
  openPlace,
  type Page,
  poppler,
  printedFile,
  savedPages,
  test,
} from '../fixtures.ts';

const canvas = (page: Page): Locator => page.getByRole('application', { name: /^Page of/ });
const overview = (page: Page): Locator => page.getByRole('navigation', { name: 'Slides' });

/** Makes a deck of an opening and a slide with the planting counts. */
async function deckOfTwo(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'New document' }).click();
  await page.getByLabel('Kind').selectOption({ label: 'slides' });
  await page.getByLabel('Name of the new document').fill('Briefing');
  await page.getByRole('button', { name: 'Create it' }).click();
  await expect(canvas(page)).toContainText('Briefing');
  await addSlide(page, 'A title, and words below it');
  await write(page, 'Title', 'What was planted');
  const place = await openPlace(page);
  await place
    .getByRole('button', { name: /^PlotCounts/ })
    .last()
    .click();
  await place.getByRole('button', { name: 'Place it' }).click();
  await expect(canvas(page).getByRole('table', { name: 'PlotCounts' }).first()).toContainText(
    'SC-04',
  );
}

async function addSlide(page: Page, arrangement: string): Promise<void> {
  await page.getByRole('button', { name: 'New slide' }).click();
  await page.getByRole('button', { name: arrangement }).click();
}

/** Writes into a text that nobody has written yet. */
async function write(page: Page, empty: string, words: string): Promise<void> {
  await canvas(page).getByText(empty, { exact: true }).first().dblclick();
  await page.keyboard.type(words);
  await page.keyboard.press('Control+Enter');
  await expect(canvas(page)).toContainText(words);
}

/** Keeps a page from doing anything for a while, as a slow machine does; keys that are pressed meanwhile wait. */
async function busyFor(page: Page, ms: number): Promise<void> {
  await page.evaluate((long) => {
    setTimeout(() => {
      const end = performance.now() + long;
      while (performance.now() < end);
    });
  }, ms);
}

/** Makes a deck of so many slides, each with its number as its title, and opens it. */
async function longDeck(page: Page, count: number): Promise<void> {
  const at = new URL('/api/documents', page.url()).href;
  const { request } = page.context();
  const made = await request.post(at, { data: { kind: 'slides', name: 'A long deck' } });
  const { id, version, content } = (await made.json()) as {
    id: string;
    version: number;
    content: object;
  };
  const ids = Array.from({ length: count }, () => crypto.randomUUID());
  const pages = ids.map((slide, order) => ({
    ...{ id: slide, order, arrangement: 'title and words', notes: '' },
  }));
  const things = ids.map((slide, order) => ({
    ...{ id: crypto.randomUUID(), page: slide, kind: 'text', order, x: 16, y: 12 },
    ...{ width: 222, height: 16, role: 'title', letters: 7, text: `Number ${order + 1}` },
  }));
  await request.put(`${at}/${id}/content`, {
    data: { version, content: { ...content, pages, things } },
  });
  await page.goto(new URL(`/documents/${id}`, page.url()).href);
  await expect(canvas(page)).toContainText('Number 1');
}

test('a long deck draws what is seen of it; every slide is reached, and moved as far as one likes', async ({
  desk,
}) => {
  await longDeck(desk, 40);
  const slides = overview(desk).getByRole('listitem');
  const button = (name: string) => overview(desk).getByRole('button', { name, exact: true });
  await expect(slides).toHaveCount(40);
  await expect(slides.first()).toContainText('Number 1');
  await expect(slides.last()).not.toContainText('Number 40');
  await expect(button('Move slide 40')).toHaveCount(0);
  // Whoever comes from behind, with Shift and Tab, finds the last slide, and what it is moved by.
  await desk.getByRole('button', { name: 'New slide' }).focus();
  await desk.keyboard.press('Shift+Tab');
  await expect(button('Slide 40')).toBeFocused();
  await expect(slides.last()).toContainText('Number 40');
  await desk.keyboard.press('Shift+Tab');
  await desk.keyboard.press('Shift+Tab');
  await expect(button('Move slide 40')).toBeFocused();
  await expectAccessible(desk);
  await desk.keyboard.press('Home');
  await expect(button('Move slide 1')).toBeFocused();
  await expect(slides.first()).toContainText('Number 40');
  await expect(slides.first()).toBeInViewport();
  await desk.keyboard.press('Control+z');
  await expect(slides.first()).not.toContainText('Number 40');

  // Dragged to the lower edge, the list scrolls to its end and no further; the slide stays in the hand until then.
  const list = overview(desk).getByRole('list');
  await button('Move slide 2').hover();
  const grip = (await button('Move slide 2').boundingBox())!;
  const edge = (await overview(desk).boundingBox())!;
  const lowest = edge.y + edge.height - 12;
  await desk.mouse.down();
  await desk.mouse.move(grip.x + 8, lowest, { steps: 12 });
  const endOfList = () => list.evaluate((element) => element.getBoundingClientRect().bottom);
  await expect.poll(endOfList).toBeLessThan(edge.y + edge.height + 12);
  await expect(slides.nth(39)).toHaveAttribute('style', /translate3d/);
  expect(await endOfList()).toBeGreaterThan(lowest - 12);
  await desk.mouse.move(grip.x + 8, lowest - 2);
  await desk.mouse.up();
  await expect(overview(desk).getByText('Slide 2 is slide 40 of 40 now.')).toHaveCount(1);
  await expect(slides.last()).toContainText('Number 2');
});

test('a deck is presented on hold while its source changes, and the speaker alone sees what is behind', async ({
  product,
  desk,
  browser,
}) => {
  await deckOfTwo(desk);
  await desk.getByLabel('Notes for the speaker').fill('Mention the geese.');
  await desk.getByLabel('Notes for the speaker').blur();
  // An automatic object would be refreshed at once: on hold nothing is.
  await desk.getByRole('link', { name: 'Present' }).click();
  await expect(desk.getByRole('checkbox', { name: /Hold every refresh/ })).toBeChecked();
  await desk.getByRole('checkbox', { name: /A click on a figure/ }).check();
  await expectAccessible(desk);
  const speaker = await desk.context().newPage();
  await speaker.goto(`${desk.url()}?speaker`);
  await expect(speaker.getByRole('status').filter({ hasText: 'Slide 1 of 2' })).toBeVisible();
  await desk.bringToFront();
  await desk.getByRole('button', { name: 'Begin' }).click();
  await expect(desk.getByText('Briefing', { exact: true })).toBeVisible();
  await desk.keyboard.press('ArrowRight');
  const shown = desk.getByRole('table', { name: 'PlotCounts' });
  await expect(shown.first()).toContainText('97');
  // The speaker's window goes along, with the notes.
  await expect(speaker.getByRole('status').filter({ hasText: 'Slide 2 of 2' })).toBeVisible();
  await expect(speaker.getByRole('region', { name: 'Notes' })).toContainText('Mention the geese.');
  await expect(speaker.getByRole('region', { name: 'Figures that are behind' })).toContainText(
    'Every figure',
  );

  await product.save('monitoring/planting-counts.xlsx', [setCell('Counts', 'D8', 104)]);
  await expect(speaker.getByRole('region', { name: 'Figures that are behind' })).toContainText(
    'PlotCounts: behind',
  );
  await expect(shown.first()).toContainText('97');
  await expect(desk.getByText('behind')).toHaveCount(0);
  // Where a figure comes from, for whoever asks.
  await shown.first().getByText('97').click();
  await expect(desk.getByRole('complementary', { name: 'Where it comes from' })).toContainText(
    'planting-counts.xlsx',
  );
  await desk.keyboard.press('Escape');
  await speaker.getByRole('button', { name: 'Black screen' }).click();
  await expect(shown).toHaveCount(0);
  await speaker.getByRole('button', { name: 'Show the slide' }).click();
  await expect(shown.first()).toContainText('97');
  await expectAccessible(speaker);
  await speaker.close();

  // Ended, the hold is released, and the change can be taken.
  await desk.keyboard.press('Escape');
  await desk.getByRole('link', { name: 'Back to the deck' }).click();
  await expect(header(desk).getByRole('button', { name: 'Hold' })).toBeVisible();
  await header(desk).getByRole('button', { name: 'Refresh 1' }).click();
  await overview(desk).getByRole('button', { name: 'Slide 2', exact: true }).click();
  await expect(canvas(desk).getByRole('table', { name: 'PlotCounts' }).first()).toContainText(
    '104',
  );

  // A window that is left lets go of the hold that it began.
  await desk.getByRole('link', { name: 'Present' }).click();
  await desk.getByRole('button', { name: 'Begin' }).click();
  const tam = await product.window(browser, 'Tam Reedsby');
  await tam
    .getByRole('link', { name: /Briefing/ })
    .first()
    .click();
  await expect(header(tam).getByRole('button', { name: 'Release' })).toBeVisible();
  await desk.goto('about:blank');
  await expect(header(tam).getByRole('button', { name: 'Hold' })).toBeVisible();
  await tam.context().close();
});

test('slides are put in, moved by keys, looked at as a whole, taken out, and printed each on a page', async ({
  desk,
}) => {
  await deckOfTwo(desk);
  await addSlide(desk, 'A title, and two halves below it');
  await write(desk, 'Title', 'Until spring');
  await expect(overview(desk).getByRole('listitem')).toHaveCount(3);
  // Each slide has an address, which shows it.
  await expect(desk).toHaveURL(/\?page=/);
  await desk.reload();
  await expect(canvas(desk)).toContainText('Until spring');
  await expectAccessible(desk);
  // The third slide goes to the beginning by keys, however quickly they are pressed and however busy the page is.
  const slides = overview(desk).getByRole('listitem');
  await overview(desk).getByRole('button', { name: 'Move slide 3' }).focus();
  await busyFor(desk, 300);
  await Promise.all(['ArrowUp', 'ArrowUp', 'ArrowUp'].map((key) => desk.keyboard.press(key)));
  await expect(slides.first()).toContainText('Until spring');
  await expect(overview(desk).getByText('Slide 2 is slide 1 of 3 now.')).toHaveCount(1);
  // It keeps the focus, and goes back as it came.
  await expect(overview(desk).getByRole('button', { name: 'Move slide 1' })).toBeFocused();
  await desk.keyboard.press('Control+z');
  await expect(slides.nth(1)).toContainText('Until spring');
  await desk.keyboard.press('Control+z');
  await expect(slides.nth(2)).toContainText('Until spring');
  await overview(desk).getByRole('button', { name: 'Move slide 3' }).press('Home');
  await expect(slides.first()).toContainText('Until spring');
  await desk.keyboard.press('ArrowDown');
  await expect(slides.nth(1)).toContainText('Until spring');
  await desk.keyboard.press('End');
  await expect(slides.nth(2)).toContainText('Until spring');
  // By the mouse as well: it is let go when the slide under it has made room.
  await overview(desk).getByRole('button', { name: 'Move slide 3' }).hover();
  const to = (await overview(desk).getByRole('button', { name: 'Move slide 2' }).boundingBox())!;
  await desk.mouse.down();
  await desk.mouse.move(to.x + to.width / 2, to.y + to.height / 2, { steps: 8 });
  await expect(slides.nth(1)).toHaveAttribute('style', /translate3d\(0px, [1-9]/);
  await desk.mouse.up();
  await expect(slides.nth(1)).toContainText('Until spring');
  await overview(desk).getByRole('button', { name: 'Move slide 2' }).press('End');
  await expect(slides.nth(2)).toContainText('Until spring');
  // On a busy page, it is let go before the others have made room.
  await overview(desk).getByRole('button', { name: 'Move slide 3' }).hover();
  const [first, third] = await Promise.all(
    [1, 3].map((nth) =>
      overview(desk)
        .getByRole('button', { name: `Move slide ${nth}` })
        .boundingBox(),
    ),
  );
  await desk.mouse.down();
  await desk.mouse.move(third!.x + 6, third!.y - 8, { steps: 4 });
  await expect(slides.nth(2)).toHaveAttribute('data-held', 'true');
  await busyFor(desk, 300);
  await Promise.all([desk.mouse.move(first!.x + 6, first!.y + 6), desk.mouse.up()]);
  await expect(slides.first()).toContainText('Until spring');
  await overview(desk).getByRole('button', { name: 'Move slide 1' }).press('End');
  await expect(slides.nth(2)).toContainText('Until spring');

  await overview(desk).getByRole('button', { name: 'Slide 2', exact: true }).click();
  await desk.getByLabel('Notes for the speaker').fill('Mention the geese.');
  await desk.getByLabel('Notes for the speaker').blur();
  await header(desk).getByRole('link', { name: 'Print' }).click();
  await expect(desk.locator('[data-print-ready="3"]')).toBeVisible();
  const path = await printedFile(desk);
  const said = poppler('pdfinfo', path);
  expect(said).toMatch(/Pages:\s+3/);
  // 254 by 142.88 mm in points of 1/72 inch, within a millimetre.
  const [, width, height] = /Page size:\s+([\d.]+) x ([\d.]+)/.exec(said)!;
  expect(Math.abs((Number(width) * 25.4) / 72 - 254)).toBeLessThan(1);
  expect(Math.abs((Number(height) * 25.4) / 72 - 142.88)).toBeLessThan(1);
  const pages = poppler('pdftotext', '-layout', path, '-').split('\f');
  expect(pages[1]).toContain('What was planted');
  expect(pages[1]).toContain('SC-04');
  expect(pages[2]).toContain('Until spring');
  // What nobody wrote is not printed.
  expect(pages.join(' ')).not.toContain('Words');

  // With the notes: each slide over what is said with it, on A4.
  await desk.getByRole('checkbox', { name: 'With the notes' }).click();
  await expect(desk.locator('[data-print-ready="3"]')).toBeVisible();
  const noted = await printedFile(desk);
  expect(poppler('pdfinfo', noted)).toMatch(/Pages:\s+3[\s\S]*A4/);
  const withNotes = poppler('pdftotext', '-layout', noted, '-').split('\f');
  expect(withNotes[1]).toMatch(/SC-04[\s\S]*Mention the geese/);
  await desk.getByRole('link', { name: 'Back to the document' }).click();
  await overview(desk).getByRole('button', { name: 'Delete slide 3' }).click();
  await expect(overview(desk).getByRole('listitem')).toHaveCount(2);
});

test('a value is placed in the sentence that is written, follows its source there, and comes out with it', async ({
  product,
  desk,
}) => {
  await deckOfTwo(desk);
  await addSlide(desk, 'A title, and words below it');
  await write(desk, 'Words', 'Of all plants, ');
  const words = canvas(desk).locator('[data-thing]', { hasText: 'Of all plants' });
  await words.dblclick();
  const writing = canvas(desk).getByRole('textbox', { name: 'Words' });
  await writing.press('Control+End');
  await canvas(desk)
    .getByRole('toolbar', { name: 'Letters' })
    .getByRole('button', { name: 'Bold' })
    .click();
  await desk.keyboard.type('alive are ');
  // What is being written is kept meanwhile: it stands in the overview before anybody ended writing.
  await expect(overview(desk)).toContainText('Of all plants, alive are');
  await expect(writing).toBeFocused();

  const place = await openPlace(desk, 'Monitoring', /planting-counts/);
  await place.getByRole('textbox', { name: 'Cells' }).fill('Counts!D8');
  await place.getByRole('radio', { name: 'Value' }).click();
  await expect(place.getByLabel('Stands')).toHaveValue('0');
  await expect(place.getByLabel('Stands').locator('option').first()).toHaveText(
    'in the line where I wrote',
  );
  await place.getByRole('button', { name: 'Place it' }).click();
  await expect(words).toContainText('Of all plants, alive are 97');
  await expect(words.locator('strong')).toHaveText('alive are ');
  await expectAccessible(desk);

  // It goes with its source.
  await product.save('monitoring/planting-counts.xlsx', [
    { kind: 'set', sheet: 'Counts', row: 8, column: 4, value: 104 },
  ]);
  await header(desk)
    .getByRole('button', { name: /^Refresh \d/ })
    .click();
  await expect(words).toContainText('alive are 104');

  // Copied into another field it says its figure.
  await words.click({ position: { x: 5, y: 5 } });
  await canvas(desk).press('Control+c');
  const notes = desk.getByLabel('Notes for the speaker');
  await notes.focus();
  await notes.press('Control+v');
  await expect(notes).toHaveValue('Of all plants, alive are 104');

  // Taken out of the sentence it stands by itself, put back it stands at its end; undo takes both back.
  await canvas(desk).locator('.placed-inline').click();
  await desk.getByRole('complementary').getByRole('button', { name: 'Where it stands' }).click();
  await desk.getByLabel('In the line of').selectOption({ label: 'no text: a place of its own' });
  await expect(words).not.toContainText('104');
  await expect(canvas(desk).locator('.placed-object .page-value')).toHaveText('104');
  await canvas(desk).press('Control+z');
  await expect(words).toContainText('alive are 104');

  await header(desk).getByRole('link', { name: 'Print' }).click();
  await expect(desk.locator('[data-print-ready="3"]')).toBeVisible();
  const path = await printedFile(desk);
  expect(poppler('pdftotext', '-f', '3', path, '-')).toMatch(/Of all plants,\s+alive are\s+104/);
});

test('the buttons for letters are seen whole, wherever on the page the text stands', async ({
  desk,
}) => {
  await deckOfTwo(desk);
  const bar = canvas(desk).getByRole('toolbar', { name: 'Letters' });
  const pane = desk.locator('[data-scroll]', { has: canvas(desk) });
  const paper = (await canvas(desk).boundingBox())!;
  const textAt = async (x: number, y: number) => {
    await desk.getByRole('button', { name: 'Text', exact: true }).click();
    await desk.mouse.move(paper.x + x, paper.y + y);
    await desk.mouse.down();
    await desk.mouse.move(paper.x + x + 60, paper.y + y + 40, { steps: 4 });
    await desk.mouse.up();
    await expect(bar).toBeVisible();
    const [at, seen] = [(await bar.boundingBox())!, (await pane.boundingBox())!];
    const writing = (await canvas(desk).getByRole('textbox', { name: 'Words' }).boundingBox())!;
    expect(at.x).toBeGreaterThanOrEqual(seen.x);
    expect(at.x + at.width).toBeLessThanOrEqual(seen.x + seen.width);
    expect(at.y).toBeGreaterThanOrEqual(seen.y);
    // It covers none of the words.
    expect(at.y + at.height <= writing.y || at.y >= writing.y + writing.height).toBe(true);
    // What is chosen before anything is written holds for what is written.
    await bar.getByRole('button', { name: 'Heading 3' }).click();
    await desk.keyboard.type('Edge');
    await desk.keyboard.press('Control+Enter');
  };
  await textAt(10, 200);
  await textAt(paper.width - 70, 200);
  await textAt(paper.width - 70, 2);
  await expect(canvas(desk).getByRole('heading', { name: 'Edge', level: 3 })).toHaveCount(3);
});

test('words on a page have headings and lead to an address: on the screen, in the PDF and SVG, for whoever reads', async ({
  product,
  desk,
  browser,
}) => {
  const address = 'https://marsh.example/tides';
  const bar = canvas(desk).getByRole('toolbar', { name: 'Letters' });
  const writing = canvas(desk).getByRole('textbox', { name: 'Words' });
  const box = desk.getByRole('dialog');
  await deckOfTwo(desk);
  await addSlide(desk, 'A title, and words below it');
  await write(desk, 'Words', 'The tide table');
  const words = canvas(desk).locator('[data-thing]', { hasText: 'The tide table' });
  await words.dblclick();
  // What is chosen for all words holds for what is typed over them.
  for (const tag of ['h1', 'p']) {
    await writing.press('Control+a');
    await bar.getByRole('button', { name: 'Heading 1' }).click();
    await desk.keyboard.type('The tide table');
    await expect(writing.locator(tag)).toHaveText('The tide table');
  }
  await writing.press('Control+a');
  await bar.getByRole('button', { name: 'Link' }).click();
  await box.getByLabel('Address').fill('javascript:alert(1)');
  await box.getByLabel('Address').press('Enter');
  await expect(box.getByRole('alert')).toContainText('Words cannot lead to this.');
  await expectAccessible(desk);
  // Given up, the words are still written in.
  await box.getByLabel('Address').press('Escape');
  await expect(box).toBeHidden();
  await expect(writing.getByRole('link')).toHaveCount(0);
  await bar.getByRole('button', { name: 'Link' }).click();
  await box.getByLabel('Address').fill('marsh.example/tides');
  await box.getByLabel('Address').press('Enter');
  await expect(writing.getByRole('link')).toHaveAttribute('href', address);
  await expect(writing).toBeFocused();
  // An address that is typed leads there by itself, a piece of it from another site is words alone.
  await writing.press('Control+End');
  await desk.keyboard.type(' or https://marsh.example ');
  await writing.evaluate((element) => {
    const data = new DataTransfer();
    data.setData('text/html', '<p>and <a href="/there">there</a></p>');
    element.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true }));
  });
  // A heading over them.
  await writing.press('Control+Home');
  await desk.keyboard.type('What we watch');
  await desk.keyboard.press('Enter');
  await desk.keyboard.press('Control+Home');
  await bar.getByRole('button', { name: 'Heading 2' }).click();
  await expect(bar.getByRole('button', { name: 'Heading 2' })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  const heading = words.getByRole('heading', { name: 'What we watch', level: 2 });
  const isLarger = async () => {
    const letters = (element: Element) => Number.parseFloat(getComputedStyle(element).fontSize);
    const beside = await words.getByRole('paragraph').evaluate(letters);
    expect((await heading.evaluate(letters)) / beside).toBeCloseTo(Math.SQRT2, 2);
  };
  await isLarger();
  await desk.keyboard.press('Control+Enter');
  await expect(words).toContainText('The tide table or https://marsh.example and there');
  // It is as large as it was while it was written, and is there when the deck is opened again.
  await isLarger();
  await expect(desk.getByText('Saved', { exact: true })).toBeVisible();
  await desk.reload();
  await isLarger();
  const links = words.getByRole('link');
  await expect(links).toHaveText(['The tide table', 'https://marsh.example']);
  await expectAccessible(desk);

  // Who writes chooses the text by a click and opens by Ctrl; who reads opens by a click.
  await links.first().click();
  await expect(desk.getByRole('heading', { name: 'Text', exact: true })).toBeVisible();
  expect(desk.context().pages()).toHaveLength(1);
  const opened = desk.context().waitForEvent('page');
  await links.first().click({ modifiers: ['Control'] });
  await (await opened).close();

  const odile = await product.window(browser, 'Odile Marram');
  await odile
    .getByRole('link', { name: /Briefing/ })
    .first()
    .click();
  await overview(odile).getByRole('button', { name: 'Slide 3', exact: true }).click();
  const read = odile.context().waitForEvent('page');
  await canvas(odile).getByRole('link', { name: 'The tide table' }).click();
  await read;

  await header(desk).getByRole('link', { name: 'Print' }).click();
  await expect(desk.locator('[data-print-ready="3"]')).toBeVisible();
  expect(poppler('pdfinfo', '-url', await printedFile(desk))).toContain(address);
  const drawn = unzipSync(await readFile(await savedPages(desk, 'SVG')));
  const last = new DOMParser().parseFromString(strFromU8(Object.values(drawn).at(-1)!), 'text/xml');
  const [lead] = last.getElementsByTagName('a');
  expect([lead!.getAttribute('href'), lead!.textContent]).toEqual([address, 'The tide table']);
  const letters = (words: string) => {
    const of = [...last.getElementsByTagName('text')].find((each) => each.textContent === words);
    return Number(of!.getAttribute('font-size'));
  };
  expect(letters('What we watch') / letters('The tide table')).toBeCloseTo(Math.SQRT2, 2);
});
