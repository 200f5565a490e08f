import { setCell } from '@tether/demo';
import {
  changeSlip,
  cleat,
  expect,
  expectAccessible,
  header,
  openReport,
  test,
} from './fixtures.ts';

test('every page passes axe', async ({ product, browser }) => {
  const context = await browser.newContext();
  const first = await context.newPage();
  await first.goto(product.address);
  await expect(first.getByRole('button', { name: 'Tam Reedsby' })).toBeVisible();
  await expectAccessible(first);
  await context.close();

  const page = await product.window(browser, 'Ines Fallow');
  await product.save('monitoring/planting-counts.xlsx', [setCell('Counts', 'D8', 104)]);
  await expect(page.getByRole('region', { name: 'Needs you' })).toContainText('behind');
  await expectAccessible(page);

  await openReport(page);
  await expect(changeSlip(page)).toContainText('SC-04');
  await cleat(page, 'Planting counts by plot').click();
  await expectAccessible(page);
  await changeSlip(page).getByRole('button', { name: 'Take', exact: true }).click();
  await expect(changeSlip(page)).toContainText('Nothing is behind');

  await header(page).getByRole('button', { name: 'Place' }).click();
  const place = page.getByRole('dialog');
  await place
    .getByRole('region', { name: 'Works' })
    .getByRole('button', { name: /boardwalk-piles/ })
    .click();
  await place.getByRole('button', { name: /Take all filled cells/ }).click();
  await expect(place.getByTestId('preview')).toContainText('P-01');
  await expectAccessible(page);
  await page.keyboard.press('Escape');

  await page.getByRole('link', { name: 'Log' }).click();
  await page.getByRole('button', { name: 'Change slip' }).first().click();
  await expectAccessible(page);
});

test('signing in with a wrong password is told, signing out ends the session', async ({
  product,
  browser,
}) => {
  const page = await (await browser.newContext()).newPage();
  await page.goto(`${product.address}/log`);
  await page.getByLabel('Name').fill('tam');
  await page.getByLabel('Password').fill('wrong');
  await page.getByLabel('Password').press('Enter');
  await expect(page.getByRole('alert')).toContainText(
    'The name and the password do not go together.',
  );
  await page.getByLabel('Password').fill('saltmarsh');
  await page.getByLabel('Password').press('Enter');
  await expect(page.getByRole('heading', { name: 'Log' })).toBeVisible();
  await page.getByRole('button', { name: 'Sign out' }).click();
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await page.reload();
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await page.context().close();
});

test('an address that leads nowhere says so', async ({ desk, product }) => {
  await desk.goto(`${product.address}/no/such/page`);
  await expect(
    desk.getByRole('heading', { name: 'There is nothing at this address' }),
  ).toBeVisible();
  await desk.goto(`${product.address}/documents/7`);
  await expect(desk.getByRole('alert')).toContainText('There is no such');
});
