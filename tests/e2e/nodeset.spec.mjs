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

// The packages of the stand-in and of the link: npm node-opcua-server and node-opcua-client.
const require = createRequire(new URL('../../src/Fralto.StandIns/OpcUa/server/package.json', import.meta.url));
const requireClient = createRequire(new URL('../../src/Fralto.Links/OpcUa/child/package.json', import.meta.url));

// What a client sees of the model in a server that has loaded it.
async function browsedByAnother(port) {
  const ua = requireClient('node-opcua-client');
  const { OPCUACertificateManager } = requireClient('node-opcua-certificate-manager');
  const client = ua.OPCUAClient.create({
    endpointMustExist: false,
    connectionStrategy: { maxRetry: 1 },
    clientCertificateManager: new OPCUACertificateManager({ rootFolder: join(empty.directory, 'client') }),
  });
  await client.connect(`opc.tcp://127.0.0.1:${port}`);
  const session = await client.createSession();
  const own = (await session.readNamespaceArray()).indexOf('urn:fralto:model');
  const kiln = `ns=${own};s=Corvane/TarnQuay/Kilning/KilnHouse/KLN1`;
  const valueOf = async (node, name) => {
    const { targets } = await session.translateBrowsePath(ua.makeBrowsePath(node, `.${name}`));
    return (await session.read({ nodeId: targets[0].targetId, attributeId: ua.AttributeIds.Value })).value.value;
  };
  const below = await session.browse({
    nodeId: kiln,
    referenceTypeId: 'HierarchicalReferences',
    includeSubtypes: true,
    resultMask: 63,
  });
  expect(below.references.map(r => r.browseName.name)).toEqual(expect.arrayContaining(['AirOn', 'Phase']));
  const type = await session.browse({ nodeId: kiln, referenceTypeId: 'HasTypeDefinition', resultMask: 63 });
  expect(type.references[0].browseName.name).toBe('KilnType');
  const base = await session.browse({
    nodeId: type.references[0].nodeId,
    referenceTypeId: 'HasSubtype',
    browseDirection: ua.BrowseDirection.Inverse,
    resultMask: 63,
  });
  expect(base.references[0].browseName.name).toBe('AirSweptBedType');
  const unit = await valueOf(`${kiln}/AirOn`, 'EngineeringUnits');
  expect([unit.unitId, unit.displayName.text]).toEqual([4408652, '°C']);
  const range = await valueOf(`${kiln}/AirOn`, 'EURange');
  expect(range.high).toBeGreaterThan(range.low);
  const phases = await session.read({ nodeId: `ns=${own};s=states/KilnPhase`, attributeId: ua.AttributeIds.NodeClass });
  expect(phases.value.value).toBe(ua.NodeClass.DataType);
  await session.close();
  await client.disconnect();
}

test('an independent server loads what is given out, another client sees it, and an empty plant takes it in', async ({
  page,
  demo,
}) => {
  const fralto = await demo.asShipped();
  const answer = await fetch(`${fralto.base}/api/v1/model/nodeset2`);
  expect(answer.headers.get('content-type')).toContain('application/xml');
  const file = join(empty.directory, 'maltings.NodeSet2.xml');
  writeFileSync(file, await answer.text());

  const { OPCUAServer } = require('node-opcua-server');
  const { OPCUACertificateManager } = require('node-opcua-certificate-manager');
  const { nodesets } = require('node-opcua-nodesets');
  const serverCertificateManager = new OPCUACertificateManager({ rootFolder: join(empty.directory, 'pki') });
  const server = new OPCUAServer({
    port: 0,
    hostname: '127.0.0.1',
    nodeset_filename: [nodesets.standard, file],
    serverCertificateManager,
  });
  await server.initialize();
  await server.start();
  try {
    await browsedByAnother(server.endpoints[0].port);
  } finally {
    await server.shutdown(0);
  }

  await page.goto(`${empty.base}/exchange`);
  await page.getByLabel(/A file as given out here/).setInputFiles(file);
  await page.getByRole('button', { name: 'Show what it would do' }).click();
  await expect(page.locator('[data-import-words]')).toContainText('types and objects of OPC UA');
  // One type alone, then all of them after all.
  await page.getByText(/^All \d+ types,/).click();
  const types = page.locator('details').filter({ hasText: 'with what they are made of' });
  const [boxes, words] = [types.getByRole('checkbox'), page.locator('[data-import-words]')];
  const whole = await words.textContent();
  for (const box of await boxes.all())
    if (!(await box.evaluate(b => b.closest('li').textContent.includes('Motor')))) await box.uncheck();
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
