import {
  expect,
  expectAccessible,
  openReport,
  placed,
  reportCard,
  test,
  text,
} from './fixtures.ts';

test('a document is duplicated, and deleted while a colleague has it open; the log brings it back', async ({
  product,
  desk,
  browser,
}) => {
  const documents = desk.getByRole('region', { name: 'Documents' });
  const more = documents.getByRole('button', {
    name: 'More for Autumn monitoring report',
    exact: true,
  });
  await more.click();
  await desk.getByRole('button', { name: 'Duplicate' }).click();
  const copy = documents.getByRole('link', { name: /Autumn monitoring report, copy/ });
  await expect(copy).toContainText('2 in step');

  const tam = await product.window(browser, 'Tam Reedsby');
  await tam
    .getByRole('region', { name: 'Documents' })
    .getByRole('link', { name: /^(?!.*, copy).*Autumn monitoring report/s })
    .click();
  await expect(placed(tam, 'Planting counts by plot')).toBeVisible();

  await more.click();
  await expectAccessible(desk);
  await desk.getByRole('button', { name: 'Delete …' }).click();
  const question = desk.getByRole('dialog', { name: /Delete “Autumn monitoring report”/ });
  await expect(question).toContainText('2 objects in it follow 2 source files');
  await expectAccessible(desk);
  await question.getByRole('button', { name: 'Delete it' }).click();
  await expect(documents.getByRole('link')).toHaveCount(1);
  await expect(tam.getByRole('main')).toContainText('“Autumn monitoring report” was deleted.');

  await tam.getByRole('main').getByRole('link', { name: 'To the log' }).click();
  const entry = tam.getByRole('listitem').filter({ hasText: 'deleted' }).first();
  await expect(entry).toContainText('“Autumn monitoring report”, with 2 objects.');
  await entry.getByRole('button', { name: /Take back/ }).click();
  await expect(documents.getByRole('link')).toHaveCount(2);
  await tam.context().close();

  // The copy is a document of its own: its objects are other objects.
  await copy.click();
  await expect(placed(desk, 'Planting counts by plot')).toBeVisible();
  await text(desk).getByText('Decking starts when').click();
  await desk.keyboard.press('End');
  await desk.keyboard.type(' Only in the copy.');
  await desk.getByRole('link', { name: 'Desk', exact: true }).click();
  await reportCard(desk).filter({ hasNotText: ', copy' }).click();
  await expect(placed(desk, 'Planting counts by plot')).toBeVisible();
  await expect(text(desk)).not.toContainText('Only in the copy.');
});

test('who may only look can neither duplicate nor delete', async ({ product, browser }) => {
  const odile = await product.window(browser, 'Odile Marram');
  await odile.getByRole('button', { name: /More for Autumn/ }).click();
  await expect(odile.getByRole('button', { name: 'Duplicate' })).toBeDisabled();
  await expect(odile.getByRole('button', { name: 'Delete …' })).toBeDisabled();
  await odile.keyboard.press('Escape');
  await openReport(odile);
  await odile.context().close();
});
