// Alarms from declaring to the log: limits of every kind on a template, raised, acknowledged, shelved and brought back, latched, put out of
// service, filtered by place and label, as a flood, and judged by the standard.
import { createServer } from 'node:http';
import { once } from 'node:events';
import { test, expect } from './test.mjs';
import { startFralto } from './fralto.mjs';

let fralto;
const ovens = Array.from({ length: 12 }, (_, i) => `O${i + 1}`);

test.beforeAll(async () => {
  fralto = await startFralto('serve');
  const tags = ovens.flatMap(o => [
    { name: `${o}.Temp`, type: 'Float64', address: 'retained' },
    { name: `${o}.Set`, type: 'Float64', address: 'retained' },
    { name: `${o}.Run`, type: 'Bool', address: 'retained' },
  ]);
  const model = {
    format: 'fralto-model',
    version: 1,
    templates: [
      {
        code: 'Oven',
        properties: [
          {
            ...{ code: 'Temp', name: 'Temperature', kind: 'Measured', type: 'Number', unit: 'CEL', range: [0, 100] },
            limits: { High: { setpoint: 80 } },
          },
          { code: 'Set', kind: 'Measured', type: 'Number', unit: 'CEL', range: [0, 100] },
          { code: 'Run', kind: 'Measured', type: 'Boolean' },
        ],
      },
    ],
    equipment: [
      { path: 'W', level: 'Enterprise' },
      { path: 'W/S', level: 'Site' },
      { path: 'W/S/East', level: 'Area', labels: { crew: 'early' } },
      { path: 'W/S/West', level: 'Area' },
      ...ovens.map((o, i) => ({ path: `W/S/${i < 6 ? 'East' : 'West'}/${o}`, level: 'Unit', template: 'Oven' })),
    ],
    controllers: [{ name: 'mem', protocol: 'Memory', tags }],
    bindings: ovens.flatMap((o, i) =>
      ['Temp', 'Set', 'Run'].map(property => ({
        equipment: `W/S/${i < 6 ? 'East' : 'West'}/${o}`,
        property,
        controller: 'mem',
        tag: `${o}.${property}`,
      })),
    ),
  };
  const put = await fetch(`${fralto.base}/api/v1/model`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(model),
  });
  expect(put.status, await put.text()).toBeLessThan(300);
  for (const o of ovens) {
    await write(`${o}.Temp`, 20);
    await write(`${o}.Set`, 20);
    await write(`${o}.Run`, true);
  }
});
test.afterAll(async () => {
  await fralto.forget();
});

const address = 'Address, path of the command, or broker and topic';
const field = (page, label) => page.getByLabel(label, { exact: true });
const write = (tag, value) =>
  expect
    .poll(
      async () =>
        (
          await fetch(`${fralto.base}/api/v1/controllers/mem/tags/${tag}/value`, {
            method: 'PUT',
            headers: { 'content-type': 'application/json' },
            body: JSON.stringify({ value }),
          })
        ).status,
    )
    .toBe(200);
const states = async () => Object.fromEntries((await fralto.api('/alarms')).map(a => [`${a.path.split('/').at(-2)} ${a.limit}`, a.state]));
const post = async (what, body) =>
  (
    await fetch(`${fralto.base}/api/v1/alarms/${what}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    })
  ).json();

test('limits of other kinds are declared on the template, what is wrong is said at its field', async ({ page }) => {
  const template = (await fralto.api('/templates'))[0].id;
  await page.goto(`${fralto.base}/templates?at=${template}`);
  await page.getByRole('link', { name: 'Temperature' }).click();
  await page.getByRole('link', { name: 'message, action and more of H', exact: true }).click();
  // A level's setpoint is a number or another property, and both can be reached.
  await expect(field(page, 'Setpoint')).toHaveValue('80');
  await field(page, 'or the setpoint from').fill('Set');
  await page.getByRole('button', { name: 'Save limit' }).click();
  await expect(page.locator('small.problem')).toContainText('leave one empty');
  await field(page, 'or the setpoint from').fill('');
  await field(page, 'Message').fill('Oven at {value} {unit}, {Nonsense}');
  await field(page, 'Operator action').fill('Open the door\nCall the baker');
  await field(page, 'Time to respond, s').fill('600');
  await field(page, 'Captured when raised, a line each').fill('set = {Set}');
  await page.getByRole('button', { name: 'Save limit' }).click();
  await expect(page.locator('small.problem')).toContainText('{Nonsense} names nothing here');
  await field(page, 'Message').fill('Oven at {value} {unit}');
  await page.getByRole('button', { name: 'Save limit' }).click();
  await expect(page.getByRole('heading', { name: 'Temperature' })).toBeVisible();
  await page.getByRole('link', { name: /^another limit/ }).click();
  await field(page, 'Code').fill('Off');
  await field(page, 'Looks at').selectOption('Deviation');
  await field(page, 'Setpoint').fill('10');
  await field(page, 'From, state or formula').fill('Sett');
  await field(page, 'Counts while').fill('Run');
  await page.getByRole('button', { name: 'Add limit' }).click();
  await expect(page.locator('small.problem')).toContainText('Sett');
  await field(page, 'From, state or formula').fill('Set');
  await page.getByRole('button', { name: 'Add limit' }).click();
  await expect(page.getByRole('link', { name: /^Off: more than 10 °C from Set/ })).toBeVisible();
  // The sheet's own form keeps what it does not show.
  await field(page, 'Description').fill('inside');
  await page.getByRole('button', { name: 'Save property' }).click();
  await expect(page.getByRole('link', { name: /^Off:/ })).toBeVisible();
  await write('O1.Temp', 40);
  await expect.poll(async () => (await states())['O1 Off']).toBe('Unacknowledged');
  await write('O1.Run', false);
  await expect.poll(async () => (await states())['O1 Off']).toBe('SuppressedByDesign');
  await write('O1.Temp', 20);
  await write('O1.Run', true);
  await expect.poll(async () => (await states())['O1 Off'] ?? 'Normal').toBe('Normal');
});

test('an alarm is opened, acknowledged and shelved by keyboard, comes back, and the log tells it', async ({ page }) => {
  await write('O2.Run', false);
  await write('O2.Set', 90);
  await write('O2.Temp', 91);
  await page.goto(`${fralto.base}/alarms`);
  const row = page.getByRole('row', { name: /Temperature H 80/ });
  await expect(row).toContainText('Oven at 91.0 °C');
  await page.locator('body').press('ArrowDown');
  await expect(page.locator('.alarmlink').first()).toBeFocused();
  await page.keyboard.press('Enter');
  const sheet = page.getByRole('complementary', { name: 'Alarm' });
  await expect(sheet).toContainText('Open the door');
  await expect(sheet).toContainText('left of 10 min');
  await expect(sheet.getByRole('table', { name: 'Captured when raised' })).toContainText('90.0 °C');
  // The sheet says how it stands now, and keeps what is being typed.
  await field(page, 'Comment, needed to shelve').fill('half a');
  await write('O2.Temp', 70);
  await expect(sheet).toContainText('Returned, not acknowledged');
  await expect(sheet.getByRole('table', { name: 'Last events' })).toContainText('returned to normal');
  await write('O2.Temp', 91);
  await expect(sheet).toContainText('Active, not acknowledged');
  await expect(field(page, 'Comment, needed to shelve')).toHaveValue('half a');
  await field(page, 'Comment, needed to shelve').fill('');
  await page.locator('.alarmlink').first().focus();
  await page.keyboard.press('a');
  await expect(page.getByRole('status').first()).toContainText('Acknowledged');
  await expect(row).toContainText('by local user');
  // To shelve, say why: nothing is done without.
  await page.getByRole('button', { name: /^15 min/ }).click();
  await expect(field(page, 'Comment, needed to shelve')).toBeFocused();
  await page.keyboard.type('door seal is on its way');
  await page.getByRole('button', { name: /^15 min/ }).click();
  await expect(page.getByRole('status').first()).toContainText('Shelved');
  await expect.poll(async () => (await states())['O2 H']).toBe('Shelved');
  await page.keyboard.press('Escape');
  await expect(sheet).toHaveCount(0);
  await expect(page.getByText('Shelved 1')).toBeVisible();
  await page.locator('body').press('q');
  await page.getByRole('button', { name: /^Bring back/ }).click();
  await expect.poll(async () => (await states())['O2 H']).toBe('Unacknowledged');
  await page.goto(`${fralto.base}/alarms/log`);
  const events = page.getByRole('grid', { name: 'events' });
  for (const words of ['raised', 'acknowledged by local user', 'shelved by local user', 'brought back by local user'])
    await expect(events).toContainText(words);
  await expect(events).toContainText('door seal is on its way');
  await page.goto(`${fralto.base}/alarms/log?from=yesterdayish`);
  await expect(page.getByRole('alert')).toContainText('A time is written as');
  await write('O2.Temp', 20);
});

test('two people at once, what is gone and what the rule forbids are said, and nothing is done', async () => {
  await write('O3.Temp', 91);
  await expect.poll(async () => (await states())['O3 H']).toBe('Unacknowledged');
  const it = { alarms: [{ path: 'W/S/East/O3/Temp', limit: 'H' }] };
  const [one, two] = await Promise.all([post('acknowledge', it), post('acknowledge', it)]);
  expect([one.done, two.done].sort()).toEqual([0, 1]);
  expect([...one.refused, ...two.refused][0].why).toContain('has acknowledged it already');
  expect((await post('shelve', { ...it, minutes: 6000, comment: 'long' })).refused[0].why).toContain('allows at most 8 h');
  expect((await post('shelve', { ...it, minutes: 10 })).refused[0].why).toContain('say why');
  const nothing = { alarms: [{ path: 'W/S/East/O3/Temp', limit: 'Nope' }] };
  expect((await post('acknowledge', nothing)).refused[0].why).toBe('it has no such limit');
  expect((await post('out-of-service', { ...it, comment: 'probe away' })).done).toBe(1);
  await write('O3.Temp', 20);
  await write('O3.Temp', 95);
  await expect.poll(async () => (await states())['O3 H']).toBe('OutOfService');
  expect((await post('in-service', it)).done).toBe(1);
  await expect.poll(async () => (await states())['O3 H']).toBe('Unacknowledged');
  await write('O3.Temp', 20);
  await expect.poll(async () => (await states())['O3 H']).toBe('ReturnedUnacknowledged');
  await post('acknowledge', it);
});

test('a flood is filtered by place and label, acknowledged in one go, and judged', async ({ page }) => {
  for (const o of ovens) {
    await write(`${o}.Run`, false);
    await write(`${o}.Set`, 95);
    await write(`${o}.Temp`, 96);
  }
  await expect.poll(async () => Object.keys(await states()).filter(k => k.endsWith(' H')).length).toBe(12);
  await page.goto(`${fralto.base}/alarms`);
  await page.getByRole('link', { name: /^crew=early/ }).click();
  const table = page.getByRole('table', { name: 'Alarms' });
  await expect(table.getByRole('row', { name: /Temperature H/ })).toHaveCount(6);
  await page.getByRole('button', { name: 'keep as my area' }).click();
  await page.getByRole('link', { name: 'whole plant' }).click();
  await expect(table.getByRole('row', { name: /Temperature H/ })).toHaveCount(12);
  await page.getByRole('link', { name: 'my area' }).click();
  // What is raised after the board was drawn has not been seen: it stays.
  await page.route('**/alarms?*handler=Lists*', route => route.abort());
  await write('O1.Temp', 20);
  await write('O1.Temp', 96.5);
  await expect
    .poll(async () => (await fralto.api('/alarms')).find(a => a.path.endsWith('O1/Temp') && a.limit === 'H').raisedValue)
    .toBe(96.5);
  await page.getByRole('button', { name: /^Acknowledge all 6 shown/ }).click();
  await expect(page.getByRole('status').first()).toContainText('Acknowledged 5 alarms');
  const now = await states();
  expect(ovens.filter(o => now[`${o} H`] === 'Acknowledged')).toEqual(ovens.slice(1, 6));
  await page.unroute('**/alarms?*handler=Lists*');
  // The log by the same label, on the page and over the interface.
  const early = (await fralto.api('/alarms/log?label=crew%3Dearly')).map(e => e.path);
  expect(early.length).toBeGreaterThan(6);
  expect(early.every(path => path.startsWith('W/S/East/'))).toBe(true);
  expect((await fetch(`${fralto.base}/api/v1/alarms/log?label=early`)).status).toBe(400);
  await page.goto(`${fralto.base}/alarms/log`);
  await page.getByLabel('label', { exact: true }).fill('crew=early');
  await page.getByRole('button', { name: 'Show' }).click();
  await expect(page.locator('tr[data-place]').first()).toBeVisible();
  expect((await page.locator('tr[data-place]').allTextContents()).every(row => row.includes('East'))).toBe(true);
  await page.goto(`${fralto.base}/alarms/load?days=1`);
  const measures = page.getByRole('table', { name: 'Measures' });
  await expect(measures.getByRole('row', { name: /^Most in 10 min/ })).toContainText('not met');
  await expect(page.getByRole('table', { name: 'Floods' })).toContainText('Temp');
  await page.getByRole('table', { name: 'By place' }).getByRole('link', { name: 'West' }).click();
  await expect(page.getByRole('table', { name: 'Ten most frequent' })).not.toContainText('O1 Temp');
});

test('limits are edited many at once, and go out and in as a table', async ({ page }) => {
  await page.goto(`${fralto.base}/alarms/limits`);
  const list = page.getByRole('grid', { name: 'limits' });
  await expect(list).toContainText('no consequence');
  await list.getByRole('row', { name: /^Oven/ }).first().click();
  await page.keyboard.press('Control+a');
  await field(page, 'What is set').selectOption('Consequence');
  await field(page, 'Value; empty takes it away').fill('burnt bread');
  await page.getByRole('button', { name: 'Set', exact: true }).click();
  await expect(page.getByRole('status').first()).toContainText('Set consequence of 2 limits');
  await expect(list).not.toContainText('no consequence');
  const model = await (await fetch(`${fralto.base}/api/v1/model`)).json();
  const oven = model.templates[0].properties.find(p => p.code === 'Temp');
  expect(oven.limits.High).toMatchObject({ setpoint: 80, consequence: 'burnt bread', respondSeconds: 600 });
  expect(oven.otherLimits.Off).toMatchObject({ kind: 'Deviation', from: 'Set', countsWhile: 'Run' });
  await page.goto(`${fralto.base}/alarms/rules`);
  await page.getByRole('textbox', { name: /^Rules/ }).fill('One shift: 8 h; 15 min, 9 h');
  await page.getByRole('button', { name: 'Save the rules' }).click();
  await expect(page.locator('small.problem')).toContainText('540 min is not');
  await page.getByRole('textbox', { name: /^Rules/ }).fill('Coffee: 30 min; 10 min, 30 min');
  await page.getByRole('button', { name: 'Save the rules' }).click();
  await expect(page.getByRole('table', { name: 'Rules' })).toContainText('Coffee');
  await write('O1.Temp', 20);
});

test('a response is named once, tried again, and what came of it stands in the log', async ({ page }) => {
  const calls = [];
  const receiver = createServer((request, answer) => {
    let body = '';
    request.on('data', data => (body += data));
    request.on('end', () => {
      calls.push({ path: request.url, body });
      // The first call finds it busy, and the first after they are counted anew.
      answer.writeHead(calls.length === 1 ? 500 : 200).end();
    });
  }).listen(0, '127.0.0.1');
  await once(receiver, 'listening');
  const server = `http://127.0.0.1:${receiver.address().port}`;
  await page.goto(`${fralto.base}/alarms/responses`);
  await page.getByRole('link', { name: 'Add a response' }).click();
  await field(page, 'Name').fill('Horn');
  await field(page, address).fill('horn.local');
  await page.getByRole('button', { name: 'Save response' }).click();
  await expect(page.locator('small.problem')).toContainText('begins with http://');
  await field(page, address).fill(`${server}/horn`);
  await field(page, 'What is sent, or the value').fill('{path} {limit} {value}: {message}');
  await field(page, 'When it has returned').fill('quiet again at {place}');
  await page.getByRole('button', { name: 'Save response' }).click();
  await field(page, 'Name').waitFor({ state: 'detached' });
  await page.getByRole('link', { name: 'another' }).click();
  await field(page, 'Name').fill('Nobody');
  await field(page, 'Does').selectOption('Write');
  await field(page, address).fill('{place}/Nothing');
  await field(page, 'What is sent, or the value').fill('1');
  await field(page, 'By itself for priorities').fill('3');
  await field(page, 'Only with the label').fill('crew=early');
  await page.getByRole('button', { name: 'Save response' }).click();
  await expect(page.getByRole('table', { name: 'Responses' })).toContainText('Nobody');
  const template = (await fralto.api('/templates'))[0];
  await page.goto(`${fralto.base}/limit?at=${template.id}&property=${template.properties.find(p => p.code === 'Temp').id}&limit=H`);
  await field(page, 'Sets off').fill('Horn');
  await field(page, 'Setpoint').fill('79');
  await page.getByRole('button', { name: 'Save limit' }).click();
  // What is saved runs a moment later: what returns before that calls nobody.
  await expect.poll(async () => (await fralto.api('/alarms')).find(a => a.path.includes('/O5/') && a.limit === 'H')?.setpoint).toBe(79);
  await write('O5.Temp', 20);
  // What stood there before returns: that is told, too, and tried again.
  await expect.poll(async () => (await states())['O5 H'] ?? '').not.toBe('Acknowledged');
  await expect.poll(() => calls.length, { timeout: 40_000 }).toBe(2);
  calls.length = 0;
  await write('O5.Temp', 90);
  await expect.poll(() => calls.length, { timeout: 40_000 }).toBe(2);
  expect(calls[1]).toEqual({ path: '/horn', body: 'W/S/East/O5/Temp H 90.0: Oven at 90.0 °C' });
  await write('O5.Temp', 20);
  await expect.poll(() => calls.at(-1).body).toBe('quiet again at W/S/East/O5');
  const log = async () => (await fralto.api('/alarms/log?path=W/S/East/O5')).map(e => `${e.cause} ${e.who ?? ''} ${e.comment}`);
  await expect.poll(async () => (await log()).filter(l => l === 'ResponseDone Horn answered 200').length).toBe(3);
  expect(await log()).toContain('ResponseFailed Nobody nothing has the path W/S/East/O5/Nothing');
  expect(calls.length).toBe(3);
  receiver.close();
});

test('what stands, is shelved and was captured is so after a kill', async () => {
  await write('O9.Temp', 90);
  await write('O8.Temp', 90);
  await expect.poll(async () => (await states())['O8 H']).toBeDefined();
  await write('O8.Temp', 20);
  await expect.poll(async () => (await states())['O8 H']).toBe('ReturnedUnacknowledged');
  const it = { alarms: [{ path: 'W/S/West/O9/Temp', limit: 'H' }], minutes: 20, comment: 'seal' };
  expect((await post('shelve', it)).done).toBe(1);
  const before = await fralto.api('/alarms');
  await fralto.stop('SIGKILL');
  fralto = await startFralto('serve', fralto.directory);
  const told = alarms => alarms.map(a => [a.path, a.limit, a.state, a.message, a.captured, a.shelved?.until, a.acknowledgedBy]).sort();
  await expect.poll(async () => told(await fralto.api('/alarms'))).toEqual(told(before));
});
