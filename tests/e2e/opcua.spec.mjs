// From an empty plant to live values of a secured OPC UA server, by clicking: an address, a look at what it offers, trust, a tree of nodes,
// tags, a value, a command.
import axe from 'axe-core';
import { test, expect } from './test.mjs';
import { startFralto, startStandIns } from './fralto.mjs';

let [fralto, standIns] = [];
test.beforeAll(async () => {
  [fralto, standIns] = await Promise.all([startFralto(), startStandIns(true)]);
});
test.afterAll(async () => {
  await fralto?.forget();
  await standIns?.stop();
});

const endpoint = () => `opc.tcp://127.0.0.1:${standIns.port + 6}`;
// The policy of the pages forbids scripts of others, so what axe is comes in beside it.
async function serious(page) {
  await page.evaluate(axe.source);
  const { violations } = await page.evaluate(() => globalThis.axe.run());
  return violations.filter(v => ['serious', 'critical'].includes(v.impact)).map(v => `${v.id}: ${v.nodes[0].html}`);
}

test('an unknown server is looked at, trusted after its fingerprint, and taken from', async ({ page }) => {
  await page.goto(`${fralto.base}/controllers?open=controller&protocol=OpcUa`);
  await page.getByLabel('Name', { exact: true }).fill('utility');
  await page.getByLabel('Address of the server').fill('http://server');
  await page.getByRole('button', { name: 'Test connection' }).click();
  await expect(page.locator('#verdict')).toContainText('begins with opc.tcp://');

  await page.getByLabel('Address of the server').fill(endpoint());
  await page.getByRole('button', { name: 'Test connection' }).click();
  await expect(page.locator('#verdict')).toContainText('not trusted yet', { timeout: 30_000 });
  const offer = page.getByRole('region', { name: 'What the server offers' });
  await expect(offer.getByRole('row')).toHaveCount(8);
  await expect(offer.locator('.fingerprint')).toHaveText(/^([0-9A-F]{2}:){31}[0-9A-F]{2}$/);
  expect(await serious(page)).toEqual([]);
  await offer.getByRole('button', { name: 'Trust this server' }).click();
  await expect(offer.locator('.certificate')).toContainText('✓ trusted');
  await page.getByRole('button', { name: 'Test connection' }).click();
  await expect(page.locator('#verdict')).toContainText('utility-ua answers', { timeout: 30_000 });

  // A user is refused with a wrong password, and the answer does not repeat it.
  await page.getByLabel('Comes as').selectOption({ label: 'user with a password' });
  await page.getByLabel('User', { exact: true }).fill('operator');
  await page.getByLabel('Password').fill('barley');
  await page.getByRole('button', { name: 'Test connection' }).click();
  await expect(page.locator('#verdict')).toContainText('does not let operator in', { timeout: 30_000 });
  await expect(page.locator('#verdict')).not.toContainText('barley');
  await page.getByLabel('Password').fill('malt');
  await page.getByLabel('Publishing interval, ms').fill('200');
  await page.getByRole('button', { name: 'Add controller' }).click();
  await expect(page.locator('#status')).toContainText('up', { timeout: 30_000 });

  // Everything it has, with units and ranges; one compressor of it is taken.
  await page.getByRole('link', { name: 'Browse', exact: true }).click();
  const rows = page.getByRole('row').filter({ hasText: 'Utilities/' });
  await expect(rows.filter({ hasText: 'Compressor1/Pressure' })).toContainText('bar 0 … 10');
  // Down the tree level by level, up again, and to a node that is named.
  const level = page.getByRole('region', { name: 'Objects here' });
  await level.getByRole('link', { name: /^Utilities/ }).click();
  await level.getByRole('link', { name: /^CompressedAir 2 objects/ }).click();
  await expect(level.getByRole('link')).toContainText(['↑ Utilities', 'Compressor1', 'Compressor2']);
  expect(await serious(page)).toEqual([]);
  await level.getByRole('link', { name: '↑ Utilities' }).click();
  await expect(page.getByRole('navigation', { name: 'Path' })).toHaveText('utility / browse / Utilities');
  await page.getByLabel('Below the node').fill('nsu=urn:corvane:utilities;s=CMP1');
  await page.getByRole('button', { name: 'Browse again' }).click();
  await expect(page.getByRole('navigation', { name: 'Path' })).toContainText('CompressedAir / Compressor1');
  await expect(page.getByRole('row').filter({ hasText: 'Compressor1/StageTemperatures' })).toContainText('float32[3]');
  await expect(page.getByRole('row')).toHaveCount(8);
  await page.getByRole('row').filter({ hasText: 'Hours' }).click();
  await page.keyboard.press('Control+a');
  await page.getByRole('button', { name: 'Take them as tags' }).click();
  await expect(page.getByRole('row').filter({ hasText: 'Pressure' }).first()).toContainText('bar');
  const tags = await fralto.api('/tags');
  expect(tags.length).toBe(7);
  // Pressure is read: good, and about what the compressor holds.
  await expect
    .poll(async () => {
      const its = (await fralto.api('/tags')).find(t => t.name.endsWith('Pressure'));
      return its?.raw ?? its?.value;
    })
    .toBeGreaterThan(5);
});

test('whom we are and whom we trust is one page, and trust can be taken back', async ({ page }) => {
  await page.goto(`${fralto.base}/certificates`);
  await expect(page.getByRole('region', { name: 'Ours' }).locator('.fingerprint')).toHaveText(/^([0-9A-F]{2}:){31}[0-9A-F]{2}$/);
  expect(await serious(page)).toEqual([]);
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Our certificate, DER' }).click();
  expect((await download).suggestedFilename()).toBe('fralto.der');
  await page.getByRole('button', { name: 'Trust it no longer' }).click();
  await expect(page.locator('.certificate')).toContainText('not trusted yet');
  await expect.poll(async () => (await fralto.api('/controllers'))[0].reason, { timeout: 30_000 }).toContain('trusted');
  await page.getByRole('button', { name: 'Trust this server' }).click();
  await expect.poll(async () => (await fralto.api('/controllers'))[0].state, { timeout: 30_000 }).toBe('Up');
});

test('an object type becomes a template, and its objects are made and bound in one action', async ({ page }) => {
  for (const [code, level, above] of [
    ['Works', 'Enterprise', ''],
    ['Quay', 'Site', 'Works'],
    ['Air', 'Area', 'Works/Quay'],
  ]) {
    await page.goto(
      `${fralto.base}/plant?open=add${above ? `&at=${(await fralto.api('/equipment')).find(e => e.path === above).id}` : ''}`,
    );
    await page.getByLabel('Name', { exact: true }).fill(code);
    const levels = page.getByLabel('Level', { exact: true });
    await levels.selectOption({
      label: (await levels.locator('option').allTextContents()).find(t => t.toLowerCase().startsWith(level.toLowerCase())),
    });
    await page.getByRole('button', { name: /^Add/ }).last().click();
    await expect.poll(async () => (await fralto.api('/equipment')).some(e => e.path.endsWith(code))).toBe(true);
  }

  await page.goto(`${fralto.base}/controllers`);
  await page.getByRole('link', { name: 'Types', exact: true }).click();
  await page.getByRole('link', { name: 'CompressorType' }).click();
  await expect(page.getByRole('row', { name: /CompressorType/ })).toContainText('Pressure bar 0 … 10');
  expect(await serious(page)).toEqual([]);
  await page.getByRole('button', { name: 'Make them and bind' }).click();
  await expect(page.getByRole('alert')).toContainText('Say below which place');
  await page.getByLabel('Below the place').fill('Works/Quay/Air');
  await page.getByRole('button', { name: 'Make them and bind' }).click();
  await expect(page).toHaveURL(/bindings\?template=/);
  const [equipment, tags] = [await fralto.api('/equipment'), await fralto.api('/tags')];
  expect(
    equipment
      .map(e => e.path)
      .filter(p => p.includes('Compressor'))
      .sort(),
  ).toEqual([
    'Works/Quay/Air/Compressor1',
    'Works/Quay/Air/Compressor1/Motor',
    'Works/Quay/Air/Compressor2',
    'Works/Quay/Air/Compressor2/Motor',
  ]);
  expect(tags.flatMap(t => t.boundTo).filter(p => p.includes('Compressor2')).length).toBe(9);

  // A command goes to the server and reads back.
  const setpoint = tags.find(t => t.boundTo.some(p => p.endsWith('Compressor1/Setpoint')));
  await page.goto(`${fralto.base}/controllers?open=write&tag=${setpoint.id}&at=${(await fralto.api('/controllers'))[0].id}`);
  await page.getByLabel(/^Write /).fill('6.4');
  await page.getByRole('button', { name: 'Write it' }).click();
  await expect(page.getByText(/holds 6\.4/)).toBeVisible();
});

test('another certificate is said so, and nothing goes there until it is trusted', async ({ page }) => {
  standIns.fault('utility-ua-certificate', true);
  await expect.poll(async () => (await fralto.api('/controllers'))[0].reason, { timeout: 60_000 }).toContain('not trusted yet');
  await page.goto(`${fralto.base}/controllers`);
  await expect(page.locator('#status')).toContainText('look at it with Test connection');
});
