import { setCell } from '@tether/demo';
import {
  expect,
  expectAccessible,
  header,
  openReport,
  type Page,
  placed,
  test,
} from '../fixtures.ts';

const FILE = 'monitoring/planting-counts.xlsx';

async function openCounts(page: Page): Promise<void> {
  await page.getByRole('link', { name: 'Sources', exact: true }).click();
  await page
    .getByRole('region', { name: 'Monitoring' })
    .getByRole('button', { name: /planting-counts/ })
    .click();
  await expect(at(page, 'D8')).toHaveText('97');
}
const grid = (page: Page) => page.getByRole('application');
const at = (page: Page, ref: string) => grid(page).locator(`[data-at="${ref}"]`);
const waiting = (page: Page) => page.getByRole('region', { name: 'Waiting to be saved' });
const field = (page: Page, ref: string) =>
  page.getByRole('textbox', { name: `Content of ${ref}`, exact: true });
const save = (page: Page) => waiting(page).getByRole('button', { name: 'Save in the file' });

test('figures and formulas are typed into a source, seen by a colleague, saved, and shown in the report', async ({
  product,
  desk,
  browser,
}) => {
  await openCounts(desk);
  const tam = await product.window(browser, 'Tam Reedsby');
  await openCounts(tam);

  await at(desk, 'D8').click();
  await expect(desk.locator('[data-cell-held]')).toHaveText('97');
  await desk.keyboard.type('104');
  await expect(field(desk, 'D8')).toBeFocused();
  await desk.keyboard.press('Enter');
  // Enter goes on below, and the total follows before anything is saved.
  await desk.keyboard.type('=D8+26');
  await desk.keyboard.press('Enter');
  await expect(at(desk, 'D9')).toHaveText('130');
  await expect(at(desk, 'D17')).toHaveText('1,820');
  await expect(at(tam, 'D8')).toHaveText('104');
  await expect(at(tam, 'D17')).toHaveText('1,820');
  await expect(at(tam, 'D17')).toHaveClass(/provisional-here/);
  await expect(waiting(tam)).toContainText('Ines Fallow');
  await expectAccessible(desk);

  // The same cell: the second is asked.
  await at(tam, 'D10').click();
  await tam.keyboard.type('150');
  await tam.keyboard.press('Enter');
  await expect(waiting(desk)).toContainText('Tam Reedsby');
  await at(desk, 'D10').dblclick();
  await desk.keyboard.press('ControlOrMeta+a');
  await desk.keyboard.type('151');
  // What a colleague types meanwhile is not written over unseen.
  await at(tam, 'D10').click();
  await tam.keyboard.type('152');
  await tam.keyboard.press('Enter');
  await expect(at(tam, 'D10')).toHaveText('152');
  await expect(waiting(desk)).toContainText('152');
  await desk.keyboard.press('Enter');
  await expect(desk.getByRole('alert')).toContainText(
    'Tam Reedsby typed “152” into D10 meanwhile.',
  );
  await desk.getByRole('button', { name: 'Put mine in its place' }).click();
  await expect(at(desk, 'D10')).toHaveText('151');

  await expect(at(tam, 'D10')).toHaveText('151');
  await save(tam).click();
  await expect(waiting(tam)).toHaveCount(0);
  await expect(waiting(desk)).toHaveCount(0);
  await expect(at(desk, 'D8')).toHaveText('104');
  await at(desk, 'D9').click();
  await expect(desk.locator('[data-cell-held]')).toHaveText('=D8+26');

  await desk.getByRole('link', { name: 'Desk', exact: true }).click();
  await openReport(desk);
  await header(desk)
    .getByRole('button', { name: /^Refresh/ })
    .click();
  await expect(placed(desk, 'Planting counts by plot')).toContainText('104');
  await tam.context().close();
});

test('a formula gives way only when that is said; cells are emptied, filled down, pasted and taken back', async ({
  desk,
}) => {
  await openCounts(desk);
  await at(desk, 'D17').click();
  await desk.keyboard.type('5');
  await desk.keyboard.press('Enter');
  await expect(desk.getByRole('alert')).toContainText('D17 holds a formula');
  await desk.getByRole('button', { name: 'Open it again' }).click();
  await expect(field(desk, 'D17')).toHaveValue('5');
  await desk.getByRole('button', { name: 'Leave it as it is' }).click();
  await expect(field(desk, 'D17')).toHaveCount(0);
  await expect(at(desk, 'D17')).toHaveText('1,815');

  // In a hurry: what is not taken is named, kept, and opened again.
  await at(desk, 'D5').click();
  await desk.keyboard.type('many');
  await desk.keyboard.press('Enter');
  await desk.keyboard.type('199');
  await expect(desk.getByRole('alert')).toContainText('D5: “many” is no number');
  await desk.keyboard.press('Enter');
  await expect(at(desk, 'D6')).toHaveText('199');
  await desk.getByRole('button', { name: 'Open it again' }).click();
  await expect(field(desk, 'D5')).toHaveValue('many');
  await desk.keyboard.press('Escape');
  await expect(desk.getByRole('alert')).toHaveCount(0);
  await desk.keyboard.press('ControlOrMeta+z');
  await expect(waiting(desk)).toHaveCount(0);

  await at(desk, 'D5').click();
  await at(desk, 'D7').click({ modifiers: ['Shift'] });
  await desk.keyboard.press('ControlOrMeta+d');
  await expect(at(desk, 'D7')).toHaveText('221');
  await desk.keyboard.press('Delete');
  await expect(at(desk, 'D5')).toHaveText('');
  await expect(waiting(desk).getByRole('listitem')).toHaveCount(3);
  await desk.keyboard.press('ControlOrMeta+z');
  await expect(at(desk, 'D7')).toHaveText('221');
  await desk.keyboard.press('ControlOrMeta+z');
  await expect(waiting(desk)).toHaveCount(0);
  await expect(at(desk, 'D7')).toHaveText('164');

  await at(desk, 'G5').click();
  await desk.keyboard.press('ArrowRight');
  await desk.evaluate(() => {
    const data = new DataTransfer();
    data.setData('text/plain', '1\t2\n3\t=H5+H6\n');
    document.activeElement!.dispatchEvent(
      new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }),
    );
  });
  await expect(at(desk, 'I6')).toHaveText('4');
  await waiting(desk).getByRole('button', { name: 'Let all mine go' }).click();
  await expect(waiting(desk)).toHaveCount(0);
  await desk.getByRole('button', { name: 'Bring them back' }).click();
  await expect(at(desk, 'I6')).toHaveText('4');
  await expect(waiting(desk).getByRole('listitem')).toHaveCount(4);
  await waiting(desk).getByRole('button', { name: 'Let all mine go' }).click();
  await expect(waiting(desk)).toHaveCount(0);
});

test('a file that was saved meanwhile is asked about, and who may only look types nothing', async ({
  product,
  desk,
  browser,
}) => {
  await openCounts(desk);
  await at(desk, 'D8').click();
  await desk.keyboard.type('104');
  await desk.keyboard.press('Enter');
  await expect(waiting(desk)).toContainText('97 → 104');
  await product.save(FILE, [setCell('Counts', 'D8', 90)]);
  await expect(waiting(desk)).toContainText('Decide first');
  await expect(save(desk)).toBeDisabled();
  await expect(at(desk, 'D8')).toHaveClass(/contested-here/);
  await waiting(desk).getByRole('button', { name: 'Keep yours' }).click();
  await save(desk).click();
  await expect(waiting(desk)).toHaveCount(0);
  await expect(at(desk, 'D8')).toHaveText('104');

  // Rows that come in while somebody types: nothing goes into another row unseen.
  await at(desk, 'D9').dblclick();
  await desk.keyboard.press('ControlOrMeta+a');
  await desk.keyboard.type('130');
  await product.save(FILE, [
    { kind: 'insert row', sheet: 'Counts', row: 6, values: ['SC-13', 'Sea aster', 150, 120] },
  ]);
  await expect(at(desk, 'A10')).toHaveText('SC-05');
  await desk.keyboard.press('Enter');
  await expect(desk.getByRole('alert')).toContainText('The file was saved meanwhile');
  await desk.getByRole('button', { name: 'Open it again' }).click();
  await expect(field(desk, 'D9')).toHaveValue('130');
  await desk.keyboard.press('Escape');
  await expect(waiting(desk)).toHaveCount(0);

  const odile = await product.window(browser, 'Odile Marram');
  await odile.goto(desk.url());
  await at(odile, 'D8').click();
  await odile.keyboard.type('7');
  await expect(field(odile, 'D8')).toHaveCount(0);
  await odile.context().close();
});

test('rows and columns are put in and taken out, with all that points at them, and taken back', async ({
  desk,
}) => {
  await openCounts(desk);
  const menu = desk.getByRole('button', { name: 'Rows and columns' });
  const question = desk.getByRole('dialog');
  await at(desk, 'A10').click();
  await at(desk, 'B11').click({ modifiers: ['Shift'] });
  await menu.click();
  await desk.getByRole('menuitem', { name: 'Put 2 rows in above row 10 …' }).click();
  await expect(question).toContainText('follow');
  await expect(question).toContainText('written into the file at once');
  await expectAccessible(desk);
  await question.getByRole('button', { name: 'Put in', exact: true }).click();
  await expect(question).toHaveCount(0);
  await expect(at(desk, 'D19')).toHaveText('1,815');
  await at(desk, 'D19').click();
  await expect(desk.locator('[data-cell-held]')).toHaveText('=SUM(D5:D18)');

  await at(desk, 'C5').click();
  await menu.click();
  await desk.getByRole('menuitem', { name: 'Take out column C …' }).click();
  await expect(question).toContainText('will show an error');
  await question.getByRole('button', { name: 'Leave it' }).click();

  await desk.getByRole('link', { name: 'Log', exact: true }).click();
  const entry = desk.getByRole('listitem').filter({ hasText: '2 rows put in before row 10' });
  await entry.getByRole('button', { name: 'Take back' }).click();
  await expect(
    desk.getByRole('listitem').filter({ hasText: 'Taken back: 2 rows put in' }),
  ).toBeVisible();
  await openCounts(desk);
  await expect(at(desk, 'D17')).toHaveText('1,815');
});
