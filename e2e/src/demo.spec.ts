import {
  expect,
  expectAccessible,
  header,
  openReport,
  Product,
  poppler,
  printedFile,
  test,
  text,
} from './fixtures.ts';

test('the demo report has an object of every form, and prints', async ({ browser }) => {
  const product = await Product.start('whole');
  const page = await product.window(browser, 'Ines Fallow');
  await openReport(page);
  await expect(header(page)).toContainText('9 in step');
  // Values in the sentence, in a caption and in the list of figures.
  await expect(text(page)).toContainText('Of 2,160 plants set, 1,815 are alive.');
  await expect(text(page).getByRole('navigation')).toContainText(
    'Figure 1. Plants set and surviving: 84% of all live',
  );
  await expect(text(page)).toContainText('Table 1 has every plot, Figure 1 the whole at a glance.');
  for (const name of ['Planted and surviving', 'Boardwalk piles as driven', 'Visitors by month']) {
    await expect(text(page).getByRole('img', { name })).toBeVisible();
  }
  await expect(text(page).getByRole('table', { name: 'Grant budget' }).first()).toContainText(
    'Breach and creek works',
  );
  await expect(text(page).getByRole('link', { name: /visitor-counts.csv/ })).toBeVisible();
  await expectAccessible(page);

  await header(page).getByRole('link', { name: 'Print' }).click();
  await expect(page.getByText('3 pages')).toBeVisible();
  const path = await printedFile(page);
  const words = poppler('pdftotext', '-layout', path, '-');
  expect(words.replace(/\s+/g, ' ')).toContain('Of 2,160 plants set, 1,815 are alive.');
  expect(words).toContain('Brackwater Trust');
  const said = poppler('pdfinfo', path);
  expect(said).toMatch(/Title:\s+Autumn monitoring report/);
  expect(said).toMatch(/Tagged:\s+yes/);
  // Facsimiles and charts are drawn, with their text as text, and no letter is a picture.
  expect(words).toMatch(/P-10\s+150 x 150\s+21\.60/);
  expect(words).toContain('Visitors, forecast with 90 % bounds');
  expect(words).toMatch(/SC-01\s+SC-02\s+SC-03/);
  expect(poppler('pdfimages', '-list', path).trim().split('\n')).toHaveLength(2);
  expect(poppler('pdffonts', path)).not.toMatch(/Type 3/);
  await page.context().close();
  await product.stop();
});
