// "/" finds anything, by keyboard alone.
import { test, expect } from './test.mjs';

let fralto;

test.beforeAll(async ({ demo }) => {
  fralto = await demo.asShipped();
});

test('a slash, a few letters, arrow keys and Enter lead there', async ({ page }) => {
  await page.goto(`${fralto.base}/live`);
  await page.keyboard.press('/');
  await expect(page.getByRole('combobox', { name: 'Find' })).toBeFocused();
  await page.keyboard.type('kiln');
  const hits = page.getByRole('option');
  await expect(hits.first()).toContainText('Kiln');
  await page.keyboard.type(' 2');
  await expect(hits.first()).toContainText('Corvane/TarnQuay/Kilning/KilnHouse/KLN2');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Kiln 2');

  await page.keyboard.press('/');
  await page.keyboard.type('KLN1_TT');
  await expect(hits).toHaveCount(2);
  await page.keyboard.press('ArrowDown');
  await expect(hits.nth(1)).toHaveAttribute('aria-selected', 'true');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('row', { name: /^KLN1_TT12 / })).toBeVisible();
  await expect(page.getByRole('row', { name: /^KLN1_TT11 / })).toHaveCount(0);

  await page.keyboard.press('/');
  await page.keyboard.type('<b>nothing');
  await expect(page.getByText('Nothing has this in its name')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.locator('#found')).toBeHidden();
});

test('some words name an instance, the others a property of it', async ({ page }) => {
  await page.goto(`${fralto.base}/plant`);
  await page.keyboard.press('/');
  await page.keyboard.type('kiln 2 moist');
  const hit = page.locator('#found .hit').first();
  await expect(hit).toContainText('Kiln 2 Grain moisture');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/plant\?at=\d+&property=\d+/);
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Kiln 2');
});
