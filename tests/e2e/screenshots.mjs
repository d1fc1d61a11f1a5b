// Takes the pictures of docs/screenshots from the demo plant: node tests/e2e/screenshots.mjs
import { chromium } from '@playwright/test';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import config from './playwright.config.mjs';
import { startFralto } from './fralto.mjs';

const target = fileURLToPath(new URL('../../docs/screenshots/', import.meta.url));
const fralto = await startFralto('demo', undefined, true, 2, true);
const browser = await chromium.launch(config.use.launchOptions);
const page = await browser.newPage({ viewport: config.use.viewport });
const id = async (path, holds) => (await fralto.api(path)).find(holds).id;
const kiln = await id('/templates', t => t.code === 'Kiln');
const steep = (await fralto.api('/templates')).find(t => t.code === 'SteepVessel');
const ofSteep = code => steep.properties.find(p => p.code === code).id;
const steep1 = await id('/equipment', e => e.code === 'ST1');
const bed = await id('/templates', t => t.code === 'AirSweptBed');
const kilns = (await fralto.api('/equipment')).filter(e => /KLN\d$/.test(e.path)).map(e => e.id);
const kiln2 = await id('/equipment', e => e.code === 'KLN2');
const quay = await id('/equipment', e => e.code === 'TarnQuay');

const kilnTemplate = (await fralto.api('/templates')).find(t => t.code === 'Kiln');
const airOn = kilnTemplate.properties.find(p => p.code === 'AirOn').id;
const heat = (await fralto.api('/templates')).find(t => t.code === 'Kiln').properties.find(p => p.code === 'Efficiency').id;
const boxes = (await fralto.api('/templates')).find(t => t.code === 'GerminationBox');
const [box2, pilot] = [await id('/equipment', e => e.code === 'BOX2'), await id('/equipment', e => e.code === 'PilotKiln')];

const [phase, fan] = ['Phase', 'FanSpeed'].map(
  code => kilnTemplate.properties.find(p => p.code === code).id,
);
// Wait until the past has been made, for the curves.
for (let tries = 0; tries < 600; tries++) {
  if (!(await (await fetch(`${fralto.base}/trends?plot=true`)).text()).includes('past is being made')) break;
  await new Promise(resolve => setTimeout(resolve, 500));
}
// Wait until kiln 2 has raised its alarm, so that the pictures show one.
for (let tries = 0; tries < 600 && !(await fralto.api('/alarms')).some(a => a.state === 'Unacknowledged'); tries++)
  await new Promise(resolve => setTimeout(resolve, 200));
const views = {
  alarms: '/alarms',
  limits: '/alarms/limits',
  load: '/alarms/load?days=7',
  plant: `/plant?at=${kiln2}`,
  live: '/live',
  template: `/templates?at=${bed}`,
  bindings: `/bindings?template=${kiln}&cell=${pilot}.${airOn}`,
  checks: '/checks',
  controllers: `/controllers?at=${await id('/controllers', c => c.name === 'kiln-plc')}`,
  place: `/plant?at=${quay}`,
  chain: `/chain?at=${steep1}&property=${ofSteep('WaterFlow')}&value=30`,
  trends: `/trends?template=${kiln}&p=${airOn}&p=${phase}&p=${fan}&for=3600`,
  machine: `/machine?at=${kiln2}&for=3600`,
  compare: `/compare?template=${await id('/templates', t => t.code === 'Silo')}&for=1200`,
  formula: `/templates?at=${kiln}&property=${heat}`,
};
for (const [name, address] of Object.entries(views)) {
  await page.goto(fralto.base + address);
  // What a page works out beside itself is waited for.
  await page.locator('[data-pending]').waitFor({ state: 'detached', timeout: 60_000 });
  if (name === 'place') await page.getByText(/bindings look wrong/).first().waitFor({ timeout: 60_000 });
  if (name === 'formula') await page.evaluate(() => document.querySelector('.drawer').scrollTo(0, 130));
  if (name === 'checks') await page.getByText(/^looked through at/).waitFor({ timeout: 60_000 });
  if (name === 'alarms') await page.locator('.alarmlink').first().click();
  await page.waitForTimeout(1000);
  await page.screenshot({ path: `${target}${name}.png` });
}
// A scale on trial.
await page.goto(`${fralto.base}/scales`);
await page.getByRole('link', { name: /^Steep oxygen/ }).click();
await page.getByLabel('Signal', { exact: true }).selectOption('Counts15');
await page.waitForTimeout(1500);
await page.screenshot({ path: `${target}scales.png` });
// A file that was changed in a spreadsheet, with a slip of the hand in it.
const csv = (await (await fetch(`${fralto.base}/api/v1/bulk/equipment.csv`)).text())
  .replace('KLN1,Kiln 1,Unit', 'KLN1,First kiln,Unit')
  .replace('ST3,Steep 3,Unit', 'ST3,Steep 3,Unitt');
writeFileSync(
  join(fralto.directory, 'equipment.csv'),
  `${csv}Corvane/TarnQuay/Kilning/KilnHouse/KLN5,Kiln 5,Unit,Kiln,owner=night shift\r\n`,
);
await page.goto(`${fralto.base}/exchange`);
await page.locator('#file').setInputFiles(join(fralto.directory, 'equipment.csv'));
await page.getByRole('button', { name: 'Show what it would do' }).click();
await page.waitForTimeout(1000);
await page.screenshot({ path: `${target}files.png` });
// What an OPC UA server offers, with its certificate.
await page.goto(`${fralto.base}/controllers?open=change&at=${await id('/controllers', c => c.name === 'utility-ua')}`);
await page.getByRole('button', { name: 'Test connection' }).click();
await page.locator('.offer').waitFor({ timeout: 60_000 });
await page.locator('.offer tbody tr').last().waitFor();
await page.locator('#verdict').scrollIntoViewIfNeeded();
await page.screenshot({ path: `${target}opcua.png` });
// The review of a few edits, tried for some seconds: limits, a formula, a unit that was wrong, tags taken away.
const model = await (await fetch(`${fralto.base}/api/v1/model`)).json();
const property = (template, code) => model.templates.find(t => t.code === template).properties.find(p => p.code === code);
property('AirSweptBed', 'AirOn').limits.High.setpoint = 84;
property('Kiln', 'GasFlow').limits.High.setpoint = 650;
property('Kiln', 'GasHeat').formula = 'GasFlow × 10.1 kWh/m³';
model.controllers.find(c => c.name === 'silo-hub').tags.find(t => t.name === 'silo/09/mass').unit = 'KGM';
model.bindings = model.bindings.filter(b => !(b.equipment.endsWith('KLN3') && b.property === 'Moisture'));
const send = (method, path, body) =>
  fetch(`${fralto.base}/api/v1${path}`, { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });
await send('PUT', '/model', model);
await page.waitForTimeout(3000);
await send('POST', '/trial', { seconds: 600 });
await page.waitForTimeout(8000);
await page.goto(`${fralto.base}/review`);
await page.waitForTimeout(1500);
await page.screenshot({ path: `${target}review.png` });
await browser.close();
await fralto.forget();
