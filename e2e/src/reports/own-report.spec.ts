import { deflateSync } from 'node:zlib';
import {
  expect,
  header,
  openPlace,
  type Page,
  placed,
  poppler,
  printedFile,
  test,
  text,
} from '../fixtures.ts';

/** A PNG of one colour (PNG specification, third edition: chunks with their CRC, rows with a filter byte). */
function png(width: number, height: number, [red, green, blue]: [number, number, number]): Buffer {
  const crcOf = (bytes: Buffer) => {
    let crc = ~0;
    for (const byte of bytes) {
      crc ^= byte;
      for (let bit = 0; bit < 8; bit++) crc = crc & 1 ? (crc >>> 1) ^ 0xedb88320 : crc >>> 1;
    }
    return ~crc >>> 0;
  };
  const chunk = (type: string, data: Buffer) => {
    const body = Buffer.concat([Buffer.from(type, 'latin1'), data]);
    const [length, crc] = [Buffer.alloc(4), Buffer.alloc(4)];
    length.writeUInt32BE(data.length);
    crc.writeUInt32BE(crcOf(body));
    return Buffer.concat([length, body, crc]);
  };
  const head = Buffer.alloc(13);
  head.writeUInt32BE(width, 0);
  head.writeUInt32BE(height, 4);
  head.set([8, 2, 0, 0, 0], 8);
  const row = Buffer.concat([
    Buffer.from([0]),
    Buffer.alloc(width * 3, Buffer.from([red, green, blue])),
  ]);
  const rows = Buffer.concat(Array.from({ length: height }, () => row));
  return Buffer.concat([
    Buffer.from('89504e470d0a1a0a', 'hex'),
    chunk('IHDR', head),
    chunk('IDAT', deflateSync(rows)),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}

const rail = (page: Page) => page.getByRole('toolbar', { name: 'Text' });

test('a report of one’s own, from nothing to PDF: picture, contents, own table, live table, comment', async ({
  desk,
}) => {
  await desk.getByRole('button', { name: 'New document' }).click();
  await desk.getByLabel('Name of the new document').fill('Dyke inspection');
  await desk.keyboard.press('Enter');
  await expect(text(desk)).toBeFocused();
  await desk.keyboard.type('The dyke was walked on the 3rd.');

  await desk.keyboard.press('Enter');
  await rail(desk).getByRole('button', { name: 'Heading 2' }).click();
  await desk.keyboard.type('What was found');
  await desk.keyboard.press('Enter');
  await rail(desk).getByRole('button', { name: 'A table of your own' }).click();
  await desk.getByRole('dialog').getByLabel('Columns').fill('2');
  await desk.getByRole('dialog').getByLabel('Columns').press('Enter');
  for (const words of ['Place', 'Finding', 'Sluice', 'Rust on two bolts', 'Crest', 'Sound']) {
    await desk.keyboard.type(words);
    await desk.keyboard.press('Tab');
  }
  await expect(text(desk).locator('.fixed-table')).toContainText('Rust on two bolts');

  await text(desk).getByText('The dyke was walked').click();
  await desk.keyboard.press('End');
  await desk.getByLabel('Pictures to take in').setInputFiles({
    name: 'sluice.png',
    mimeType: 'image/png',
    buffer: png(320, 120, [31, 111, 120]),
  });
  await expect(text(desk).getByLabel('What it shows')).toBeFocused();
  await desk.keyboard.type('The sluice from the north');
  await desk.keyboard.press('Enter');

  const place = await openPlace(desk);
  await place
    .getByRole('button', { name: /^PlotCounts/ })
    .last()
    .click();
  await place.getByRole('button', { name: 'Place it' }).click();
  await expect(placed(desk, 'PlotCounts').locator('td').first()).toBeVisible();

  await text(desk).getByRole('heading', { name: 'Dyke inspection' }).click();
  await rail(desk).getByRole('button', { name: 'Contents, footnote, page' }).click();
  await desk.getByRole('menuitem', { name: /^Contents/ }).click();
  const contents = text(desk).getByRole('navigation', { name: 'Contents' });
  await expect(contents).toContainText('What was found');

  await text(desk).getByText('Rust on two bolts').click({ clickCount: 3 });
  await rail(desk).getByRole('button', { name: 'Comment', exact: true }).click();
  await desk.getByLabel('What you have to say').fill('To be seen to before winter.');
  await desk.getByRole('button', { name: 'Say it' }).click();
  await expect(text(desk).locator('.commented')).toHaveText('Rust on two bolts');
  await expect(header(desk)).toContainText('Saved');

  await header(desk).getByRole('link', { name: 'Print' }).click();
  await expect(desk.getByRole('status').filter({ hasText: /^\d pages?$/ })).toBeVisible();
  // What colleagues say to each other is not printed.
  await expect(desk.locator('.commented, .comment-sign')).toHaveCount(0);
  const path = await printedFile(desk);
  const words = poppler('pdftotext', '-layout', path, '-').replace(/\s+/g, ' ');
  for (const each of ['Dyke inspection', 'What was found', 'Rust on two bolts', 'Common cordgrass'])
    expect(words).toContain(each);
  expect(words).not.toContain('before winter');
  expect(poppler('pdfimages', '-list', path)).toMatch(/\b320\s+120\b/);
  expect(poppler('pdfinfo', path)).toMatch(/Tagged:\s+yes/);
});
