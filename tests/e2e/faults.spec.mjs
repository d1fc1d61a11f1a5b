// The demo's four controllers of three protocols: each is broken and mended while somebody watches Live.
import { test, expect } from './test.mjs';

let fralto;
test.beforeAll(async ({ demo }) => {
  fralto = await demo.asShipped();
});

const faults = [
  ['kiln-plc', 'Controller gone', 'KLN1', /BadNotConnected: connection (lost|refused)/],
  ['steep-plc', 'Controller answers after 3 s', 'ST1', /BadTimeout: timed out: no answer to unit id 1/],
  ['box-edge', 'Edge node gone', 'BOX1', /BadNoCommunication: death received at .* UTC from Corvane\/box-edge/],
  ['silo-hub', 'Hub gone', 'S01', /BadNoCommunication: death received at .* silo-park\/status says 'offline'/],
  ['silo-hub', 'Broker gone, and box-edge with it', 'S01', /BadNotConnected: connection (lost|refused)/],
];

test('four controllers of three protocols live', async ({ page }) => {
  await page.goto(`${fralto.base}/controllers`);
  await expect(page.locator('[data-figure=Controllers]')).toHaveText('5 of 5 up', { timeout: 15_000 });
  const list = page.getByRole('complementary', { name: 'Controllers' });
  for (const words of ['Modbus TCP', 'MQTT', 'Sparkplug B']) await expect(list).toContainText(words);
  await expect.poll(async () => (await fralto.api('/values')).filter(v => v.status.name === 'Good').length).toBeGreaterThan(330);
  // The honest mistakes show: no level where there is none, a sensor below its signal.
  const values = await fralto.api('/values');
  expect(values.find(v => v.path.endsWith('S19/Level')).status).toMatchObject({ name: 'BadNoData' });
  expect(values.find(v => v.path.endsWith('ST5/Temperature')).status).toMatchObject({ name: 'BadSensorFailure' });
});

for (const [name, fault, code, reason] of faults) {
  test(`${name}, ${fault}: the right reason in Live, and recovery`, async ({ page, context }) => {
    const equipment = (await fralto.api('/equipment')).find(e => e.code === code).id;
    await page.goto(`${fralto.base}/live?at=${equipment}`);
    const first = page.locator('table.list .value').first();
    await expect(first).toHaveClass(/good/, { timeout: 15_000 });
    const desk = await context.newPage();
    await desk.goto(`${fralto.base}/stand-ins`);
    const section = desk.getByRole('region', { name, exact: true });
    await section.getByRole('button', { name: fault, exact: true }).click();
    await expect(page.locator('table.list .why').first()).toHaveText(reason, { timeout: 15_000 });
    await expect(first).toHaveClass(/bad/);
    // Nobody else is harmed.
    const broken = fault.startsWith('Broker') ? ['silo-hub', 'box-edge'] : [name];
    const harmed = async () =>
      (await fralto.api('/values'))
        .filter(v => v.source === 'tag' && !broken.includes(v.controller))
        .filter(v => v.status.name.startsWith('Bad') && !/S19|ST5/.test(v.path))
        .map(v => `${v.path} ${v.status.reason}`);
    // A machine that stands still for a moment makes values stale for as long.
    await expect.poll(harmed).toEqual([]);
    await section.getByRole('button', { name: `${fault}: broken, mend it`, exact: true }).click();
    await expect(first).toHaveClass(/good/, { timeout: 20_000 });
    await desk.close();
  });
}

test('with devices dead the alarm page says how many limits nobody watches, and ages go on', async ({ page, context }) => {
  await page.goto(`${fralto.base}/alarms`);
  const desk = await context.newPage();
  await desk.goto(`${fralto.base}/stand-ins`);
  const down = ['kiln-plc', 'steep-plc'].map(name => desk.getByRole('region', { name, exact: true }));
  await down[0].getByRole('button', { name: 'Controller gone', exact: true }).click();
  await down[1].getByRole('button', { name: 'Controller gone', exact: true }).click();
  await expect(page.locator('.unwatched')).toContainText(/2 controllers down \(.*kiln-plc.*\): \d+ limits are not being watched/, {
    timeout: 20_000,
  });
  await expect(page.locator('main')).not.toContainText('Every limit is kept');
  // A value that nobody gives any more grows old, however often the device is asked in vain.
  const kiln = (await fralto.api('/controllers')).find(c => c.name === 'kiln-plc').id;
  await page.goto(`${fralto.base}/controllers?at=${kiln}`);
  await expect(
    page
      .locator('[data-age]')
      .filter({ hasText: /^(5|10|15) s$/ })
      .first(),
  ).toBeVisible({ timeout: 25_000 });
  for (const its of down) await its.getByRole('button', { name: 'Controller gone: broken, mend it', exact: true }).click();
  await page.goto(`${fralto.base}/alarms`);
  await expect(page.locator('.unwatched')).not.toContainText('controllers down', { timeout: 20_000 });
  await desk.close();
});

test('a post that is not carried out says why, beside what was pressed', async ({ page }) => {
  await page.goto(`${fralto.base}/controllers?open=change`);
  await page.route('**/controllers?*handler=Test*', route =>
    route.fulfill({
      status: 400,
      contentType: 'text/html',
      body: '<main class="alone"><h1>Refused</h1><p>The page was open for too long.</p></main>',
    }),
  );
  await page.getByRole('button', { name: 'Test connection' }).click();
  await expect(page.getByRole('alert').filter({ hasText: 'The page was open for too long.' })).toBeVisible();
});

test('a hub that floods the broker slows nobody', async ({ page }) => {
  await page.goto(`${fralto.base}/stand-ins`);
  await page.getByRole('button', { name: 'Hub floods the broker', exact: true }).click();
  const taken = async () => (await fralto.api('/controllers')).find(c => c.name === 'silo-hub').requests;
  const floods = async (from, by) => expect.poll(async () => (await taken()) - from, { timeout: 20_000 }).toBeGreaterThan(by);
  await floods(await taken(), 2000);
  // A machine that has other work may hold everything up for a moment: what the flood held up would stay so as long as it lasts.
  await expect(async () => {
    expect((await fralto.api('/controllers')).filter(c => c.state !== 'Up')).toEqual([]);
    const kiln = (await fralto.api('/values')).filter(v => v.controller === 'kiln-plc');
    expect(kiln.length).toBeGreaterThan(50);
    expect(kiln.filter(v => v.status.name.startsWith('Bad') || Date.now() - Date.parse(v.time) >= 2000)).toEqual([]);
  }).toPass({ timeout: 30_000 });
  await floods(await taken(), 500);
  await page.getByRole('button', { name: 'Hub floods the broker: broken, mend it', exact: true }).click();
});
