// The shipped plant: it lives by itself, its faults show with their reason, and it is walked by keyboard.
import { test, expect } from './test.mjs';
import { startFralto } from './fralto.mjs';

let fralto;

test.beforeAll(async () => {
  fralto = await startFralto('demo');
});
test.afterAll(async () => {
  await fralto?.forget();
});

test('the two kilns live', async ({ page }) => {
  await page.goto(`${fralto.base}/live`);
  await page.getByLabel('Filter values').fill('kiln 2 air-on');
  await expect(page.getByRole('row', { name: /^Kiln 2 Air-on temperature / })).toBeVisible();
  // Kiln 2 by itself: the boxes above it may stand still to a tenth of a degree.
  await page.goto(`${fralto.base}/live?at=${(await fralto.api('/equipment')).find(e => e.code === 'KLN2').id}`);
  const airOn = page
    .getByRole('row', { name: / Air-on temperature / })
    .first()
    .locator('.value');
  const before = await airOn.textContent();
  await expect(airOn).not.toHaveText(before, { timeout: 20_000 });
  expect((await fralto.api('/values')).filter(v => v.status.name === 'Good').length).toBeGreaterThanOrEqual(18);
});

test('a broken sensor is bad with its reason, its neighbours are not, and it heals', async ({ page }) => {
  await page.goto(`${fralto.base}/stand-ins`);
  await page.getByRole('button', { name: 'Kiln 1 air-on sensor broken', exact: true }).click();
  await page.getByRole('link', { name: 'kiln-plc', exact: true }).click();
  const row = page.getByRole('row', { name: /^KLN1_TT11 / });
  await expect(row).toContainText('the device sent not-a-number');
  await expect(row.locator('.why')).toHaveAttribute('title', /^BadSensorFailure: /);
  await expect(page.getByRole('row', { name: /^KLN1_TT12 / }).locator('.value')).toHaveClass(/good/);
  await page.goto(`${fralto.base}/stand-ins`);
  await page.getByRole('button', { name: 'Kiln 1 air-on sensor broken: broken, mend it', exact: true }).click();
  await page.getByRole('link', { name: 'kiln-plc', exact: true }).click();
  await expect(row.locator('.value')).toHaveClass(/good/);
});

test('a controller that is gone says so within three intervals and comes back by itself', async ({ page }) => {
  await page.goto(`${fralto.base}/stand-ins`);
  const kilns = page.getByRole('region', { name: 'kiln-plc', exact: true });
  await kilns.getByRole('button', { name: 'Controller gone', exact: true }).click();
  const pressed = Date.now();
  await expect
    .poll(async () => (await fralto.api('/values')).filter(v => v.controller === 'kiln-plc').every(v => v.status.name.startsWith('Bad')), {
      intervals: [100],
    })
    .toBe(true);
  expect(Date.now() - pressed).toBeLessThan(3 * 500 + 500); // three intervals, and half a second for the page and the poll
  await page.getByRole('link', { name: 'kiln-plc', exact: true }).click();
  await expect(page.locator('#status')).toContainText('connection refused', { timeout: 15_000 });
  await expect(page.getByRole('complementary', { name: 'Controllers' })).toContainText('down');
  await page.goto(`${fralto.base}/stand-ins`);
  await kilns.getByRole('button', { name: /^Controller gone: broken/ }).click();
  await page.getByRole('link', { name: 'kiln-plc', exact: true }).click();
  await expect(page.locator('#status')).toContainText('up', { timeout: 15_000 });
  await expect(page.locator('[data-figure=Controllers]')).toHaveText('5 of 5 up');
});

test('kiln 2 alarms by itself and the alarm clears again', async () => {
  test.setTimeout(240_000);
  await expect
    .poll(async () => (await fralto.api('/alarms')).some(a => a.path.endsWith('KLN2/AirOn') && a.state === 'Unacknowledged'), {
      timeout: 200_000,
    })
    .toBe(true);
  await expect
    .poll(async () => (await fralto.api('/alarms')).some(a => a.path.endsWith('KLN2/AirOn') && a.state === 'ReturnedUnacknowledged'), {
      timeout: 200_000,
    })
    .toBe(true);
});

test('arrow keys walk the plant and the matrix, typing jumps', async ({ page }) => {
  await page.goto(`${fralto.base}/plant`);
  await page.locator('.node', { hasText: 'Tarn Quay' }).focus();
  await page.keyboard.press('ArrowDown');
  await expect(page.locator('.node', { hasText: 'Ashholt' })).toBeFocused();
  await page.keyboard.type('tarn');
  await expect(page.locator('.node', { hasText: 'Tarn Quay' })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Tarn Quay');
  await page.locator('.node', { hasText: 'Tarn Quay' }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.locator('.node', { hasText: 'Steeping' })).toBeFocused();
  await page.keyboard.press('ArrowLeft');
  await expect(page.locator('.node', { hasText: 'Tarn Quay' })).toBeFocused();

  await page.goto(`${fralto.base}/bindings?template=${(await fralto.api('/templates')).find(t => t.code === 'Kiln').id}`);
  await page.getByRole('link', { name: 'Kiln 1 Air-on temperature' }).focus();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowRight');
  await expect(page.getByRole('link', { name: 'Kiln 2 Air-off temperature' })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('complementary', { name: 'Tags' })).toContainText('Kiln 2 · Air-off temperature');
});

test('a second person sees an edit refused that the first has made pointless', async ({ browser }) => {
  const [one, other] = [await browser.newPage(), await browser.newPage()];
  for (const page of [one, other]) {
    page.on('dialog', dialog => dialog.accept());
    await page.goto(`${fralto.base}/plant`);
    await page.locator('a.node', { hasText: 'Ashholt' }).click();
    await page.locator('a.node', { hasText: 'Trial hall' }).click();
    await page.getByRole('link', { name: 'Add one below' }).click();
  }
  for (const page of [one, other]) {
    await page.getByLabel('Name', { exact: true }).fill('Pilot cell');
    await page.getByLabel('Code', { exact: true }).fill('PC');
    await page.getByRole('button', { name: 'Add to the plant', exact: true }).click();
  }
  await expect(one.getByRole('heading', { level: 1 })).toHaveText('Pilot cell');
  await expect(other.getByText('Trial hall already has a PC; codes are unique among siblings.')).toBeVisible();
  await expect(other.getByLabel('Name', { exact: true })).toHaveValue('Pilot cell');
  await one.close();
  await other.close();
});

test('Ctrl-C stops it cleanly', async () => {
  expect(await fralto.stop('SIGINT')).toBe(0);
});
