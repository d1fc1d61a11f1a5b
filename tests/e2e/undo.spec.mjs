// Taking edits back and making them again, in the browser: the last one, by keyboard, and one from the journal.
import { test, expect } from './test.mjs';
import { startFralto } from './fralto.mjs';

let fralto;

// A plant of its own: a journal begins with the plant.
test.beforeAll(async () => {
  fralto = await startFralto('demo');
});
test.afterAll(async () => {
  await fralto?.forget();
});

const count = async () => (await fralto.api('/equipment')).length;

test('what was taken out comes back with its bindings, and goes again', async ({ page }) => {
  page.on('dialog', dialog => dialog.accept());
  const before = await count();
  const bound = (await fralto.api('/values')).length;
  const { id } = (await fralto.api('/equipment')).find(e => e.code === 'KilnHouse');
  await page.goto(`${fralto.base}/plant?at=${id}`);
  await page.getByRole('button', { name: 'Take out', exact: true }).click();
  await expect(page.getByRole('status').first()).toContainText('Take out Kiln house with 32 nodes below it and 59 bindings');
  expect(await count()).toBe(before - 33);

  await page.getByRole('button', { name: /^Take back: Take out Kiln house/ }).click();
  await expect(page.locator('.node', { hasText: 'Kiln house' })).toBeVisible();
  expect(await count()).toBe(before);
  await expect.poll(async () => (await fralto.api('/values')).length).toBe(bound);

  await page.getByRole('heading', { level: 1 }).click();
  await page.keyboard.press('Control+Shift+Z');
  await expect(page.locator('.node', { hasText: 'Kiln house' })).toBeHidden();
  expect(await count()).toBe(before - 33);
  await page.locator('.node').first().focus();
  await page.keyboard.press('Control+z');
  await expect(page.locator('.node', { hasText: 'Kiln house' })).toBeVisible();
  expect(await count()).toBe(before);
  await expect
    .poll(
      async () => {
        const tags = (await fralto.api('/values?path=Corvane/TarnQuay/Kilning')).filter(v => v.source === 'tag');
        return tags.filter(v => v.status.name !== 'Good').map(v => v.path);
      },
      { timeout: 15_000 },
    )
    .toEqual(['Corvane/TarnQuay/Kilning/KilnHouse/KLN3/Moisture']);
});

test('an earlier edit is taken back from the journal where nothing depends on it, and refused where something does', async ({ page }) => {
  await page.goto(`${fralto.base}/journal`);
  await page.getByLabel('Filter edits').fill('Kiln 1 Air-on temperature');
  await page.getByRole('button', { name: 'Take back: Bind Kiln 1 Air-on temperature to KLN1_TT11', exact: true }).click();
  await expect(page.getByRole('row', { name: /Bind Kiln 1 Air-on temperature to KLN1_TT11 \(taken back\)/ })).toBeVisible();
  await page.goto(`${fralto.base}/journal?filter=add+equipment`);
  await page.getByRole('button', { name: 'Take back: Add template Equipment', exact: true }).click();
  await expect(page.getByRole('alert')).toContainText(/A later edit has changed Equipment/);
  await page.goto(`${fralto.base}/journal?filter=state+list`);
  await page.getByRole('button', { name: 'Take back: Add state list Kiln phase', exact: true }).click();
  await expect(page.getByRole('alert')).toContainText('uses a state list that no longer exists');
});

test('the journal of a place shows what touched it, field by field', async ({ page }) => {
  const { id } = (await fralto.api('/equipment')).find(e => e.code === 'PilotKiln');
  await page.goto(`${fralto.base}/plant?at=${id}`);
  await page.getByRole('link', { name: 'Change' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Trial kiln');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByRole('link', { name: 'Edits here' }).click();
  await expect(page.locator('tr[data-place]')).toHaveCount(2);
  await page.getByRole('link', { name: 'Change Trial kiln' }).click();
  await expect(page.locator('tr.detail')).toHaveText(/Trial kiln: name\s*Pilot kiln\s*Trial kiln/);
});

test('what was done is told by the next page, also when a piece of a page was fetched meanwhile', async ({ page }) => {
  const [first] = await fralto.api('/equipment');
  const { id } = (await fralto.api('/equipment')).find(e => e.code === 'BRN6');
  await page.goto(`${fralto.base}/plant?at=${id}&open=change`);
  await page.getByLabel('Name', { exact: true }).fill('Burner six');
  // The answer to the form has come, the page it leads to is not asked for yet, and the page before asks for its piece once more.
  await page.evaluate(async place => {
    const form = document.querySelector('input[name=Name]').form;
    await fetch(form.action, { method: 'POST', body: new FormData(form), redirect: 'manual' });
    await fetch(place, { headers: { 'HX-Request': 'true' } });
    form.reset();
  }, `/place?at=${first.id}`);
  await page.goto(`${fralto.base}/plant?at=${id}`);
  await expect(page.getByRole('status').first()).toContainText('Burner six');
  await page.reload();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Burner six');
  await expect(page.getByRole('status').filter({ hasText: 'Burner six' })).toHaveCount(0);
});
