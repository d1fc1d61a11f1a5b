// The shipped plant: it lives by itself, its faults show with their reason, and it is walked by keyboard.
import { test, expect } from './test.mjs';
import { execFile } from 'node:child_process';
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
  await expect.poll(async () => (await fralto.api('/values')).filter(v => v.status.name === 'Good').length).toBeGreaterThanOrEqual(18);
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
  const asked = Date.now();
  await fralto.api('/values');
  const pressed = Date.now();
  const trip = pressed - asked;
  await expect
    .poll(async () => (await fralto.api('/values')).filter(v => v.controller === 'kiln-plc').every(v => v.status.name.startsWith('Bad')), {
      intervals: [100],
    })
    .toBe(true);
  // Three intervals, half a second for the page, and what asking takes on this machine.
  expect(Date.now() - pressed).toBeLessThan(3 * 500 + 500 + 4 * trip);
  await page.getByRole('link', { name: 'kiln-plc', exact: true }).click();
  await expect(page.locator('#status')).toContainText('connection refused', { timeout: 15_000 });
  await expect(page.getByRole('complementary', { name: 'Controllers' })).toContainText('down');
  await page.goto(`${fralto.base}/stand-ins`);
  await kilns.getByRole('button', { name: /^Controller gone: broken/ }).click();
  await page.getByRole('link', { name: 'kiln-plc', exact: true }).click();
  await expect(page.locator('#status')).toContainText('up', { timeout: 15_000 });
  await expect(page.locator('[data-figure=Controllers]')).toHaveText('5 of 5 up');
});

test('kiln 2 alarms by itself, its broker is told, and the alarm clears again', async () => {
  const told = new Promise((resolve, reject) =>
    execFile(
      'mosquitto_sub',
      ['-h', '127.0.0.1', '-p', `${fralto.standInPort + 2}`, '-i', 'line-display', '-t', 'tarn-quay/alarms', '-C', '1'],
      { timeout: 120_000 },
      (error, stdout) => (error ? reject(error) : resolve(stdout.trim())),
    ),
  );
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
  expect(await told).toMatch(/KLN2\/AirOn H(: |$)/);
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

test('who is told gets a mail, and a mail server that is gone is said', async ({ page }) => {
  await page.goto(`${fralto.base}/alarms/told`);
  await page.getByRole('link', { name: 'another list' }).click();
  const field = name => page.getByLabel(name, { exact: true });
  await field('Name of the list').fill('Germination');
  await field('Mail addresses, a line each').fill('box at maltings');
  await field('Hours from').fill('25:00');
  await field('Only on days').fill('Someday');
  await page.getByRole('button', { name: 'Save list' }).click();
  for (const words of ["'box' is no mail address", "'25:00' is no time of day", "'Someday' is no day"])
    await expect(page.locator('small.problem').filter({ hasText: words })).toBeVisible();
  await field('Mail addresses, a line each').fill('boxes@maltings.test');
  await field('Hours from').fill('');
  await field('Only on days').fill('');
  await field('Messages in').selectOption('de');
  await page.getByRole('button', { name: 'Save list' }).click();
  await page.getByRole('table', { name: 'Lists' }).getByRole('link', { name: 'Germination' }).click();
  await page.getByRole('button', { name: 'Send a trial mail' }).click();
  await expect(page.getByRole('status').filter({ hasText: 'took a trial mail for boxes@maltings.test' })).toBeVisible();

  // Kiln 2 swings over its limit by itself; whoever is told reads of it.
  const mailbox = page.getByRole('region', { name: 'mailbox', exact: true });
  await page.goto(`${fralto.base}/stand-ins`);
  await expect(mailbox.locator('summary').filter({ hasText: 'A trial from Fralto' })).toBeVisible();
  await expect(async () => {
    await page.reload();
    await expect(mailbox.locator('summary').filter({ hasText: /boxes@maltings.test: .*KLN2/ }).first()).toBeVisible({ timeout: 500 });
  }).toPass({ timeout: 60_000 });
  await mailbox.locator('summary').filter({ hasText: /boxes@maltings.test: .*KLN2/ }).first().click();
  await expect(mailbox.locator('details[open] pre')).toContainText('Told: Germination');

  await mailbox.getByRole('button', { name: 'Mail server gone', exact: true }).click();
  await page.goto(`${fralto.base}/alarms/told?open=Germination`);
  await page.getByRole('button', { name: 'Send a trial mail' }).click();
  await expect(page.getByRole('alert')).toContainText(/No mail was sent: 127\.0\.0\.1:\d+: Connection refused/);
  await page.getByRole('button', { name: 'Take out list' }).click();
  await expect(page.getByRole('table', { name: 'Lists' })).not.toContainText('Germination');
  await page.goto(`${fralto.base}/alarms/told?open=On%20call`);
  await page.getByRole('button', { name: 'Take out list' }).click();
  await expect(page.getByRole('alert')).toContainText('Shift lead: there is no other list On call');

  // A password goes to its server and nowhere else.
  await page.goto(`${fralto.base}/alarms/told`);
  await field('User').fill('plant');
  await field('Password').fill('s3cret-word');
  await page.getByRole('button', { name: 'Save mail server' }).click();
  await expect(page.getByText('kept encrypted; empty leaves it as it is')).toBeVisible();
  expect((await fralto.api('/model')).mailServer).toMatchObject({ host: '127.0.0.1', user: 'plant' });
  for (const text of [await page.content(), JSON.stringify(await fralto.api('/model')), fralto.log()])
    expect(text).not.toContain('s3cret-word');
  await page.goto(`${fralto.base}/journal`);
  expect(await page.content()).not.toContain('s3cret-word');

  // The reader's language, on every page of alarms.
  await page.goto(`${fralto.base}/alarms/log`);
  await page.getByRole('button', { name: 'de', exact: true }).click();
  await expect(page).toHaveURL(/alarms\/log/);
  await expect(page.getByRole('button', { name: 'de', exact: true })).toHaveAttribute('aria-pressed', 'true');
});

test('Ctrl-C stops it cleanly', async () => {
  expect(await fralto.stop('SIGINT')).toBe(0);
});
