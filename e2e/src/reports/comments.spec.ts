import {
  expect,
  expectAccessible,
  header,
  openReport,
  type Page,
  placed,
  test,
  text,
} from '../fixtures.ts';

const panel = (page: Page) => page.getByRole('complementary');
const comments = (page: Page) => panel(page).getByRole('region', { name: 'Comments' });
const rail = (page: Page) => page.getByRole('toolbar', { name: 'Text' });

/** Says something of what is marked or selected. */
async function comment(page: Page, words: string): Promise<void> {
  await rail(page).getByRole('button', { name: 'Comment', exact: true }).click();
  const box = page.getByRole('dialog');
  await box.getByLabel('What you have to say').fill(words);
  await box.getByRole('button', { name: 'Say it' }).click();
}

test('words get a comment, which somebody else answers and settles while both write', async ({
  product,
  report,
  browser,
}) => {
  const tam = await product.window(browser, 'Tam Reedsby');
  await openReport(tam);
  await expect(
    rail(report).getByRole('button', { name: /mark words or select an object first/ }),
  ).toBeDisabled();
  const line = (page: Page) => text(page).getByText('Decking starts when');
  await line(report).click({ clickCount: 3 });
  await comment(report, 'Which tides, exactly?');
  await expect(comments(report)).toContainText('Which tides, exactly?');
  await expect(text(report).locator('.commented')).toContainText('Decking starts when');
  await expectAccessible(report);

  const sign = (page: Page) => text(page).getByRole('button', { name: /Comment by Ines Fallow/ });
  await sign(tam).click();
  await expect(comments(tam)).toContainText('Which tides, exactly?');
  // She writes before the words meanwhile: the comment stays with them.
  await line(report).click();
  await report.keyboard.press('Home');
  await report.keyboard.type('It is known: ');
  await expect(text(tam)).toContainText('It is known: Decking');
  await comments(tam).getByLabel('Answer to Ines Fallow').fill('Those of the 24th.');
  await comments(tam).getByLabel('Answer to Ines Fallow').press('Control+Enter');
  await expect(comments(report)).toContainText('Those of the 24th.');
  await expect(text(report).locator('.commented')).toContainText('Decking starts when');
  // One takes back only what one said oneself.
  await expect(comments(report).getByRole('button', { name: /Take back/ })).toHaveCount(1);

  await comments(tam).getByRole('button', { name: 'Settle' }).click();
  await expect(text(report).locator('.commented')).toHaveCount(0);
  await expect(sign(report)).toHaveCount(0);
  await report.reload();
  await text(report).getByText('It is known').click();
  await comments(report).getByLabel('Show the settled one').check();
  await expect(comments(report)).toContainText('Settled by Tam Reedsby');
  await comments(report).getByRole('button', { name: 'Open it again' }).click();
  await expect(text(report).locator('.commented')).toContainText('Decking starts when');
  // The words go; what was said of them stays.
  await line(report).click({ clickCount: 3 });
  await report.keyboard.press('Delete');
  await expect(text(report).locator('.commented')).toHaveCount(0);
  await comments(report)
    .getByRole('button', { name: /Decking starts when/ })
    .first()
    .click();
  await expect(comments(report)).toContainText('These words are not in the text any more.');
  await tam.context().close();
});

test('an object gets a comment, which who may only look sees and cannot answer', async ({
  product,
  report,
  browser,
}) => {
  const object = (page: Page) => placed(page, 'Planting counts by plot');
  await object(report).locator('td').first().click();
  await comment(report, 'Is SC-07 counted twice?');
  await expect(text(report).getByRole('button', { name: /One open comment/ })).toBeVisible();
  const fold = panel(report).getByRole('button', { name: /^Comments/ });
  await expect(fold).toHaveAttribute('aria-expanded', 'true');
  await expect(comments(report)).toContainText('Is SC-07 counted twice?');
  await comments(report).getByLabel('A comment on this object').fill('I mean the second row.');
  await comments(report).getByRole('button', { name: 'Say it' }).click();
  await expect(text(report).getByRole('button', { name: /2 open comments/ })).toBeVisible();
  await expect(header(report)).toContainText('Saved');

  const odile = await product.window(browser, 'Odile Marram');
  await openReport(odile);
  await expect(comments(odile)).toContainText('Is SC-07 counted twice?');
  await expect(comments(odile).getByRole('textbox')).toHaveCount(0);
  await expect(comments(odile).getByRole('button', { name: 'Settle' })).toHaveCount(0);
  await comments(odile).getByRole('button', { name: 'Planting counts by plot' }).first().click();
  await expect(object(odile)).toBeInViewport();
  await odile.context().close();
});
