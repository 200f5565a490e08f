import { setCell } from '@tether/demo';
import {
  cleat,
  expect,
  expectAccessible,
  header,
  type Page,
  placed,
  test,
  text,
} from '../fixtures.ts';

const OBJECT = 'Planting counts by plot';
const panel = (page: Page) => page.getByRole('complementary');

async function freeze(page: Page, how: 'As it is' | 'As text' | 'As a picture') {
  await cleat(page, OBJECT).click();
  await panel(page).getByRole('button', { name: 'Freeze: keep what it shows' }).click();
  await page.getByRole('button', { name: how, exact: true }).click();
}

test('an object is frozen as text and as a picture, says where it came from, and is tied again', async ({
  product,
  report,
}) => {
  await freeze(report, 'As text');
  await expect(placed(report, OBJECT)).toHaveCount(0);
  const table = text(report).locator('.fixed-table');
  await expect(table).toContainText('1,815');
  await expect(table.getByRole('columnheader', { name: 'Planted' })).toBeVisible();
  const gone = panel(report).getByRole('region', { name: 'Frozen as text or picture' });
  await text(report).getByText('Decking starts when').click();
  await expect(gone).toContainText('Monitoring/planting-counts.xlsx');
  await expectAccessible(report);
  // What the source says now is none of its business.
  await product.save('monitoring/planting-counts.xlsx', [setCell('Counts', 'D8', 104)]);
  await expect(header(report)).not.toContainText('behind');
  await expect(table).toContainText('1,815');
  await report.reload();
  await expect(table).toContainText('1,815');

  await gone.getByRole('button', { name: 'Tie again' }).click();
  await expect(table).toHaveCount(0);
  await expect(cleat(report, OBJECT)).toContainText('behind');
  await expect(gone).toBeHidden();

  await freeze(report, 'As a picture');
  await expect(placed(report, OBJECT)).toHaveCount(0);
  const picture = text(report).getByRole('img', {
    name: `${OBJECT}, from Monitoring/planting-counts.xlsx`,
  });
  await expect(picture).toBeVisible();
  const width = () => picture.evaluate((each: HTMLImageElement) => each.naturalWidth);
  await expect.poll(width).toBeGreaterThan(900);
  await text(report).getByText('Decking starts when').click();
  await gone.getByRole('button', { name: 'Tie again' }).click();
  await expect(picture).toHaveCount(0);
  await expect(placed(report, OBJECT)).toContainText('1,815');
  await header(report).getByRole('button', { name: 'Refresh 1' }).click();
  await expect(placed(report, OBJECT)).toContainText('1,822');

  // As it is, and taken back by undo of the text: nothing of it is lost.
  await freeze(report, 'As it is');
  await expect(cleat(report, OBJECT)).toContainText('frozen');
  await panel(report).getByRole('button', { name: 'Unfreeze' }).click();
  await expect(cleat(report, OBJECT)).toContainText('in step');
});
