// From an edit to a release and back: what is found, what would change, tried beside the plant, put in, and gone back.
import { readFileSync } from 'node:fs';
import { test, expect } from './test.mjs';
import { startFralto } from './fralto.mjs';

let fralto;

test.beforeAll(async () => {
  fralto = await startFralto('demo', undefined, true);
});
test.afterAll(async () => {
  await fralto.forget();
});

const model = async () => (await fetch(`${fralto.base}/api/v1/model`)).json();
const put = async changed => {
  const answer = await fetch(`${fralto.base}/api/v1/model`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(changed),
  });
  expect(answer.status, await answer.text()).toBe(200);
};
const unreleased = () => fralto.api('/releases/unreleased');
const field = (page, label) => page.getByLabel(label, { exact: true });

test('the demo opens with releases to compare and true findings, each with what it means', async ({ page }) => {
  await page.goto(`${fralto.base}/review`);
  await expect(page.getByText('Germination boxes and silos')).toBeVisible();
  await expect(page.getByRole('region', { name: 'Changes, one after the other' })).toContainText('Ashholt · added');
  await expect(page.getByRole('region', { name: 'Findings, one after the other' })).toContainText('Dissolved oxygen');
  await page.getByRole('combobox', { name: 'From release' }).selectOption('1');
  await page.getByRole('combobox', { name: 'To' }).selectOption('2');
  await page.getByRole('button', { name: 'show' }).click();
  await expect(page.getByRole('row', { name: /Silo park .* added|Silo 01/ }).first()).toBeVisible();
  const rows = await (await fetch(`${fralto.base}/api/v1/releases/diff?from=1&to=2`)).json();
  expect(rows.length).toBeGreaterThan(3);
  const csv = await (await fetch(`${fralto.base}/api/v1/releases/diff.csv?from=1&to=2`)).text();
  expect(csv.split('\n')[0]).toContain('Group');
  expect((await fetch(`${fralto.base}/review?since=99`)).status).toBe(404);
  expect((await fetch(`${fralto.base}/api/v1/releases/diff?from=99`)).status).toBe(404);
});

test('an edit runs nothing until it is released: seen, found, mended, tried, released, and gone back', async ({ page }) => {
  test.setTimeout(180_000);
  // The edit: a limit far below what the kilns have, and a property whose formula loses what it takes.
  const changed = await model();
  const bed = changed.templates.find(t => t.code === 'AirSweptBed');
  bed.properties.find(p => p.code === 'AirOn').limits.High.setpoint = 20;
  await put(changed);
  const template = (await fralto.api('/templates')).find(t => t.code === 'Kiln');
  await page.goto(`${fralto.base}/templates?at=${template.id}`);
  await expect(page.getByRole('link', { name: 'What is unreleased' })).toHaveText('1 unreleased');
  const board = await fralto.api('/alarms');
  expect(board.filter(a => a.limit === 'H' && a.setpoint === 20)).toEqual([]);

  await page.goto(`${fralto.base}/review`);
  const changes = page.getByRole('region', { name: 'Changes, one after the other' });
  await expect(changes).toContainText('Air-on temperature · H 88 → 20');
  await expect(changes).toContainText('keep their own');
  await expect(async () => {
    await page.reload();
    await expect(changes).toContainText(/Kiln \d: alarm raises/, { timeout: 1000 });
  }).toPass();

  // An error blocks the release, and says what is to be done; the edit that made it is taken back.
  const broken = await model();
  const kiln = broken.templates.find(t => t.code === 'Kiln');
  kiln.properties = kiln.properties.filter(p => p.code !== 'GasFlow');
  broken.bindings = broken.bindings.filter(b => b.property !== 'GasFlow');
  await put(broken);
  await expect(async () => {
    await page.reload();
    await expect(page.getByText(/blocked by \d+ errors/)).toBeVisible({ timeout: 1000 });
  }).toPass();
  await page.getByRole('button', { name: 'Release 4' }).press('Enter');
  await expect(page).toHaveURL(/\/review$/);
  const blocked = await fetch(`${fralto.base}/api/v1/releases`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: '{"note":"all the same"}',
  });
  expect(blocked.status).toBe(409);
  expect((await blocked.json()).detail).toContain('block the release');
  await page.getByRole('button', { name: /^Take back: Gas flow/ }).click();
  await expect(async () => {
    await page.reload();
    await expect(page.getByText(/blocked by \d+ errors/)).toBeHidden({ timeout: 1000 });
  }).toPass();

  const whole = await model();
  whole.bindings = (await (await fetch(`${fralto.base}/api/v1/releases/3/model`)).json()).bindings;
  await put(whole);

  // A finding with one certain answer.
  const bare = await model();
  const labels = bare.equipment.find(e => e.path.endsWith('/KLN1'));
  labels.labels = { crew: 'Kiln House' };
  bare.equipment.find(e => e.path.endsWith('/KLN2')).labels = { crew: 'kiln house' };
  bare.equipment.find(e => e.path.endsWith('/KLN3')).labels = { crew: 'kiln house' };
  await put(bare);
  await page.reload();
  const findings = page.getByRole('region', { name: 'Findings, one after the other' });
  await expect(findings).toContainText('elsewhere it is spelled kiln house');

  // The fix, by keyboard: F goes to its button.
  await page.keyboard.press('f');
  await expect(page.locator(':focus')).toHaveText(/Spell it as elsewhere|Add the missing parts|Take the/);
  await findings.getByRole('button', { name: 'Spell it as elsewhere' }).click();
  await expect(page.getByRole('status').first()).toContainText(/Kiln 1|labels/);
  await expect(findings).not.toContainText('elsewhere it is spelled');

  // One change is taken back, the others stay.
  await page.getByRole('button', { name: /^Take back: Kiln 2/ }).click();
  await expect(page.getByRole('status').first()).toContainText('Take back: Kiln 2');
  await expect(changes).not.toContainText('Kiln 2 · labels');
  await page.locator('body').press('ArrowDown');
  await expect(page.locator('[data-walk]').first()).toBeFocused();

  // Tried beside the plant.
  await field(page, 'for minutes').fill('0.5');
  await page.getByRole('button', { name: 'Try it' }).click();
  await expect(page.locator('#trial')).toContainText('going on');
  await expect(page.locator('#trial')).toContainText(/KLN\d\/AirOn H/);
  await page.getByRole('button', { name: 'Stop' }).click();
  await expect(page.locator('#trial')).not.toContainText('going on');

  // Released: a note is asked for, and then it runs.
  await page.getByRole('button', { name: 'Release 4' }).click();
  await expect(page.getByRole('alert')).toContainText('Write a note');
  await field(page, 'Note').fill('Kiln limit of the spring trial');
  await page.getByRole('button', { name: 'Release 4' }).click();
  await expect(page.getByRole('status').first()).toContainText('Release 4 is made');
  await expect(page.getByText('nothing is unreleased')).toBeVisible();
  await expect.poll(async () => (await fralto.api('/alarms')).filter(a => a.limit === 'H' && a.setpoint === 20).length).toBeGreaterThan(0);
  const release = (await fralto.api('/releases'))[0];
  expect(release).toMatchObject({ number: 4, running: true, note: 'Kiln limit of the spring trial' });
  expect(release.trial.alarms.length).toBeGreaterThan(0);
  await expect.poll(async () => (await fralto.api('/releases'))[0].pauseMilliseconds).not.toBeNull();

  // And gone back, under a new number.
  await page.getByRole('button', { name: 'run again: release 3' }).click();
  await expect(page.getByRole('status').first()).toContainText('Release 3 runs again, as release 5');
  await expect.poll(async () => (await fralto.api('/alarms')).filter(a => a.limit === 'H' && a.setpoint === 20).length).toBe(0);
  const releases = await fralto.api('/releases');
  expect(releases[0].hash).toBe(releases[2].hash);
  expect((await unreleased()).changes).toBe(0);
});

test('codes that are written otherwise are found, and many fixes are shown before they are done', async ({ page }) => {
  await page.goto(`${fralto.base}/codes`);
  const patterns = page.getByLabel(/^Patterns/);
  await patterns.fill('unit KLN#');
  await page.getByRole('button', { name: 'Save patterns' }).click();
  await expect(page.getByText("'unit KLN#' says no pattern")).toBeVisible();
  await patterns.fill('Kiln: KLN#\nnowhere: X#');
  await page.getByRole('button', { name: 'Save patterns' }).click();
  await expect(page.getByText("'nowhere' is no level")).toBeVisible();
  await expect(patterns).toHaveValue('Kiln: KLN#\nnowhere: X#');
  await patterns.fill('Kiln: KLN#');
  await page.getByRole('button', { name: 'Save patterns' }).click();
  await page.getByRole('link', { name: 'look at them' }).click();
  await expect(page.getByText(/here it is written KLN#/).first()).toBeVisible();
  await page.goto(`${fralto.base}/codes`);
  await patterns.fill('Kiln name: Oven #');
  await page.getByRole('button', { name: 'Save patterns' }).click();
  await page.getByRole('link', { name: 'look at them' }).click();
  await expect(page.getByText(/is named so; here it is written Oven #/).first()).toBeVisible();
  await page.goto(`${fralto.base}/codes`);
  await patterns.fill('');
  await page.getByRole('button', { name: 'Save patterns' }).click();
  expect((await model()).namingConventions).toBeUndefined();

  const bare = await model();
  for (const [code, crew] of [['KLN1', 'Hall A'], ['KLN2', 'hall a'], ['KLN3', 'HALL A'], ['PilotKiln', 'Hall A']])
    bare.equipment.find(e => e.path.endsWith(`/${code}`)).labels = { crew };
  await put(bare);
  await page.goto(`${fralto.base}/review`);
  await page.getByText(/^All \d+ fixes$/).click();
  await expect(page.getByRole('listitem').filter({ hasText: 'Spell it as elsewhere' })).toHaveCount(2);
  await page.getByRole('button', { name: /^Do all/ }).click();
  await expect(page.getByRole('status').first()).toContainText(/^Mend \d+ findings/);
  expect((await model()).equipment.filter(e => e.labels?.crew).map(e => e.labels.crew)).toEqual(Array(4).fill('Hall A'));
  await page.getByRole('button', { name: /Take back everything/ }).click();
});

test('a finding is accepted with a reason, and comes back when that ends', async ({ page }) => {
  await page.goto(`${fralto.base}/review`);
  // One area has few enough findings that all of them stand on the page, whatever the running plant adds.
  await page.getByRole('navigation', { name: 'Place' }).getByRole('link', { name: /^Steeping/ }).click();
  const finding = page.locator('.finding', { hasText: 'FR105' }).first();
  await finding.getByText('accept', { exact: true }).click();
  await finding.getByLabel('Why').fill('the card is to be replaced');
  await finding.getByLabel('For days').fill('many');
  await finding.getByRole('button', { name: 'Accept' }).click();
  await expect(page.getByRole('alert').first()).toContainText(/days/);
  const name = await page.locator('.finding', { hasText: 'FR105' }).first().locator('b').first().textContent();
  await finding.getByText('accept', { exact: true }).click();
  await finding.getByLabel('Why').fill('the card is to be replaced');
  await finding.getByRole('button', { name: 'Accept' }).click();
  await expect(page.getByRole('status').first()).toContainText('Accepted: Dissolved oxygen');
  await expect(page.locator('.finding', { hasText: 'FR105' }).locator('b', { hasText: name })).toHaveCount(0);
  await page.getByText('1 accepted', { exact: true }).click();
  await page.getByRole('button', { name: /^Accept no longer/ }).click();
  await expect(page.locator('.finding', { hasText: 'FR105' }).locator('b', { hasText: name })).toHaveCount(1);
});

test('only a place is released, the rest waits, over a restart too; everything can be taken back', async ({ page }) => {
  const changed = await model();
  changed.equipment.find(e => e.path.endsWith('/KLN1')).name = 'Kiln one';
  changed.equipment.find(e => e.path.endsWith('/S01')).name = 'Silo one';
  await put(changed);
  await page.goto(`${fralto.base}/review`);
  await page.getByText('only a part of it').click();
  await field(page, 'What').selectOption({ label: 'Corvane / Tarn Quay / Kilning' });
  await field(page, 'Note').fill('Kiln one');
  await page.getByRole('button', { name: /^Release \d+$/ }).click();
  await expect(page.getByRole('status').first()).toContainText('Kiln one');
  const left = await (await fetch(`${fralto.base}/api/v1/releases/diff`)).json();
  expect(left.map(r => r.words)).toEqual(['Silo one · name Silo 01 → Silo one']);
  await fralto.stop('SIGKILL');
  fralto = await startFralto('demo', fralto.directory, true);
  // The stand-ins listen at other ports now, which is a release of its own.
  await expect
    .poll(async () => (await (await fetch(`${fralto.base}/api/v1/releases/diff`)).json()).map(r => r.words))
    .toEqual(['Silo one · name Silo 01 → Silo one']);
  expect((await fralto.api('/releases'))[0].note).toBe('The stand-ins listen at other ports');
  await page.goto(`${fralto.base}/review`);
  await page.getByRole('button', { name: 'Take back everything that is unreleased' }).click();
  await expect(page.getByRole('status').first()).toContainText('Discard 1 unreleased change');
  expect((await unreleased()).changes).toBe(0);
  await page.getByRole('button', { name: /^Take back: Discard/ }).click();
  expect((await unreleased()).changes).toBe(1);
});

test('a release is a file that another Fralto takes in, its controllers found elsewhere', async () => {
  const file = await (await fetch(`${fralto.base}/api/v1/releases/2/file`)).text();
  const other = await startFralto('serve');
  try {
    const take = (map, body = file) =>
      fetch(`${other.base}/api/v1/releases/import${map}`, { method: 'POST', headers: { 'content-type': 'application/json' }, body });
    expect((await take('?map=nobody=10.0.0.1')).status).toBe(422);
    expect((await take('', '{"format":"other"}')).status).toBe(422);
    const taken = await take('?map=kiln-plc=10.0.0.5:5020&map=steep-plc=:5021');
    expect(taken.status, await taken.text()).toBe(200);
    const there = await (await fetch(`${other.base}/api/v1/model`)).json();
    expect(there.controllers.find(c => c.name === 'kiln-plc')).toMatchObject({ host: '10.0.0.5', port: 5020 });
    const here = await (await fetch(`${fralto.base}/api/v1/releases/2/model`)).json();
    expect(there.equipment).toEqual(here.equipment);
    expect(there.templates).toEqual(here.templates);
  } finally {
    await other.forget();
  }
});

test('a controller says where it is reached until its new address is released', async ({ page }) => {
  const changed = await model();
  const controller = changed.controllers.find(c => c.name === 'trial-plc');
  const port = controller.port;
  controller.port = 1;
  await put(changed);
  const { id } = (await fralto.api('/controllers')).find(c => c.name === 'trial-plc');
  await page.goto(`${fralto.base}/controllers?at=${id}`);
  await expect(page.locator('#status')).toContainText(`still reached at 127.0.0.1:${port}`);
  await expect(page.locator('#status')).toContainText('up');
  expect((await fetch(`${fralto.base}/api/v1/releases/discard`, { method: 'POST' })).status).toBe(200);
  await expect(page.locator('#status')).not.toContainText('still reached');
});

test('a loop check of a place is a sheet to print', async ({ page }) => {
  await page.goto(`${fralto.base}/checks/sheet`);
  await page.getByRole('link', { name: 'Tarn Quay / Kilning', exact: true }).click();
  const sheet = page.getByRole('table', { name: 'Loop check' });
  await expect(sheet.getByRole('row', { name: /Kiln 2.*Air-on/ }).first()).toBeVisible();
  await page.emulateMedia({ media: 'print' });
  await expect(page.getByRole('navigation', { name: 'Order of work' })).toBeHidden();
  expect(readFileSync(new URL('../../docs/findings.md', import.meta.url), 'utf8')).toContain('FR150');
});
