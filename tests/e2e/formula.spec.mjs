// A formula is said once on a template: written with the keyboard, mistyped and mended, seen live, refined at one instance; totals are
// reset by command and stay through a restart; a laboratory enters what no device measures.
import { test, expect } from './test.mjs';
import { startFralto } from './fralto.mjs';

let fralto;
test.beforeAll(async () => {
  fralto = await startFralto('demo');
});
test.afterAll(async () => {
  await fralto.forget();
});

const field = (page, label) => page.getByLabel(label, { exact: true });
const all = () => fralto.api('/equipment');
const idOf = async code => (await all()).find(e => e.code === code).id;
const value = async path => (await fralto.api(`/values?path=${path}`))[0];
const kiln = number => `Corvane/TarnQuay/Kilning/KilnHouse/KLN${number}`;

test('a formula is written with the keyboard, what does not fit is mended, and it runs for every instance', async ({ page }) => {
  const template = (await fralto.api('/templates')).find(t => t.code === 'Kiln').id;
  await page.goto(`${fralto.base}/templates?at=${template}&open=property`);
  await field(page, 'Property name').fill('Water in the bed');
  await field(page, 'Code').fill('WaterInBed');
  await field(page, 'Kind').selectOption('Calculated');
  await field(page, 'Unit').fill('t');
  const formula = field(page, 'Formula');
  await formula.focus();
  // What is found for the first letter is not chosen from once more is typed, however late the answers come.
  await page.route(/handler=Words|q=DryL/, async route => {
    await new Promise(resolve => setTimeout(resolve, 400));
    await route.continue();
  });
  await page.keyboard.type('D');
  await expect(page.getByRole('option', { name: /^Door/ })).toBeVisible();
  await page.keyboard.type('ryL');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(formula).toHaveValue('DryLoad');
  await page.unroute(/handler=Words|q=DryL/);
  await page.keyboard.press('End');
  await page.keyboard.type(' * Moistur / (100 % - Moistur)');
  await page.keyboard.press('Escape');
  const wrong = page.locator('.formulawrong');
  await expect(wrong.locator('mark')).toHaveText('Moistur');
  await expect(wrong).toContainText('did you mean Moisture?');
  // What is said of the formula is drawn anew every two seconds: a key that falls in between is pressed again.
  const use = page.getByRole('button', { name: 'Use Moisture' });
  const mend = to =>
    expect(async () => {
      if ((await formula.inputValue()) !== to && (await use.count()) > 0) await use.first().press('Enter', { timeout: 2000 });
      await expect(formula).toHaveValue(to, { timeout: 1000 });
    }).toPass({ timeout: 60_000 });
  await mend('DryLoad * Moisture / (100 % - Moistur)');
  await expect(use).toHaveCount(1);
  await mend('DryLoad * Moisture / (100 % - Moisture)');
  await expect(page.locator('svg.brackets')).toHaveAttribute('aria-label', /DryLoad is t;.*DryLoad \* Moisture/);
  // What is said of a formula that stands there no more mends nothing: the server is slow, and one types on meanwhile.
  await formula.fill('Moistur * 2');
  await expect(wrong.locator('mark')).toHaveText('Moistur');
  let answer;
  const answered = new Promise(done => (answer = done));
  await page.route(/handler=Report/, async route => {
    await answered;
    // One that a later one took the place of is over.
    await route.continue().catch(() => {});
  });
  for (const written of ['DryLoad + Moistur', 'Moisture * 2', 'xMoistur * 2']) {
    await formula.fill(written);
    await use.dispatchEvent('click');
    await expect(formula).toHaveValue(written);
  }
  answer();
  await page.unrouteAll({ behavior: 'wait' });
  // Metres and tonnes do not go together, and nothing is saved.
  await formula.fill('DryLoad + BedDepth');
  await expect(wrong).toContainText('DryLoad is in t, BedDepth is in m: they cannot be added.');
  await page.getByRole('button', { name: 'Add property', exact: true }).click();
  await expect(page.locator('small.problem', { hasText: 'they cannot be added' })).toBeVisible();
  await formula.fill('DryLoad * Moisture / (100 % - Moisture)');
  await page.getByRole('button', { name: 'Add property', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Water in the bed' })).toBeVisible();
  await expect(page.locator('table.steps')).toContainText('DryLoad * Moisture');
  await expect.poll(async () => (await value(`${kiln(1)}/WaterInBed`))?.source).toBe('formula');
});

test('what no device measures is entered on the sheet and over the interface, and formulas follow', async ({ page }) => {
  await page.goto(`${fralto.base}/plant?at=${await idOf('KLN1')}`);
  await page.getByRole('textbox', { name: 'Dry mass of the load' }).fill('heavy');
  await page.getByRole('button', { name: 'Enter Dry mass of the load' }).click();
  await expect(page.getByRole('alert')).toContainText("'heavy' is no number");
  await page.goto(`${fralto.base}/plant?at=${await idOf('KLN1')}`);
  await page.getByRole('textbox', { name: 'Dry mass of the load' }).fill('40');
  await page.getByRole('textbox', { name: 'Dry mass of the load' }).press('Enter');
  await expect(page.getByRole('status').first()).toContainText('Entered');
  await expect(page.getByText(/^local user, /)).toBeVisible();
  const { value: moisture } = await value(`${kiln(1)}/Moisture`);
  await expect.poll(async () => (await value(`${kiln(1)}/WaterInBed`)).value).toBeGreaterThan(0);
  const water = (await value(`${kiln(1)}/WaterInBed`)).value;
  expect(Math.abs(water - (40 * moisture) / (100 - moisture))).toBeLessThan(0.5);
  const put = await fetch(`${fralto.base}/api/v1/entered`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ path: `${kiln(2)}/DryLoad`, value: 38.5 }),
  });
  expect(put.status).toBe(204);
  expect(await value(`${kiln(2)}/DryLoad`)).toMatchObject({ source: 'entered', value: 38.5, unit: 't' });
  const sources = new Set((await fralto.api('/values')).map(v => v.source));
  expect([...sources].sort()).toEqual(['entered', 'formula', 'tag']);
});

test('windows of several lengths are said at once, and what they do not cover yet is said', async ({ page }) => {
  const template = (await fralto.api('/templates')).find(t => t.code === 'Kiln').id;
  await page.goto(`${fralto.base}/templates?at=${template}&open=property`);
  await field(page, 'Property name').fill('Mean moisture');
  await field(page, 'Kind').selectOption('Calculated');
  await field(page, 'Unit').fill('%');
  await field(page, 'Formula').fill('mean of Moisture last 15 min, 1 h and 8 h');
  await expect(page.getByText('Makes 3 properties, one for each window')).toContainText('15 min, 1 h, 8 h');
  await page.getByRole('button', { name: 'Add property', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Mean moisture 8 h' })).toBeVisible();
  await page.goto(`${fralto.base}/templates?at=${template}`);
  for (const length of ['15 min', '1 h', '8 h'])
    await expect(page.getByRole('link', { name: `Mean moisture ${length}`, exact: true })).toBeVisible();
  await expect.poll(async () => (await value(`${kiln(1)}/Mean-moisture-8-h`))?.source ?? '').toBe('formula');
  await page.goto(`${fralto.base}/plant?at=${await idOf('KLN1')}`);
  await page.locator('summary', { hasText: /\d+ findings?$/ }).click();
  await expect(page.getByText(/Mean moisture 15 min (covers \d+ %|has had no value yet)/)).toBeVisible();
  await expect(page.getByText('Mean moisture 8 h is taken by no formula and has no limit')).toBeVisible();
  await page.getByRole('button', { name: /^Take back/ }).click();
  await page.goto(`${fralto.base}/templates?at=${template}`);
  await expect(page.getByText('Mean moisture')).toHaveCount(0);
});

test('a formula is refined at one instance, and goes back', async ({ page }) => {
  const id = await idOf('KLN2');
  await page.goto(`${fralto.base}/plant?at=${id}`);
  await page.getByRole('link', { name: 'Water in the bed' }).click();
  await field(page, 'Formula').fill('DryLoad / 2');
  await expect(page.locator('table.steps')).toContainText('DryLoad / 2');
  await page.getByRole('button', { name: 'Set for Kiln 2' }).click();
  await expect.poll(async () => (await value(`${kiln(2)}/WaterInBed`)).value).toBe(19.25);
  expect((await value(`${kiln(1)}/WaterInBed`)).value).not.toBe(20);
  await page.getByRole('button', { name: 'Back to template', exact: true }).click();
  await expect.poll(async () => (await value(`${kiln(2)}/WaterInBed`)).value).not.toBe(19.25);
});

test('a total is reset by command, noted, and stays through a restart', async ({ page }) => {
  const fan = `${kiln(1)}/MainFan/RunningHours`;
  const gas = async () => (await value(`${kiln(3)}/BatchGas`)).value;
  await expect.poll(gas, { timeout: 20_000 }).toBeGreaterThan(0.05);
  await page.goto(`${fralto.base}/plant?at=${(await all()).find(e => e.path === `${kiln(1)}/MainFan`).id}`);
  const before = (await value(fan)).value;
  expect(before).toBeGreaterThan(0);
  page.on('dialog', dialog => dialog.accept());
  await page.getByRole('button', { name: 'Reset Running hours' }).click();
  await expect(page.getByRole('status').first()).toContainText('Reset');
  expect((await value(fan)).value).toBeLessThan(before);
  await page.goto(`${fralto.base}/journal?commands=true`);
  await expect(page.getByText(fan).first()).toBeVisible();
  const [total, load] = [await gas(), (await value(`${kiln(1)}/DryLoad`)).value];
  await fralto.stop();
  fralto = await startFralto('demo', fralto.directory);
  expect(await gas()).toBeGreaterThanOrEqual(total - 1e-9);
  expect((await value(`${kiln(1)}/DryLoad`)).value).toBe(load);
  // Killed, it loses what came in two seconds, at the most gas there can be, and a little for the writing.
  const most = (800 / 3600) * 2.5;
  await expect.poll(gas, { timeout: 40_000 }).toBeGreaterThan(2 * most);
  const counted = await gas();
  await fralto.stop('SIGKILL');
  fralto = await startFralto('demo', fralto.directory);
  expect(await gas()).toBeGreaterThan(counted - most);
});

test('a command follows a formula, another is given a value at a start, and both are noted', async () => {
  let plant = await startFralto('serve');
  const model = {
    format: 'fralto-model',
    version: 1,
    templates: [
      {
        code: 'Mixer',
        properties: [
          { code: 'Asked', kind: 'Measured', type: 'Number', unit: 'P1' },
          { code: 'Speed', kind: 'Command', type: 'Number', unit: 'P1', range: [0, 100], formula: 'Asked / 2', followDeadband: 1 },
          { code: 'Ramp', kind: 'Command', type: 'Number', unit: 'SEC', range: [0, 100], atStart: '7' },
          { code: 'Held', kind: 'Command', type: 'Number', unit: 'SEC', range: [0, 100], atStart: 'last' },
        ],
      },
    ],
    equipment: [
      { path: 'Co', level: 'Enterprise' },
      { path: 'Co/M1', level: 'Unit', template: 'Mixer' },
    ],
    controllers: [
      {
        name: 'mem',
        protocol: 'Memory',
        tags: ['asked', 'speed', 'ramp', 'held'].map(name => ({ name, address: 'start 0', type: 'Float64' })),
      },
    ],
    bindings: ['Asked', 'Speed', 'Ramp', 'Held'].map(property => ({
      equipment: 'Co/M1',
      property,
      controller: 'mem',
      tag: property.toLowerCase(),
    })),
  };
  const send = (method, path, body) =>
    fetch(`${plant.base}/api/v1${path}`, { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });
  const held = async code => (await plant.api(`/values?path=Co/M1/${code}`))[0]?.value;
  expect((await send('PUT', '/model', model)).ok).toBe(true);
  await expect.poll(() => held('Ramp')).toBe(7);
  await send('PUT', '/controllers/mem/tags/asked/value', { value: 80 });
  await expect.poll(() => held('Speed')).toBe(40);
  // What moves by less than the deadband writes nothing; what moves on is followed.
  await send('PUT', '/controllers/mem/tags/asked/value', { value: 81 });
  await send('PUT', '/controllers/mem/tags/asked/value', { value: 20 });
  await expect.poll(() => held('Speed')).toBe(10);
  expect((await send('POST', '/commands', { path: 'Co/M1/Held', value: 33 })).ok).toBe(true);
  const given = await plant.api('/commands');
  expect(given.map(c => `${c.who} ${c.target} ${c.wanted}`)).toEqual(
    expect.arrayContaining(['formula Co/M1/Speed 40 %', 'formula Co/M1/Speed 10 %', 'at start Co/M1/Ramp 7 s']),
  );
  await plant.stop();
  plant = await startFralto('serve', plant.directory);
  await expect.poll(() => held('Held')).toBe(33);
  await plant.forget();
});
