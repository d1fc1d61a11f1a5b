// What a template gives its instances beyond properties: parts, levels, labels; where it is used, and what goes with it.
import { test, expect, find } from './test.mjs';

let fralto;

test.beforeAll(async ({ demo }) => {
  fralto = await demo.asShipped();
});

const all = () => fralto.api('/equipment');
const open = async (page, code) =>
  page.goto(`${fralto.base}/templates?at=${(await fralto.api('/templates')).find(t => t.code === code).id}`);
const field = (page, label) => page.getByLabel(label, { exact: true });

test('one action on a place makes an instance with its parts, limits and labels', async ({ page }) => {
  await page.goto(`${fralto.base}/plant?at=${(await all()).find(e => e.code === 'KilnHouse').id}`);
  await page.getByRole('link', { name: 'Add one below' }).click();
  await field(page, 'Name').fill('Kiln 5');
  await field(page, 'Code').fill('KLN5');
  await field(page, 'Instance of').selectOption({ label: 'Silo' });
  await page.getByRole('button', { name: 'Add to the plant', exact: true }).click();
  await expect(page.getByText('Silo stands at the level storage unit, not at unit.')).toBeVisible();
  await field(page, 'Instance of').selectOption({ label: 'Kiln' });
  await page.getByRole('button', { name: 'Add to the plant', exact: true }).click();
  await expect(page.getByRole('status').first()).toContainText('Add Kiln 5 with 7 parts');
  await expect(page.getByText('cost-centre=430', { exact: true })).toBeVisible();
  await expect(page.getByText('medium=air', { exact: true })).toBeVisible();
  await expect(page.locator('.node', { hasText: 'Load cell 2' })).toBeVisible();
});

test('a part added later is offered to the instances there are', async ({ page }) => {
  await open(page, 'Kiln');
  await page.getByRole('link', { name: 'Add part' }).click();
  await field(page, 'Name').fill('Damper {n}');
  await field(page, 'Is a').selectOption({ label: 'Driven machine' });
  await field(page, 'How many').fill('2');
  await field(page, 'Existing instances').selectOption({ label: 'offer it to them later' });
  await page.getByRole('button', { name: 'Add part', exact: true }).click();
  const before = (await all()).length;
  const kilns = (await all()).filter(e => e.template === 'Kiln').length;
  await page.goto(`${fralto.base}/plant?at=${(await all()).find(e => e.code === 'KLN1').id}`);
  await page.getByRole('button', { name: 'Add Damper 1, Damper 2', exact: true }).click();
  await expect(page.locator('.node', { hasText: 'Damper 2' })).toBeVisible();
  await open(page, 'Kiln');
  await page.getByRole('button', { name: /^Offered: add/ }).click();
  await expect.poll(async () => (await all()).length).toBe(before + 2 * kilns);
  await expect(page.getByRole('button', { name: /^Offered/ })).toBeHidden();
});

test('a part that would hold itself is refused with the reason', async ({ page }) => {
  await open(page, 'Fan');
  await page.getByRole('link', { name: 'Add part' }).click();
  await field(page, 'Name').fill('Inner kiln');
  await field(page, 'Is a').selectOption({ label: 'Kiln' });
  await page.getByRole('button', { name: 'Add part', exact: true }).click();
  await expect(page.getByText('A Kiln is or holds a Fan, so it cannot be a part of a Fan.')).toBeVisible();
  await expect(field(page, 'Name')).toHaveValue('Inner kiln');
});

test('levels and labels are given to a template, and what stands elsewhere is said', async ({ page }) => {
  await open(page, 'Silo');
  await page.getByRole('link', { name: 'Change' }).click();
  await page.getByLabel('storage unit', { exact: true }).uncheck();
  await page.getByLabel('unit', { exact: true }).check();
  await field(page, 'Labels of every instance').fill('stores=grain');
  await expect(page.getByText('reaches 24 instances')).toBeVisible();
  await page.getByRole('button', { name: 'Save template', exact: true }).click();
  await expect(page.getByText(/SiloPark\/S01 is a storage unit, and 23 more stand at other levels/)).toBeVisible();
  await expect(field(page, 'Labels of every instance')).toHaveValue('stores=grain');
  await page.getByLabel('storage unit', { exact: true }).check();
  await page.getByRole('button', { name: 'Save template', exact: true }).click();
  await expect(page.getByText(/storage unit · stores=grain|unit or storage unit · stores=grain/)).toBeVisible();
  await find(page, 'stores=grain 07');
  await expect(page.getByRole('option').first()).toContainText('Silo 07');
});

test('where a template is used is listed, and taking it out says what goes and comes back', async ({ page }) => {
  await open(page, 'Fan');
  await page.getByRole('link', { name: 'Where used' }).click();
  await expect(page.getByRole('link', { name: 'Kiln: Exhaust fan' })).toBeVisible();
  await expect(page.getByRole('columnheader', { name: /^\d+ instances$/ })).toBeVisible();
  const before = (await all()).length;
  const fans = (await all()).filter(e => e.template === 'Fan').length;
  await page.getByRole('link', { name: 'Take out' }).click();
  await expect(page.getByText(`${fans} instances: `, { exact: false })).toBeVisible();
  await expect(page.getByText('it as a part of Germination box, Kiln')).toBeVisible();
  await page.getByRole('button', { name: `Take out Fan and ${fans} nodes`, exact: true }).click();
  await expect.poll(async () => (await all()).length).toBe(before - fans);
  await page.getByRole('button', { name: /^Take back: Take out template Fan/ }).click();
  await expect.poll(async () => (await all()).length).toBe(before);
});

test('several instances are edited together, mixed shown as mixed, and only what is touched changes', async ({ page }) => {
  const kilns = (await all()).filter(e => /\/KLN[1-4]$/.test(e.path));
  await page.goto(`${fralto.base}/plant?at=${kilns[0].id}`);
  await page.locator('.node', { hasText: 'Kiln 2' }).click({ modifiers: ['Control'] });
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('2 selected');
  await page.locator('.node', { hasText: 'Kiln 3' }).focus();
  await page.keyboard.press(' ');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('3 selected');
  await expect(field(page, 'Asset number')).toHaveAttribute('placeholder', 'mixed');
  await field(page, 'Maker').fill('Norvek');
  await page.getByRole('row', { name: 'Maker' }).getByRole('button', { name: 'set for all' }).click();
  await expect(page.getByRole('status').first()).toContainText('3 of them: Maker = Norvek');

  await page.goto(`${fralto.base}/plant?at=${kilns[0].id}`);
  await page.getByRole('link', { name: 'Air-on temperature', exact: true }).click();
  await field(page, 'Description').fill('the old sensor');
  await page.getByRole('button', { name: 'Set for Kiln 1', exact: true }).click();
  await page.getByRole('link', { name: /^edit with the/ }).click();
  await page.getByRole('link', { name: 'Air-on temperature', exact: true }).click();
  await expect(field(page, 'Description')).toHaveAttribute('placeholder', 'mixed');
  await page.locator('#f-HighSetpoint').fill('86');
  await page.getByRole('button', { name: /^Set for all/ }).click();
  await expect(page.getByText('set at', { exact: false }).first()).toBeVisible();
  const airOn = (await fralto.api('/templates')).find(t => t.code === 'Kiln').properties.find(p => p.code === 'AirOn').id;
  await page.goto(
    `${fralto.base}/plant?at=${kilns[0].id}&property=${airOn}`,
  );
  await expect(field(page, 'Description')).toHaveValue('the old sensor');
  await expect(page.locator('#f-HighSetpoint')).toHaveValue('86');
});

test('the sheet of a template is sorted, chosen from by where properties come from, and stays so while one is opened', async ({ page }) => {
  await open(page, 'Kiln');
  const names = () => page.locator('table.list td[data-label="Property"]').allInnerTexts();
  await expect.poll(async () => (await names()).length).toBeGreaterThan(10);
  await page.getByLabel('Only with from').selectOption('own');
  await expect(page.locator('[data-listing-count]')).toHaveText(/^\d+ of \d+ properties$/);
  await page.getByRole('columnheader', { name: 'Property' }).getByRole('link').press('Enter');
  await expect(page.getByRole('columnheader', { name: 'Property' })).toHaveAttribute('aria-sort', 'ascending');
  const own = await names();
  expect(own).toEqual([...own].sort((a, b) => a.localeCompare(b)));
  await page.locator('table.list').getByRole('link', { name: 'Grain moisture' }).press('Enter');
  await expect(page.getByRole('heading', { name: 'Grain moisture' })).toBeVisible();
  expect(await names()).toEqual(own);
  await expect(page.locator('table.list tr.on td[data-label="Property"]')).toHaveText('Grain moisture');
});
