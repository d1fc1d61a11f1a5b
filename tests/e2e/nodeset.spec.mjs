// The model as a NodeSet2 file: out by the interface, loaded by an independent address space, and taken in again by hand.
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { createRequire } from 'node:module';
import { test, expect } from './test.mjs';
import { startFralto } from './fralto.mjs';

let empty;
test.beforeAll(async () => {
  empty = await startFralto();
});
test.afterAll(async () => empty?.forget());

// The packages of the stand-in: the address space of npm node-opcua-server.
const require = createRequire(new URL('../../src/Fralto.StandIns/OpcUa/server/package.json', import.meta.url));

test('an independent server loads what is given out, and an empty plant takes it in', async ({ page, demo }) => {
  const fralto = await demo.asShipped();
  const answer = await fetch(`${fralto.base}/api/v1/model/nodeset2`);
  expect(answer.headers.get('content-type')).toContain('application/xml');
  const file = join(empty.directory, 'maltings.NodeSet2.xml');
  writeFileSync(file, await answer.text());

  const { AddressSpace } = require('node-opcua-address-space');
  const { generateAddressSpace } = require('node-opcua-address-space/nodeJS');
  const { nodesets } = require('node-opcua-nodesets');
  const space = AddressSpace.create();
  await generateAddressSpace(space, [nodesets.standard, file]);
  const own = space.getNamespaceIndex('urn:fralto:model');
  const airOn = space.findNode(`ns=${own};s=Corvane/TarnQuay/Kilning/KilnHouse/KLN1/AirOn`);
  const unit = airOn.getPropertyByName('EngineeringUnits').readValue().value.value;
  expect([unit.unitId, unit.displayName.text]).toEqual([4408652, '°C']);
  const range = airOn.getPropertyByName('EURange').readValue().value.value;
  expect(range.high).toBeGreaterThan(range.low);
  const kiln = space.findNode(`ns=${own};s=Corvane/TarnQuay/Kilning/KilnHouse/KLN1`);
  expect(kiln.typeDefinitionObj.browseName.name).toBe('KilnType');
  expect(kiln.typeDefinitionObj.subtypeOfObj.browseName.name).toBe('AirSweptBedType');
  const phases = space.findNode(`ns=${own};s=states/KilnPhase`);
  expect(phases.nodeClass).toBe(64);
  space.dispose();

  await page.goto(`${empty.base}/exchange`);
  await page.getByLabel(/A file as given out here/).setInputFiles(file);
  await page.getByRole('button', { name: 'Show what it would do' }).click();
  await expect(page.locator('[data-import-words]')).toContainText('types and objects of OPC UA');
  // One type alone, then all of them after all.
  await page.getByText(/^All \d+ types,/).click();
  const types = page.locator('details').filter({ hasText: 'with what they are made of' });
  const [boxes, words] = [types.getByRole('checkbox'), page.locator('[data-import-words]')];
  const whole = await words.textContent();
  for (const box of await boxes.all()) if (!(await box.evaluate(b => b.closest('li').textContent.includes('Motor')))) await box.uncheck();
  await types.getByRole('button', { name: 'Show what these would do' }).click();
  await expect(page.getByText(/^\d of \d+ types,/)).toBeVisible();
  expect(await words.textContent()).not.toBe(whole);
  for (const box of await boxes.all()) await box.check();
  await types.getByRole('button', { name: 'Show what these would do' }).click();
  await expect(words).toHaveText(whole);
  await page.getByRole('button', { name: 'Take them in' }).click();
  await expect(page).toHaveURL(/exchange$/);
  const [there, here] = [await fralto.api('/equipment'), await empty.api('/equipment')];
  expect(here.map(e => e.path).sort()).toEqual(there.map(e => e.path).sort());
});

test('what is no NodeSet2 is refused with what it is', async ({ page }) => {
  const file = join(empty.directory, 'page.xml');
  writeFileSync(file, '<html><body/></html>');
  await page.goto(`${empty.base}/exchange`);
  await page.getByLabel(/A file as given out here/).setInputFiles(file);
  await page.getByRole('button', { name: 'Show what it would do' }).click();
  await expect(page.getByRole('alert')).toContainText('page.xml: it begins with html, and no UANodeSet of OPC UA');
});
