// What was recorded: looked at, zoomed, compared with the run before, exported, there again after a restart.
import { test, expect } from './test.mjs';
import { startFralto } from './fralto.mjs';

let fralto;
let kiln;

test.beforeAll(async () => {
  fralto = await startFralto('demo', undefined, true, 1);
  kiln = (await fralto.api('/templates')).find(t => t.code === 'Kiln');
  // The day before is made first; what is asked of it below is of that day.
  await expect
    .poll(async () => (await (await fetch(`${fralto.base}/trends?plot=true&template=${kiln.id}`)).text()).includes('past is being made'), {
      timeout: 120_000,
    })
    .toBe(false);
});
test.afterAll(async () => {
  await fralto.forget();
});

const property = code => kiln.properties.find(p => p.code === code).id;
const node = async code => (await fralto.api('/equipment')).find(e => e.code === code);
const trend = page => page.locator('svg.trend');
const shown = async page => JSON.parse(await trend(page).getAttribute('data-cursor'));

test('curves are chosen, read along a cursor, zoomed and moved by keyboard, and the address keeps them', async ({ page }) => {
  await page.goto(`${fralto.base}/trends?template=${kiln.id}&p=${property('AirOn')}&p=${property('Phase')}&for=7200`);
  await expect(trend(page)).toBeVisible();
  await expect(trend(page).locator('.strip')).toHaveCount(4);
  await expect(trend(page).locator('.panel')).toHaveCount(1);
  await expect(page.getByRole('table')).toContainText(/Kiln 1 · Phase/);
  await expect(page.getByRole('table')).toContainText(/Withering \d/);

  await page.getByRole('checkbox', { name: /^Air-off temperature/ }).check();
  await expect(trend(page).locator('.panel')).toHaveCount(2);
  await expect(page).toHaveURL(new RegExp(`p=${property('AirOff')}`));

  const plot = page.locator('[data-plot]');
  await plot.focus();
  await page.keyboard.press('ArrowLeft');
  await expect(page.locator('[data-readout]')).toContainText(/Kiln 2 · Air-on temperature/);
  const before = await shown(page);
  await page.keyboard.press('-');
  await expect.poll(async () => (await shown(page)).to - (await shown(page)).from).toBeGreaterThan((before.to - before.from) * 1.9);
  await page.keyboard.press('PageUp');
  await expect.poll(async () => (await shown(page)).live).toBe(false);
  await page.reload();
  expect((await shown(page)).live).toBe(false);
  await plot.focus();
  await page.keyboard.press('End');
  await expect.poll(async () => (await shown(page)).live).toBe(true);

  // A span that is marked has statistics of its own.
  await page.keyboard.down('Shift');
  for (let i = 0; i < 10; i++) await page.keyboard.press('ArrowLeft');
  await page.keyboard.up('Shift');
  await expect(page.getByText('over the marked span')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByText('over the window')).toBeVisible();
});

test('the last run stands beside the one before, aligned on its beginning', async ({ page }) => {
  await page.goto(`${fralto.base}/trends?template=${kiln.id}&p=${property('AirOn')}&p=${property('Phase')}&for=1800`);
  await page.getByLabel(/^runs from/).selectOption({ label: 'Phase becomes Withering' });
  await expect(trend(page).locator('.lane', { hasText: 'Kiln 2, 1 back' })).toBeVisible();
  const its = await shown(page);
  expect(its.runs).toBe(true);
  // Each run is withering just after its beginning, wherever it stood by the clock.
  const width = Number(await trend(page).getAttribute('data-width'));
  const at = (its.before / 1800) * width + width / 100;
  expect(its.strips.length).toBeGreaterThan(4);
  for (const strip of its.strips) expect(strip.at.find(([from, to]) => at >= from && at < to)?.[2]).toBe('Withering');
  // Its limits are those that were in force while it ran.
  await expect(page.locator('.limittext').filter({ hasText: /^H\s+88/ }).first()).toBeVisible();
});

test('any property is added by words of its path, and T shows the value one is at', async ({ page }) => {
  await page.goto(`${fralto.base}/trends?template=${kiln.id}`);
  await page.getByLabel('Add a property by words of its path').fill('Corvane/TarnQuay/Kilning/KilnHouse/KLN3/GasFlow');
  await expect(page.getByRole('checkbox', { name: 'KLN3/GasFlow' })).toBeChecked();
  await page.goto(`${fralto.base}/live?q=Gas`);
  await page.locator('[data-rows] tr[data-place]').nth(5).focus();
  await page.keyboard.press('t');
  await expect(page).toHaveURL(/\/trends\?s=\d+\.\d+/);
  await expect(trend(page)).toBeVisible();
});

test('a view is kept with a template and is there for every instance', async ({ page }) => {
  await page.goto(`${fralto.base}/trends?template=${kiln.id}&p=${property('GasFlow')}&for=28800`);
  await page.getByLabel('Keep this view as').fill('Gas of a shift');
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(page.getByRole('link', { name: 'Gas of a shift' })).toBeVisible();
  const three = (await fralto.api('/equipment')).find(e => e.code === 'KLN3').id;
  await page.goto(`${fralto.base}/machine?at=${three}`);
  await page.getByRole('link', { name: 'Gas of a shift' }).click();
  await expect(page).toHaveURL(new RegExp(`e=${three}.*p=${property('GasFlow')}.*for=28800`));
  await expect(trend(page)).toBeVisible();
  await page.getByRole('button', { name: 'Keep no longer: Gas of a shift' }).click();
  await expect(page.getByRole('link', { name: 'Gas of a shift' })).toHaveCount(0);
});

test('what the instances did in the last day stands behind the limits', async ({ page }) => {
  await page.goto(`${fralto.base}/templates?at=${kiln.id}&property=${property('AirOn')}`);
  const ruler = page.locator('#ruler');
  await expect(ruler.locator('.past rect').first()).toBeAttached();
  await expect(ruler).toContainText(/in the last day [\d.]+ % of the time/);
  await page.locator('#f-HighSetpoint').fill('118');
  await page.locator('#f-HighHighSetpoint').fill('119');
  await expect(ruler).not.toContainText(/in the last day [5-9]/);
});

test('every instance has a page from its template, and one property of all stands beside the others', async ({ page }) => {
  const two = (await fralto.api('/equipment')).find(e => e.code === 'KLN2').id;
  await page.goto(`${fralto.base}/machine?at=${two}`);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Kiln 2');
  await expect(trend(page).locator('.strip').first()).toBeVisible();
  await expect(page.getByRole('region', { name: 'Properties' })).toContainText('Grain moisture');
  await expect(page.getByRole('region', { name: 'Parts' })).toContainText('Main fan');
  await page.keyboard.press(']');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Kiln 3');
  expect((await fetch(`${fralto.base}/machine?at=99999999`)).status).toBe(404);

  await page.goto(`${fralto.base}/compare?template=${kiln.id}&p=${property('AirOn')}&by=value`);
  await expect(page.locator('.spark')).toHaveCount(5);
  const values = (await page.locator('.spark .num').allTextContents()).map(parseFloat).filter(Number.isFinite);
  expect(values).toEqual([...values].sort((a, b) => b - a));
});

test('a place shows key figures from its templates, and trends that are kept with it', async ({ page }) => {
  await page.goto(`${fralto.base}/plant?at=${(await node('KilnHouse')).id}`);
  const below = page.getByRole('table', { name: 'What lies below' });
  await expect(below.getByRole('link', { name: /^Kiln 2: Phase / })).toBeVisible();
  await page.goto(`${fralto.base}/plant?at=${(await node('SiloPark')).parentId}`);
  await expect(page.getByText(/Level, Mass by level; full is 18/)).toBeVisible();
  await expect(page.getByRole('link', { name: /^Silo 19: Level –/ })).toBeVisible();

  await page.goto(`${fralto.base}/trends?template=${kiln.id}`);
  await page.getByLabel('Keep this view as').fill('House at a glance');
  await page.locator('#keepwith').selectOption({ label: 'Kiln house, as it is' });
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(page.getByRole('status').first()).toContainText('Kept: House at a glance');
  await page.goto(`${fralto.base}/plant?at=${(await node('KilnHouse')).id}`);
  await page.getByRole('link', { name: 'House at a glance' }).click();
  await expect(page.getByText('House at a glance, Kiln house')).toBeVisible();
  await page.getByRole('button', { name: 'Keep no longer: House at a glance' }).click();
  await expect(page.getByText('House at a glance, Kiln house')).toHaveCount(0);
});

test('a tag that need not be bound is seen live, and a machine says its state and carries seven days', async ({ page }) => {
  await page.goto(`${fralto.base}/trends?template=${kiln.id}&add=${encodeURIComponent('kiln-plc/KLN1_TT11')}`);
  await expect(page.getByRole('row', { name: /kiln-plc · KLN1_TT11|KLN1_TT11/ }).first()).toBeVisible();
  const controllers = await fralto.api('/controllers');
  await page.goto(`${fralto.base}/controllers?at=${controllers.find(c => c.name === 'kiln-plc').id}`);
  // Its value and not its middle, where the link to what it feeds may stand.
  await page
    .getByRole('row', { name: /KLN1_TT11/ })
    .first()
    .locator('[data-value]')
    .first()
    .click();
  await page.keyboard.press('t');
  await expect(page).toHaveURL(/\/trends\?s=0\.\d+/);
  await expect(page.getByText('kiln-plc/KLN1_TT11')).toBeVisible();
  await page.goto(`${fralto.base}/compare?template=${kiln.id}&p=${property('AirOn')}&for=1200`);
  const now = await page.locator('.spark .num').allInnerTexts();
  await page.getByLabel('until').fill(new Date(Date.now() - 7.3 * 3_600_000).toISOString().slice(0, 16));
  await page.getByLabel('until').blur();
  await expect.poll(() => page.locator('.spark .num').allInnerTexts()).not.toEqual(now);
  await page.goto(`${fralto.base}/trends?s=0.999999`);
  await expect(page.getByText('Nothing of what was asked for is there any more')).toBeVisible();
  await page.goto(`${fralto.base}/trends?add=nowhere/at all`);
  await expect(page.getByText("Nothing that has values has the path 'nowhere/at all', and no tag")).toBeVisible();

  await page.goto(`${fralto.base}/machine?at=${(await node('KLN2')).id}`);
  await expect(page.locator('.statenow')).toContainText(/Withering|Break|Drying|Curing|Cooling|Unload|Load|Idle/);
  const week = page.locator('[data-week]');
  // It is drawn anew every second: whoever presses in between presses again.
  await expect(async () => {
    await week.scrollIntoViewIfNeeded({ timeout: 1000 });
    const box = await week.boundingBox({ timeout: 1000 });
    await page.mouse.click(box.x + box.width * 0.6, box.y + 8);
    await expect.poll(() => new URL(page.url()).searchParams.get('to'), { timeout: 1500 }).not.toBeNull();
  }).toPass({ timeout: 20_000 });
});

test('recording is turned off, values of the past are handed in, and all is there after a restart', async ({ page }) => {
  page.on('dialog', dialog => dialog.accept());
  await page.goto(`${fralto.base}/recorded?q=KLN4 BedDepth`);
  await page.getByText(/^Do something with the 1/).click();
  await page.getByRole('button', { name: 'Record 1 no longer' }).click();
  await expect(page.getByRole('status').first()).toContainText('Record 1 property no longer');
  expect((await (await fetch(`${fralto.base}/api/v1/releases/unreleased`)).json()).changes).toBe(1);

  // How all that is filtered is recorded is said at once: looked at first, then done as one edit.
  // Nothing was typed, so nobody is asked on leaving.
  await page.goto(`${fralto.base}/recorded?q=KLN air`);
  await page.getByText(/^Do something with the \d+/).click();
  await page.getByLabel(/^Record when it moved by/).fill('two');
  await page.getByRole('button', { name: 'Look at the effect' }).click();
  await expect(page.locator('small.problem')).toContainText('Write a number in the unit');
  await page.getByLabel(/^Record when it moved by/).fill('2 %');
  await page.getByLabel(/^Values kept, days/).fill('30');
  await page.getByRole('button', { name: 'Look at the effect' }).click();
  await expect(page.getByText(/^Record 24 properties otherwise, of 24 that are filtered; 8 instances/)).toBeVisible();
  await page.getByRole('button', { name: 'Record 24 so' }).click();
  await expect(page.getByRole('status').first()).toContainText('Record 24 properties otherwise');
  expect((await (await fetch(`${fralto.base}/api/v1/releases/unreleased`)).json()).changes).toBe(8);

  const path = 'Corvane/TarnQuay/Kilning/KilnHouse/KLN4/BedDepth';
  await page.getByText('Hand in values of the past').click();
  await page.getByLabel(/^Path of the property/).fill(path);
  await page.getByLabel(/^Lines: time, value/).fill('2026-01-02T10:00:00Z, 0.9\nyesterday, 1');
  await page.getByRole('button', { name: 'Look what it would do' }).click();
  await expect(page.getByRole('alert')).toContainText("Line 2: 'yesterday' is no time");
  await page.getByLabel(/^Lines: time, value/).fill('time,value\n2026-01-02T10:00:00Z, 0.9\n2026-01-02T10:10:00Z, 0.7');
  await page.getByRole('button', { name: 'Look what it would do' }).click();
  await expect(page.getByText(`This takes in 2 values of ${path}`)).toBeVisible();
  await page.getByRole('button', { name: 'Take in', exact: true }).click();
  await expect(page.getByRole('status').first()).toContainText('Taken in: 2 values');
  const asked = `${fralto.base}/api/v1/history?path=${path}&from=2026-01-01&to=2026-01-03`;
  expect((await (await fetch(asked)).json()).items.map(i => i.value)).toEqual([0.9, 0.7]);

  const until = new Date(Date.now() - 2000).toISOString();
  const airOn = 'Corvane/TarnQuay/Kilning/KilnHouse/KLN1/AirOn';
  const recorded = async () =>
    (await (await fetch(`${fralto.base}/api/v1/history?path=${airOn}&to=${until}&limit=10000`)).json()).items;
  const before = await recorded();
  expect(before.length).toBeGreaterThan(100);
  await fralto.stop();
  fralto = await startFralto('demo', fralto.directory, true, 1);
  expect(await recorded()).toEqual(before);
  expect((await (await fetch(asked.replace(/^http:\/\/[^/]+/, fralto.base))).json()).items.length).toBe(2);
});
