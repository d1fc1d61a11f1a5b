// "/" finds anything, by keyboard alone.
import { test, expect, find } from './test.mjs';

let fralto;

test.beforeAll(async ({ demo }) => {
  fralto = await demo.asShipped();
});

test('a slash, a few letters, arrow keys and Enter lead there', async ({ page }) => {
  await page.goto(`${fralto.base}/live`);
  await find(page, 'kiln');
  const hits = page.getByRole('option');
  await expect(hits.first()).toContainText('Kiln');
  await page.keyboard.type(' 2');
  await expect(hits.first()).toContainText('Corvane/TarnQuay/Kilning/KilnHouse/KLN2');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Kiln 2');

  await find(page, 'KLN1_TT');
  await expect(hits).toHaveCount(2);
  await page.keyboard.press('ArrowDown');
  await expect(hits.nth(1)).toHaveAttribute('aria-selected', 'true');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('row', { name: /^KLN1_TT12 / })).toBeVisible();
  await expect(page.getByRole('row', { name: /^KLN1_TT11 / })).toHaveCount(0);

  await find(page, '<b>nothing');
  await expect(page.getByText('Nothing has this in its name')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.locator('#found')).toBeHidden();
});

test('Enter waits for what is typed to be found, also where the answer is slow', async ({ page }) => {
  await page.route('**/find?**', async route => {
    await new Promise(resolve => setTimeout(resolve, 400));
    await route.continue();
  });
  await page.goto(`${fralto.base}/live`);
  await find(page, 'silo park');
  await expect(page.getByRole('option').first()).toContainText('Silo park');
  await page.getByRole('combobox', { name: 'Find' }).fill('');
  await page.keyboard.type('kiln 2');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Kiln 2');

  // What was found before goes when nobody answers, and Enter leads nowhere.
  await page.unroute('**/find?**');
  await page.route('**/find?**', route => (route.request().url().includes('silo') ? route.abort() : route.continue()));
  await find(page, 'kiln 1');
  await expect(page.getByRole('option').first()).toContainText('Kiln 1');
  await page.getByRole('combobox', { name: 'Find' }).fill('silo');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Fralto does not answer; nothing was done.')).toBeVisible();
  await expect(page.getByRole('option')).toHaveCount(0);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Kiln 2');
});

test('some words name an instance, the others a property of it', async ({ page }) => {
  await page.goto(`${fralto.base}/plant`);
  await find(page, 'kiln 2 moist');
  const hit = page.locator('#found .hit').first();
  await expect(hit).toContainText('Kiln 2 Grain moisture');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/plant\?at=\d+&property=\d+/);
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Kiln 2');
});

test('everything that is found stands in one list, is filtered, says what it means and leads where it is mended', async ({ page }) => {
  await page.goto(`${fralto.base}/findings`);
  const list = page.getByRole('region', { name: 'findings' });
  const all = await fralto.api('/findings');
  // Kiln 2's door has a tag, and nobody bound it.
  const door = all.filter(f => f.path?.endsWith('/KLN2') && f.subject === 'Door');
  expect(door.map(f => f.code)).toEqual(['FR101']);
  await list.getByLabel('Only with code').selectOption('FR101');
  await list.getByLabel('Filter findings').fill('KLN2');
  const row = page.locator('tr[data-place]').filter({ hasText: 'Door' });
  await expect(row).toHaveCount(1);
  await expect(row).toContainText('Not bound');
  await row.getByRole('link', { name: 'FR101' }).click();
  await expect(page.locator('#FR101')).toContainText('Bind it under Bindings');
  await page.goBack();
  await row.getByRole('link', { name: 'Door' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Kiln 2');
  // A tag nobody uses leads to itself among those of its controller.
  await page.goto(`${fralto.base}/findings?f-code=FR102`);
  const tag = page.locator('tr[data-place]').first();
  const name = (await tag.locator('td[data-label="Of"]').textContent()).trim().split(' ').at(-1);
  await tag.locator('td[data-label="Of"] a').click();
  await expect(page.locator('tr[data-place]').first()).toContainText(name);
  const errors = await fralto.api('/findings?severity=error');
  expect(errors.every(f => f.severity === 'Error')).toBe(true);
  // What only running shows comes and goes: both are asked for at one moment.
  await expect
    .poll(async () => {
      const [now, below] = await Promise.all([fralto.api('/findings'), fralto.api('/findings?path=Corvane/TarnQuay/Kilning')]);
      return below.length - now.filter(f => f.path?.startsWith('Corvane/TarnQuay/Kilning')).length;
    })
    .toBe(0);
  for (const [query, status] of Object.entries({ 'path=No/Where': 404, 'severity=bad': 400 }))
    expect((await fetch(`${fralto.base}/api/v1/findings?${query}`)).status).toBe(status);
});
