// How many acts a modeller needs: from an empty directory to the first own live value, and ten more kilns like the first.
import { test, expect } from './test.mjs';
import { startDevice } from './device.mjs';
import { startFralto } from './fralto.mjs';

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

// Every click, text and choice counts as one act; a page load is a document the browser fetched.
function counted(page) {
  const count = { acts: 0, loads: 0 };
  page.on('request', request => {
    if (request.isNavigationRequest() && request.frame() === page.mainFrame() && !request.redirectedFrom()) count.loads++;
  });
  const act = async what => {
    count.acts++;
    await what;
  };
  return { count, act };
}

const kilns = 11;
const list = [
  ['Name', 'Address', 'Type', 'Unit', 'Description'].join('\t'),
  ...Array.from({ length: kilns }, (_, k) => [
    [`KLN${k + 1}.TT`, `holding ${2 * k}`, 'int16', '°C', 'Air-on temperature'].join('\t'),
    [`KLN${k + 1}.MT`, `holding ${2 * k + 1}`, 'int16', '%', 'Moisture'].join('\t'),
  ]).flat(),
].join('\n');

test('an empty directory to the first own live value, then ten kilns like the first', async ({ page }) => {
  for (let k = 0; k < kilns; k++) [device.holding[2 * k], device.holding[2 * k + 1]] = [60 + k, 10 + k];
  const { count, act } = counted(page);
  const field = label => page.getByLabel(label, { exact: true });
  const press = name => act(page.getByRole('button', { name }).click());

  await page.goto(fralto.base);
  await act(field('Name').fill('kiln-plc'));
  await act(field('Host name or IP address').fill('127.0.0.1'));
  await act(field('TCP port').fill(`${device.port}`));
  await press('Add controller');

  await act(page.getByRole('link', { name: 'Tag list', exact: true }).click());
  await act(page.getByText('or paste a table from a spreadsheet').click());
  await act(field('A table, pasted with its heading row').fill(list));
  await press('Show what it would do');
  await press(/^Take in 22/);

  await act(page.getByRole('row', { name: /KLN1\.MT/ }).click());
  await act(page.getByRole('row', { name: /KLN1\.TT/ }).click({ modifiers: ['Shift'] }));
  await act(field('What to do with the selected tags').selectOption({ label: 'make equipment of them' }));
  await press('Do it');
  await act(field('What it is').fill('Kiln'));
  await act(field('Where it stands').fill('Corvane / Tarn Quay / Kiln 1'));
  await press('Make it');
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Kiln 1');
  await expect(page.locator('.value').filter({ hasText: /^60/ }).first()).toBeVisible();
  console.log(`first own live value: ${count.acts} acts, ${count.loads} page loads`);
  expect(count.acts).toBeLessThanOrEqual(25);
  expect(count.loads).toBeLessThanOrEqual(8);

  const first = count.acts;
  await act(page.getByRole('link', { name: 'Tarn Quay' }).first().click());
  await act(page.getByRole('link', { name: 'Add a series' }).click());
  await act(field('Names').fill('Kiln {n}'));
  await act(field('Codes').fill('Kiln-{n}'));
  await act(field('First number').fill('2'));
  await act(field('How many').fill('10'));
  await act(field('Instances of').selectOption({ label: 'Kiln' }));
  await press('Add the series');
  await act(page.getByRole('link', { name: /^Bindings/ }).click());
  await press(/^Bind 20 proposals$/);
  console.log(`ten kilns like the first: ${count.acts - first} acts`);
  expect(count.acts - first).toBeLessThanOrEqual(12);
  await expect(page.locator('[data-figure=Bindings]')).toHaveText('22 / 22');
  await expect(page.locator('[data-value]').filter({ hasText: /^70/ }).first()).toBeVisible();
  const bound = (await (await fetch(`${fralto.base}/api/v1/model`)).json()).bindings;
  for (const b of bound) {
    const [, n] = /Kiln-(\d+)$/.exec(b.equipment);
    expect(b.tag).toBe(`KLN${n}.${b.property === 'Moisture' ? 'MT' : 'TT'}`);
  }
});

test('leaving a form with typed changes asks, and another protocol keeps what fits', async ({ page }) => {
  page.removeAllListeners('dialog');
  const asked = [];
  let stay = true;
  page.on('dialog', async dialog => {
    asked.push(dialog.type());
    await (stay ? dialog.dismiss() : dialog.accept());
  });
  await page.goto(`${fralto.base}/controllers?open=controller`);
  await page.getByLabel('Name', { exact: true }).fill('broker');
  await page.getByLabel('Host name or IP address', { exact: true }).fill('10.0.0.9');
  await page.getByRole('link', { name: /^MQTT/ }).click();
  await expect(page.getByLabel('Client id', { exact: true })).toBeVisible();
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('broker');
  await expect(page.getByLabel('Host name or IP address', { exact: true })).toHaveValue('10.0.0.9');
  expect(asked).toEqual([]);

  await page.getByRole('link', { name: /^Templates/ }).click({ noWaitAfter: true });
  await expect.poll(() => asked).toEqual(['beforeunload']);
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('broker');
  stay = false;
  await page.getByRole('link', { name: /^Templates/ }).click();
  await expect(page).toHaveURL(/templates/);

  // A form that was refused holds what was typed; one that was not touched, or was cancelled, asks nothing.
  stay = true;
  asked.length = 0;
  await page.goto(`${fralto.base}/controllers?open=controller`);
  await page.getByRole('link', { name: /^Templates/ }).click();
  await expect(page).toHaveURL(/templates/);
  await page.goto(`${fralto.base}/controllers?open=controller`);
  await page.getByLabel('Name', { exact: true }).fill('x');
  await page.getByRole('link', { name: 'Cancel' }).click();
  await expect(page).toHaveURL(/controllers/);
  expect(asked).toEqual([]);

  // A question that was answered with no has not sent the form: leaving asks all the same.
  await page.goto(`${fralto.base}/states?from=OffOn`);
  await page.getByRole('button', { name: 'Add state list', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Save state list' })).toBeVisible();
  await page.getByLabel('Name', { exact: true }).fill('Off or on');
  await page.getByRole('button', { name: 'Take out' }).click();
  await expect.poll(() => asked).toEqual(['confirm']);
  await page.getByRole('link', { name: /^Templates/ }).click({ noWaitAfter: true });
  await expect.poll(() => asked).toEqual(['confirm', 'beforeunload']);
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Off or on');
});
