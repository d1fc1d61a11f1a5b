// Takes the pictures of docs/screenshots from the demo plant: node tests/e2e/screenshots.mjs
import { chromium } from '@playwright/test';
import { fileURLToPath } from 'node:url';
import config from './playwright.config.mjs';
import { startFralto } from './fralto.mjs';

const target = fileURLToPath(new URL('../../docs/screenshots/', import.meta.url));
const fralto = await startFralto('demo');
const browser = await chromium.launch(config.use.launchOptions);
const page = await browser.newPage({ viewport: config.use.viewport });
const id = async (path, holds) => (await fralto.api(path)).find(holds).id;
const kiln = await id('/templates', t => t.code === 'Kiln');
const bed = await id('/templates', t => t.code === 'AirSweptBed');
const kiln2 = await id('/equipment', e => e.code === 'KLN2');
const door = (await fralto.api('/templates')).find(t => t.code === 'Kiln').properties.find(p => p.code === 'Door').id;

// Wait until kiln 2 has raised its alarm, so that the pictures show one.
for (let tries = 0; tries < 600 && !(await fralto.api('/alarms')).some(a => a.state === 'Unacknowledged'); tries++) await new Promise(resolve => setTimeout(resolve, 200));
const views = {
  alarms: '/alarms',
  plant: `/plant?at=${kiln2}`,
  live: '/live',
  template: `/templates?at=${bed}`,
  bindings: `/bindings?template=${kiln}&cell=${kiln2}.${door}`,
  controllers: '/controllers',
};
for (const [name, address] of Object.entries(views)) {
  await page.goto(fralto.base + address);
  await page.waitForTimeout(1000);
  await page.screenshot({ path: `${target}${name}.png` });
}
await browser.close();
await fralto.forget();
