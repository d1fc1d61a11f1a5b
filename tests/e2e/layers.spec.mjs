// Say it once: a template's word holds for all, a descendant refines it, an instance keeps its own, and the effect is known before.
import { test, expect } from './test.mjs';

let fralto;
let ids;

test.beforeAll(async ({ demo }) => {
  fralto = await demo.asShipped();
  const templates = await fralto.api('/templates');
  const equipment = await fralto.api('/equipment');
  ids = {
    bed: templates.find(t => t.code === 'AirSweptBed').id,
    kiln: templates.find(t => t.code === 'Kiln').id,
    airOn: templates.find(t => t.code === 'Kiln').properties.find(p => p.code === 'AirOn').id,
    kiln1: equipment.find(e => e.code === 'KLN1').id,
  };
});

const highOf = async template =>
  (await fralto.api('/templates'))
    .find(t => t.code === template)
    .properties.find(p => p.code === 'AirOn')
    .limits.find(l => l.condition === 'High').setpoint;

test('an instance sets its own limit, keeps it while the template changes, and goes back', async ({ page }) => {
  await page.goto(`${fralto.base}/plant?at=${ids.kiln1}`);
  await page.getByRole('link', { name: 'Air-on temperature', exact: true }).click();
  await expect(page.locator('#f-HighSetpoint')).toHaveAttribute('placeholder', '88');
  await page.locator('#f-HighSetpoint').fill('200');
  await page.getByRole('button', { name: 'Set for Kiln 1', exact: true }).click();
  await expect(page.getByText('H 200 lies outside the range 0 … 120.')).toBeVisible();
  await page.locator('#f-HighSetpoint').fill('20');
  await page.getByRole('button', { name: 'Set for Kiln 1', exact: true }).click();
  await expect(page.getByRole('status').first()).toContainText('Kiln 1: Air-on temperature set here');
  await expect.poll(async () => (await fralto.api('/alarms')).some(a => a.path.endsWith('KLN1/AirOn') && a.setpoint === 20)).toBe(true);

  await page.goto(`${fralto.base}/templates?at=${ids.bed}&property=${ids.airOn}`);
  await page.locator('#f-HighSetpoint').fill('90');
  await expect(
    page.getByText('changes 4 of 11 instances · 6 keep what Germination box says · 1 keeps what it says itself: Kiln 1'),
  ).toBeVisible();
  expect(await highOf('AirSweptBed')).toBe(88);
  await page.getByRole('button', { name: 'Save property', exact: true }).click();
  await expect.poll(() => highOf('Kiln')).toBe(90);
  expect((await fralto.api('/alarms')).some(a => a.path.endsWith('KLN1/AirOn') && a.setpoint === 20)).toBe(true);

  await page.locator('#f-RangeHigh').fill('15');
  await expect(page.getByText('cannot be saved as it stands')).toBeVisible();

  await page.goto(`${fralto.base}/plant?at=${ids.kiln1}&property=${ids.airOn}`);
  await page.getByRole('button', { name: 'Back to template', exact: true }).click();
  await expect(page.locator('#f-HighSetpoint')).toHaveAttribute('placeholder', '90');
  await expect(page.locator('#f-HighSetpoint')).toHaveValue('');
});

test('a property is pulled up, and keeps its bindings', async ({ page }) => {
  const moisture = (await fralto.api('/templates')).find(t => t.code === 'Kiln').properties.find(p => p.code === 'Moisture').id;
  const bound = (await fralto.api('/values')).length;
  await page.goto(`${fralto.base}/templates?at=${ids.kiln}&property=${moisture}`);
  await page.getByLabel('Move it', { exact: true }).selectOption({ label: 'up to Air-swept bed, 11 instances' });
  await page.getByRole('button', { name: 'Move property', exact: true }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Air-swept bed');
  await expect(page.getByRole('row', { name: /^Grain moisture/ })).toBeVisible();
  expect((await fralto.api('/templates')).find(t => t.code === 'Kiln').properties.find(p => p.id === moisture).declaredBy).toBe(
    'AirSweptBed',
  );
  expect((await fralto.api('/values')).length).toBe(bound);
});

test('a descendant refines an inherited property without declaring it again', async ({ page }) => {
  await page.goto(`${fralto.base}/templates?at=${ids.kiln}&property=${ids.airOn}`);
  await page.locator('#f-HighSetpoint').fill('86');
  await page.locator('#f-LowPriority').selectOption({ label: 'no limit' });
  await page.getByRole('button', { name: 'Refine for Kiln', exact: true }).click();
  await expect.poll(() => highOf('Kiln')).toBe(86);
  const kiln = (await fralto.api('/templates')).find(t => t.code === 'Kiln').properties.find(p => p.code === 'AirOn');
  expect(kiln.declaredBy).toBe('AirSweptBed');
  expect(kiln.limits.map(l => l.condition)).toEqual(['HighHigh', 'High', 'LowLow']);
  expect(await highOf('AirSweptBed')).not.toBe(86);
});
