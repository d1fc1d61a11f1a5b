// Files out and in: what a file would do is shown first, then done whole or not at all. The schema is checked by an independent validator.
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import Ajv2020 from 'ajv/dist/2020.js';
import { test, expect } from './test.mjs';

let fralto;

test.beforeAll(async ({ demo }) => {
  fralto = await demo.asShipped();
});

const take = async (page, name, content) => {
  const file = join(fralto.directory, name);
  writeFileSync(file, content);
  await page.goto(`${fralto.base}/exchange`);
  await page.locator('#file').setInputFiles(file);
  await page.getByRole('button', { name: 'Show what it would do', exact: true }).click();
};
const get = async path => Buffer.from(await (await fetch(`${fralto.base}/api/v1${path}`)).arrayBuffer());

for (const list of ['equipment', 'values', 'properties']) {
  for (const format of ['csv', 'xlsx']) {
    test(`${list} given out as ${format} and taken in again change nothing`, async ({ page }) => {
      await take(page, `${list}.${format}`, await get(`/bulk/${list}.${format}`));
      await expect(page.locator('[data-import-words]')).toContainText('0 added, 0 changed, 0 refused');
      await expect(page.getByText('nothing would change')).toBeVisible();
    });
  }
}

test('a list is changed in a spreadsheet, looked at, refused, mended and taken in as one edit', async ({ page }) => {
  const csv = (await get('/bulk/equipment.csv')).toString();
  const grown = csv.replace(',Kiln 1,', ',First kiln,') + 'Corvane/TarnQuay/Kilning/KilnHouse/KLN5,Kiln 5,Unit,Kiln,owner=night shift\r\n';
  await take(page, 'grown.csv', grown.replace('Kiln,owner=', 'Kilm,owner='));
  await expect(page.getByRole('row', { name: /refused .*KLN5 template/ })).toContainText(
    "There is no template with the code 'Kilm'; did you mean Kiln?",
  );
  await expect(page.getByRole('button', { name: /^Take in/ })).toBeHidden();
  await take(page, 'grown.csv', grown);
  await expect(page.getByRole('row', { name: /changed .*KLN1 name/ })).toContainText('First kiln');
  await page.getByRole('button', { name: 'Take in 2 rows', exact: true }).click();
  await expect(page.getByRole('status').first()).toContainText('Import equipment: 1 row added, 1 row changed');
  const equipment = await fralto.api('/equipment');
  expect(equipment.filter(e => e.path.startsWith('Corvane/TarnQuay/Kilning/KilnHouse/KLN5')).length).toBe(8);
  await page.getByRole('button', { name: /^Take back: Import equipment/ }).click();
  await expect.poll(async () => (await fralto.api('/equipment')).length).toBe(equipment.length - 8);
});

test('a file that is no list says what lists have', async ({ page }) => {
  await take(page, 'prices.csv', 'article;price\nmalt;12,50\n');
  await expect(page.getByRole('alert')).toContainText('prices.csv has the columns article, price. Equipment has path, name');
  await take(page, 'broken.json', '{ "format": "fralto-model", "version": 1, "equipment": [ { "path": 7 } ] }');
  await expect(page.getByRole('alert')).toContainText('broken.json $.equipment[0].path: Line 1:');
});

test('the whole model keeps to its schema, goes out and in unchanged, and is taken back when it was replaced', async ({ page }) => {
  const schema = JSON.parse((await get('/model/schema')).toString());
  const validate = new Ajv2020({ strict: true, strictTypes: false, strictRequired: false, allErrors: true }).compile(schema);
  const model = await get('/model');
  expect(validate(JSON.parse(model.toString())) || validate.errors).toBe(true);
  const documented = readFileSync(fileURLToPath(new URL('../../docs/model-format.md', import.meta.url)), 'utf8').match(
    /```json\n([\s\S]*?)```/,
  )[1];
  expect(validate(JSON.parse(documented)) || validate.errors).toBe(true);
  expect(validate({ format: 'fralto-model', version: 1, equipment: [{ path: 'A b', level: 'Planet' }] })).toBe(false);

  await take(page, 'same.json', model);
  await expect(page.getByText('nothing would change')).toBeVisible();
  await take(page, 'small.json', documented);
  await expect(page.locator('[data-import-words]')).toContainText('taken out');
  await page.getByRole('button', { name: 'Replace the working model', exact: true }).click();
  await expect.poll(async () => (await fralto.api('/equipment')).length).toBe(3);
  await page.getByRole('button', { name: /^Take back: Take in a whole model/ }).click();
  await expect.poll(async () => (await get('/model')).equals(model)).toBe(true);
});
