// From an empty data directory to a living, alarmed value, in the browser alone, against a device that is not ours.
import { test, expect } from './test.mjs';
import { startDevice } from './device.mjs';
import { freePort, startFralto } from './fralto.mjs';

let fralto;
let device;

test.beforeAll(async () => {
  device = await startDevice();
  fralto = await startFralto();
});
test.afterAll(async () => {
  await fralto?.forget();
  await device?.stop();
});

async function fill(page, fields) {
  for (const [label, value] of Object.entries(fields)) await page.getByLabel(label, { exact: true }).fill(`${value}`);
}

async function add(page, { name, code, level, template }) {
  await page.getByRole('link', { name: 'Add one below' }).click();
  await fill(page, { Name: name, Code: code });
  if (level) await page.getByLabel('Level', { exact: true }).selectOption({ label: level });
  if (template) await page.getByLabel('Instance of', { exact: true }).selectOption({ label: template });
  await page.getByRole('button', { name: 'Add to the plant', exact: true }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(name);
}

test('a modeller goes from an empty plant to a living alarm', async ({ browser }) => {
  const page = await (await browser.newContext()).newPage();
  const complaints = [];
  page.on('console', message => {
    // A piece that is still on its way when the page is left is given up, and htmx says so.
    if (message.type() === 'error' && !/422|^htmx:(sendAbort|afterRequest),/.test(message.text())) complaints.push(message.text());
  });
  page.on('pageerror', error => complaints.push(error.message));
  page.on('dialog', dialog => dialog.accept());

  await test.step('1. add a controller, and read why a connection fails', async () => {
    await page.goto(fralto.base);
    await expect(page.getByRole('heading', { name: 'Add a controller' })).toBeVisible();
    const dead = await freePort();
    await fill(page, {
      Name: 'line-plc',
      'Host name or IP address': '127.0.0.1',
      'TCP port': dead,
      'Unit id': 1,
      'Update interval, ms': 200,
    });
    await page.getByRole('button', { name: 'Test connection', exact: true }).click();
    await expect(page.locator('#verdict')).toContainText('connection refused');
    await page.getByLabel('TCP port', { exact: true }).fill(`${device.port}`);
    await page.getByLabel('Unit id', { exact: true }).fill('9');
    await page.getByRole('button', { name: 'Test connection', exact: true }).click();
    await expect(page.locator('#verdict')).toContainText('Check the unit id');
    await page.getByLabel('Unit id', { exact: true }).fill('1');
    await page.getByRole('button', { name: 'Test connection', exact: true }).click();
    await expect(page.locator('#verdict')).toContainText('Works.');
    await page.getByRole('button', { name: 'Add controller', exact: true }).click();
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('line-plc');
  });

  await test.step('2. declare tags and see raw values change', async () => {
    await page.getByRole('link', { name: 'Declare tag' }).click();
    const tags = [
      ['TT01', 'holding (4xxxx)', 0, 'int16', null],
      ['PT01', 'holding (4xxxx)', 10, 'float32', 'CDAB, low word first'],
      ['RUN', 'coil (0xxxx)', 3, 'bool', null],
      ['TT02', 'holding (4xxxx)', 1, 'int16', null],
    ];
    for (const [name, table, address, type, order] of tags) {
      await fill(page, { 'Tag name': name, 'Address on the wire': address });
      await page.getByLabel('Table', { exact: true }).selectOption({ label: table });
      await page.getByLabel('Raw type', { exact: true }).selectOption({ label: type });
      if (order) await page.getByLabel('Order of words and bytes', { exact: true }).selectOption({ label: order });
      await page.getByRole('button', { name: 'Declare tag', exact: true }).click();
      await expect(page.getByRole('row', { name: new RegExp(`^${name} `) })).toBeVisible();
    }
    await page.getByRole('link', { name: 'Cancel' }).click();
    const raw = name => page.getByRole('row', { name: new RegExp(`^${name} `) }).locator('.value');
    await expect(raw('TT01')).toHaveText('0');
    device.holding[0] = 12345;
    device.float(10, 71.5, true);
    device.coils[3] = 1;
    await expect(raw('TT01')).toHaveText('12345');
    await expect(raw('PT01')).toHaveText('71.5');
    await expect(raw('RUN')).toHaveText('1');
    await expect(page.locator('[data-figure=Controllers]')).toHaveText('1 of 1 up');
  });

  await test.step('3. define a template: number with scale and limits, state, text', async () => {
    await page.getByRole('link', { name: /^Templates/ }).click();
    await page.getByRole('link', { name: 'State lists' }).click();
    await fill(page, { Name: 'Run state', 'States, a line each: value, space, name': '0 Stopped\n1 Running' });
    await page.getByRole('button', { name: 'Add state list', exact: true }).click();
    await page.getByRole('link', { name: /^Templates/ }).click();
    await fill(page, { Name: 'Oven', Description: 'Bakes' });
    await page.getByRole('button', { name: 'Add template', exact: true }).click();
    await page.getByRole('link', { name: 'Add property' }).click();
    await page.getByLabel('Scale', { exact: true }).selectOption({ label: 'a scale of its own' });
    await fill(page, { 'Property name': 'Temperature', Unit: 'CEL', 'Range low': -50, 'Raw low': 4, Code: 'T' });
    const property = page.locator('form.property');
    await property.locator('#f-RangeHigh').fill('50');
    await property.locator('#f-RawHigh').fill('4');
    await property.locator('#f-HighSetpoint').fill('40');
    await property.locator('#f-HighDeadband').fill('2');
    await property.locator('#f-HighPriority').selectOption('2');
    await page.getByRole('button', { name: 'Add property', exact: true }).click();
    await expect(page.getByText('Raw low and raw high are both 4; they must differ.')).toBeVisible();
    await expect(property.locator('#f-Unit')).toHaveValue('CEL');
    await property.locator('#f-RawLow').fill('4000');
    await property.locator('#f-RawHigh').fill('20000');
    await page.getByRole('button', { name: 'Add property', exact: true }).click();
    await expect(page.getByRole('group', { name: /Ruler of Temperature: H 40/ })).toBeVisible();

    await page.getByRole('link', { name: 'Add property' }).click();
    await fill(page, { 'Property name': 'Fan', Code: 'Fan' });
    await page.getByLabel('Type', { exact: true }).selectOption({ label: 'state' });
    await page.getByLabel('State list', { exact: true }).selectOption({ label: 'Run state' });
    await page.getByRole('button', { name: 'Add property', exact: true }).click();
    await page.getByRole('link', { name: 'Add property' }).click();
    await fill(page, { 'Property name': 'Maker', Code: 'Maker' });
    await page.getByLabel('Kind', { exact: true }).selectOption({ label: 'fixed' });
    await page.getByLabel('Type', { exact: true }).selectOption({ label: 'text' });
    await page.getByRole('button', { name: 'Add property', exact: true }).click();
    await expect(page.getByRole('row', { name: /^Maker fixed, text/ })).toBeVisible();
  });

  await test.step('4. build the plant and place two instances', async () => {
    await page.getByRole('link', { name: /^Plant/ }).click();
    await fill(page, { Name: 'Bakery', Code: 'B' });
    await page.getByRole('button', { name: 'Add to the plant', exact: true }).click();
    await add(page, { name: 'North', code: 'N', level: 'site' });
    await add(page, { name: 'Baking', code: 'BK', level: 'area' });
    await add(page, { name: 'Hall', code: 'H', level: 'process cell' });
    await page.getByRole('link', { name: 'Add one below' }).click();
    await expect(page.getByLabel('Level', { exact: true }).locator('option')).toHaveText([
      'unit',
      'equipment module',
      'control module',
      'other',
    ]);
    await page.getByRole('link', { name: 'Cancel' }).click();
    await add(page, { name: 'Oven 1', code: 'OV1', level: 'unit', template: 'Oven' });
    await page.getByLabel('Maker', { exact: true }).fill('Own workshop');
    await page.getByRole('button', { name: 'set here', exact: true }).click();
    await expect(page.getByLabel('Maker', { exact: true })).toHaveValue('Own workshop');
    await expect(page.getByRole('button', { name: 'back to template', exact: true })).toBeVisible();
    await page.getByRole('link', { name: 'Hall' }).first().click();
    await add(page, { name: 'Oven 2', code: 'OV2', level: 'unit', template: 'Oven' });
  });

  await test.step('5. bind properties to tags', async () => {
    await page.getByRole('link', { name: /^Bindings/ }).click();
    for (const [cell, tag] of [
      ['Oven 1 Temperature', 'TT01'],
      ['Oven 1 Fan', 'RUN'],
    ]) {
      await page.getByRole('link', { name: `${cell}: open` }).click();
      await page.getByRole('button', { name: tag, exact: true }).click();
      await expect(page.getByRole('link', { name: `${cell}: ${tag}` })).toBeVisible();
    }
    // One bound by hand is enough for the next to be proposed.
    await page.getByRole('link', { name: 'Oven 2 Temperature: proposed TT02' }).click();
    await page.getByRole('button', { name: 'Bind TT02', exact: true }).click();
    await expect(page.getByRole('link', { name: 'Oven 2 Temperature: TT02' })).toBeVisible();
    await expect(page.locator('[data-figure=Bindings]')).toHaveText('3 / 4');
    await page.getByRole('link', { name: 'Oven 2 Fan: open' }).click();
    await expect(page.getByRole('button', { name: 'PT01', exact: true })).toHaveCount(0);
  });

  await test.step('6. two windows watch the same values live; an alarm raises and clears', async () => {
    const other = await (await browser.newContext()).newPage();
    await page.getByRole('link', { name: /^Live/ }).click();
    await other.goto(`${fralto.base}/live`);
    const value = (of, name) =>
      of
        .getByRole('row', { name: new RegExp(` ${name} `) })
        .locator('.value')
        .first();
    device.holding[0] = 4000;
    for (const window of [page, other]) await expect(value(window, 'Temperature')).toHaveText('-50.0');
    device.holding[0] = 20000;
    for (const window of [page, other]) await expect(value(window, 'Temperature')).toHaveText('50.0');
    for (const window of [page, other]) await expect(value(window, 'Fan')).toHaveText('Running');
    await expect(page.getByRole('img', { name: 'priority 2' })).toBeVisible();

    await other.getByRole('link', { name: /^Alarms/ }).click();
    const alarms = other.getByRole('table', { name: 'Alarms' });
    await expect(alarms).toContainText('active, not acknowledged');
    await expect(page.locator('[data-figure=Alarms]')).toHaveText('1 active');
    device.holding[0] = 18300; // 39.375: back, but inside the deadband
    await expect(value(page, 'Temperature')).toHaveText('39.4');
    await expect(page.locator('[data-figure=Alarms]')).toHaveText('1 active');
    device.holding[0] = 12000; // 0
    await expect(value(page, 'Temperature')).toHaveText('0.0');
    await expect(page.locator('[data-figure=Alarms]')).toHaveText('0 active');
    await expect(alarms).toContainText('returned, not acknowledged');
    await other.getByRole('button', { name: /^Acknowledge Temperature/ }).click();
    await expect(other.getByText('No alarm.')).toBeVisible();
    await other.getByRole('link', { name: 'Log', exact: true }).click();
    await expect(other.getByRole('grid', { name: 'events' })).toContainText('acknowledged by local user');
    await other.close();
  });

  await test.step('8. review and release: from then on an edit runs nothing before it is released', async () => {
    await page.getByRole('link', { name: /^Review/ }).click();
    await fill(page, { Note: 'The first oven' });
    await page.getByRole('button', { name: 'Release 1' }).click();
    await expect(page.getByRole('status').first()).toContainText('Release 1 is made');
    await page.getByRole('link', { name: /^Templates/ }).click();
    await page.getByRole('link', { name: 'Temperature', exact: true }).first().click();
    await page.locator('form.property #f-HighSetpoint').fill('-5');
    await page.getByRole('button', { name: 'Save property', exact: true }).click();
    await page.getByRole('link', { name: /^Review/ }).click();
    const changes = page.getByRole('region', { name: 'Changes, one after the other' });
    await expect(changes).toContainText(/H 40 → -5/);
    await expect(changes).toContainText(/raise/);
    expect((await fralto.api('/alarms')).filter(a => a.active)).toEqual([]);
    await fill(page, { Note: 'Colder' });
    await page.getByRole('button', { name: 'Release 2' }).click();
    await expect(page.locator('[data-figure=Alarms]')).toHaveText('1 active');
    await page.getByRole('button', { name: 'run again: release 1' }).click();
    await expect(page.locator('[data-figure=Alarms]')).toHaveText('0 active');
  });

  await expect
    .poll(async () => (await fralto.api('/values?path=B/N/BK/H/OV1/T'))[0])
    .toMatchObject({
      path: 'B/N/BK/H/OV1/T',
      value: 0,
      unit: '°C',
      unitCode: 'CEL',
      status: { name: 'Good', number: 0 },
      raw: 12000,
      controller: 'line-plc',
      address: 'holding 0',
      type: 'Int16',
    });
  expect(complaints).toEqual([]);
});

test('a restart shows the same plant, and a device that goes away and comes back', async ({ page }) => {
  await fralto.stop();
  fralto = await startFralto('serve', fralto.directory);
  await page.goto(`${fralto.base}/live`);
  const temperature = page.getByRole('row', { name: / Temperature / }).first();
  await expect(temperature.locator('.value')).toHaveText('0.0');
  await device.stop();
  await expect(temperature).toContainText(/BadNotConnected: connection (lost|refused)/);
  await expect(temperature.locator('.value')).toHaveClass(/bad/);
  await expect(page.locator('[data-figure=Controllers]')).toHaveText('0 of 1 up');
  expect((await fralto.api('/values'))[0]).toMatchObject({ status: { name: 'BadNotConnected' }, controller: 'line-plc' });
});
