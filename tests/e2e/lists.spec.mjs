// Lists that work like lists, with the keyboard alone; many things done at once; tables mended before they are taken in.
import { readFileSync } from 'node:fs';
import { test, expect } from './test.mjs';

let fralto;

test.beforeAll(async ({ demo }) => {
  fralto = await demo.asShipped();
});

const controller = async name => (await fralto.api('/controllers')).find(c => c.name === name).id;
const node = async end => (await fralto.api('/equipment')).find(e => e.path.endsWith(end)).id;
const cells = (page, column) => page.locator(`tr[data-place] td[data-label="${column}"]`);

test('a list is filtered as one types, sorted by its headings and by facets, and says so', async ({ page }) => {
  await page.goto(`${fralto.base}/controllers?at=${await controller('kiln-plc')}`);
  const tags = page.getByRole('region', { name: 'tags' });
  await tags.getByLabel('Filter tags').pressSequentially('TT1');
  await expect(tags.getByRole('status').first()).toHaveText(/^\d+ of \d+ tags$/);
  await expect.poll(async () => (await cells(page, 'Tag').allTextContents()).every(t => t.includes('TT1'))).toBe(true);
  await expect(tags.getByLabel('Filter tags')).toBeFocused();
  await tags.getByLabel('Filter tags').fill('');
  await expect(tags.getByRole('status').first()).toHaveText(/^\d+ tags$/);

  const heading = page.getByRole('columnheader', { name: /^Raw now/ });
  await expect(heading).toHaveAttribute('aria-sort', 'none');
  await heading.getByRole('link').press('Enter');
  await expect(heading).toHaveAttribute('aria-sort', 'ascending');
  await heading.getByRole('link').press('Enter');
  await expect(heading).toHaveAttribute('aria-sort', 'descending');
  const raw = (await cells(page, 'Raw now').allTextContents()).map(Number).filter(Number.isFinite);
  expect(raw.length).toBeGreaterThan(10);
  await page.getByRole('columnheader', { name: /^Tag/ }).getByRole('link').press('Enter');
  await expect(page.getByRole('columnheader', { name: /^Tag/ })).toHaveAttribute('aria-sort', 'ascending');
  const names = (await cells(page, 'Tag').allTextContents()).map(t => t.trim());
  expect(names).toEqual(names.toSorted((a, b) => a.localeCompare(b, 'en', { numeric: true, sensitivity: 'base' })));

  await tags.getByLabel('Only with type').selectOption('bool');
  await expect.poll(async () => new Set(await cells(page, 'Type').allTextContents()).size).toBe(1);
  // The address says it all: whoever opens it sees the same.
  await page.reload();
  await expect(page.getByRole('columnheader', { name: /^Tag/ })).toHaveAttribute('aria-sort', 'ascending');
  await expect(tags.getByLabel('Only with type')).toHaveValue('bool');
  await tags.getByRole('link', { name: 'show all' }).click();
  await expect(tags.getByRole('status').first()).toHaveText(/^\d+ tags$/);
});

test('columns are chosen and stay chosen; what is shown goes out as a file and as text', async ({ page, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await page.goto(`${fralto.base}/units?filter=kelvin`);
  await page.getByText('columns', { exact: true }).click();
  await page.getByLabel('show the column Code').uncheck();
  await expect(page.getByRole('columnheader', { name: 'Code' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Name further to the left' }).press('Enter');
  await expect(page.getByRole('columnheader').first()).toHaveText('Name');
  await page.reload();
  await expect(page.getByRole('columnheader').first()).toHaveText('Name');
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'units as CSV' }).click()]);
  const csv = readFileSync(await download.path(), 'utf8');
  expect(csv).toMatch(/^\uFEFF?Name,Symbol,Quantity/);
  expect(csv.trim().split('\n').length).toBe(1 + (await page.locator('tr[data-place]').count()));
  await page.getByRole('button', { name: 'copy', exact: true }).click();
  await expect(page.getByText(/^\d+ copied$/)).toBeVisible();
  expect(await page.evaluate(() => navigator.clipboard.readText())).toMatch(/^Name\tSymbol\tQuantity/);
  await page.getByText('columns', { exact: true }).click();
  await page.getByRole('button', { name: 'as they usually are' }).click();
  await expect(page.getByRole('columnheader').first()).toHaveText('Symbol');
});

test('tags are selected with the keyboard and renamed by a pattern as one edit, with the effect first', async ({ page }) => {
  await page.goto(`${fralto.base}/controllers?at=${await controller('kiln-plc')}&filter=TT1&sort=name`);
  await page.getByLabel('Filter tags').focus();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Control+a');
  const many = await page.locator('tr[data-place]').count();
  await expect(page.getByText(`${many} selected:`)).toBeVisible();
  await page.getByLabel('What stands in the names; * is any text').fill('KLN*_TT');
  await page.getByLabel('What stands there then').fill('K*.TT');
  await expect(page.getByText(/get new names: KLN1_TT11 becomes K1\.TT11/)).toBeVisible();
  await page.getByRole('button', { name: 'Do it', exact: true }).press('Enter');
  await expect(page.getByText(/^Rename KLN\*_TT to K\*\.TT: names of \d+ tags$/)).toBeVisible();
  const tags = async () => (await (await fetch(`${fralto.base}/api/v1/tags?limit=1000`)).json()).items;
  expect((await tags()).filter(t => /^K\d\.TT1/.test(t.name)).length).toBeGreaterThan(3);
  await page.getByRole('button', { name: /^Take back: Rename/ }).click();
  await expect.poll(async () => (await tags()).some(t => t.name === 'KLN1_TT11')).toBe(true);
});

test('several pieces of equipment are copied, labelled, and taken out together', async ({ page }) => {
  const before = (await fralto.api('/equipment')).length;
  await page.goto(`${fralto.base}/plant?at=${await node('/KLN1')}&with=${await node('/KLN2')}`);
  const effect = page.locator('#many-form').getByRole('status');
  await page.getByLabel('What to do with all 2').selectOption('label');
  await page.getByLabel('Labels; key= takes one off').fill('owner=night shift');
  await expect(effect).toHaveText('Label 2 pieces owner=night shift');
  await page.getByRole('button', { name: 'Do it for all 2' }).click();
  await expect(page.getByText('Label 2 pieces owner=night shift').first()).toBeVisible();
  await page.getByLabel('What to do with all 2').selectOption('copy');
  await page.getByLabel('How many copies of each').fill('2');
  await page.getByLabel('Codes of the copies').fill('{code}');
  await expect(effect).toContainText('{n}');
  await page.getByLabel('Codes of the copies').fill('{code}x{n}');
  await expect(effect).toHaveText('Copy 2 pieces 2 times');
  await page.getByRole('button', { name: 'Do it for all 2' }).click();
  await expect.poll(async () => (await fralto.api('/equipment')).filter(e => /\/KLN[12]x[12]$/.test(e.path)).length).toBe(4);
  const ids = (await fralto.api('/equipment')).filter(e => /\/KLN[12]x[12]$/.test(e.path)).map(e => e.id);
  await page.goto(`${fralto.base}/plant?at=${ids[0]}&with=${ids.slice(1).join(',')}`);
  await page.getByLabel('What to do with all 4').selectOption('remove');
  await expect(effect).toContainText('Take out 4 pieces');
  await page.getByRole('button', { name: 'Do it for all 4' }).click();
  await expect.poll(async () => (await fralto.api('/equipment')).length).toBe(before);
});

test('a pasted table is mended in the preview, bad rows are left out, and the good ones taken', async ({ page }) => {
  await page.goto(`${fralto.base}/taglist?at=${await controller('trial-plc')}`);
  await page.getByText('or paste a table from a spreadsheet').click();
  await page
    .getByLabel('A table, pasted with its heading row')
    .fill(
      ['Signal name\tRegister\tFormat\tEU', 'X1\t41001\tREAL\tdegC', 'X2\t41003\tREAL\tfurlong', 'X3\tnowhere\tREAL\tdegC'].join('\n'),
    );
  await page.getByRole('button', { name: 'Show what it would do' }).click();
  const said = page.locator('[data-import-words]');
  await expect(said).toContainText('1 added, 0 changed, 2 refused');
  await page.getByLabel('Row 3, EU').fill('bar');
  await page.getByLabel('Row 3, EU').press('Enter');
  await expect(said).toContainText('2 added, 0 changed, 1 refused');
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: /refused rows/ }).click()]);
  const bad = readFileSync(await download.path(), 'utf8');
  expect(bad).toContain('why it was refused');
  expect(bad).toContain("X3,nowhere,REAL,degC,");
  await page.getByRole('button', { name: 'Leave out the refused row' }).click();
  await expect(said).toContainText('1 left out');
  await page.getByRole('button', { name: 'Take in 2 rows' }).click();
  await expect(page.getByText(/^Import tags of trial-plc: 2 tags added/)).toBeVisible();
});

test('a place says whether it is well, what is odd, what is unfinished, and what to do next', async ({ page }) => {
  await page.goto(`${fralto.base}/plant?at=${await node('Corvane/TarnQuay')}`);
  await expect(page.getByRole('region', { name: 'Is it well?' })).toContainText('4 of 4 controllers up');
  await expect(page.getByRole('region', { name: 'What is unfinished?' })).toContainText(/\d+ of \d+ not bound/);
  const kilning = page.getByRole('table', { name: 'What lies below' }).getByRole('row', { name: /^Kilning / });
  await expect(kilning).toContainText(/\d+ \/\s+\d+/);
  await expect(kilning).toContainText('kiln-plc up');
  await page.getByRole('region', { name: 'Next to do' }).getByRole('link', { name: 'Bind them' }).click();
  await expect(page).toHaveURL(/bindings\?place=\d+&only=open/);
});

test('a template is copied whole, and properties of it to another', async ({ page }) => {
  const id = (await fralto.api('/templates')).find(t => t.code === 'GasBurner').id;
  await page.goto(`${fralto.base}/templates?at=${id}&open=copy`);
  await page.getByLabel('Name of a template of its own').fill('Oil burner');
  await page.getByRole('button', { name: 'Copy it' }).click();
  await expect(page.getByRole('heading', { name: 'Oil burner' })).toBeVisible();
  await page.goto(`${fralto.base}/templates?at=${id}&open=copy`);
  await page.getByLabel('As', { exact: true }).selectOption({ label: 'Oil burner' });
  await page.getByRole('button', { name: 'Copy it' }).click();
  await expect(page.getByRole('alert')).toContainText('Oil burner has');
});

test('a property is proposed as one types, fills its fields, and the next one follows without leaving the form', async ({ page }) => {
  const id = (await fralto.api('/templates')).find(t => t.code === 'Pump').id;
  await page.goto(`${fralto.base}/templates?at=${id}&open=property`);
  await page.getByLabel('Property name').pressSequentially('suction');
  const proposed = page.getByRole('listbox', { name: 'Property name' }).getByRole('option');
  await expect(proposed.first()).toContainText('Suction pressure');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Code', { exact: true })).toHaveValue('SuctionPressure');
  await expect(page.locator('#f-RangeHigh')).toHaveValue('5');
  await page.locator('#f-HighSetpoint').fill('4');
  await expect(page.locator('#f-HighDeadband')).toHaveValue('0.12');
  await expect(page.locator('#f-HighOnDelay')).toHaveValue('15');
  await page.getByRole('button', { name: 'Add and go on with another' }).click();
  await expect(page.getByText(/^Declare Suction pressure on Pump/).first()).toBeVisible();
  await expect(page.getByLabel('Property name')).toBeFocused();
  await expect(page.getByLabel('Property name')).toHaveValue('');
});

test('limits are set by column: pasted from a spreadsheet, with the effect first, by keyboard', async ({ page, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  const id = (await fralto.api('/templates')).find(t => t.code === 'Kiln').id;
  await page.goto(`${fralto.base}/templates?at=${id}`);
  await page.getByRole('link', { name: 'Set limits' }).click();
  await page.getByRole('link', { name: 'deadband' }).click();
  const cell = name => page.getByLabel(name, { exact: true });
  await page.evaluate(() => navigator.clipboard.writeText('4\t3\n2\t2.5'));
  await cell('Air-on temperature HH').focus();
  await page.keyboard.press('Control+v');
  await expect(cell('Air-off temperature H')).toHaveValue('2.5');
  await expect(page.locator('[hx-post*="handler=Effect"]')).toContainText('no setpoint');
  // A limit that is not there has no deadband: the cell is emptied, and the rest goes through.
  await cell('Air-off temperature HH').fill('');
  await expect(page.locator('[hx-post*="handler=Effect"]')).toContainText(/Change limits of 2 properties of Kiln; reaches \d+ instances/);
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Set them' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByText(/^Change limits of 2 properties of Kiln/)).toBeVisible();
  await expect(cell('Air-on temperature H')).toHaveValue('3');
  await page.getByRole('button', { name: /^Take back: Change limits/ }).click();
  await expect(cell('Air-on temperature H')).toHaveValue('');
});

test('a state told by a text and abnormal comes in with a list, and all lists go out as one workbook', async ({ page }) => {
  await page.goto(`${fralto.base}/exchange`);
  const [all] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'all lists as XLSX' }).click()]);
  const workbook = await all.path();
  await page.locator('#file').setInputFiles({ name: 'all.xlsx', mimeType: '', buffer: readFileSync(workbook) });
  await page.getByRole('button', { name: 'Show what it would do' }).click();
  await expect(page.getByRole('alert')).toContainText('there is nothing to take in');

  await page.getByText('or paste a table from a spreadsheet').click();
  await page
    .getByLabel('A table, pasted with its heading row')
    .fill('stateList\tvalue\tstate\tkey\tabnormal\nRunState\t2\tFault\tflt\tyes\nRunState\tx\tOdd\t\tno');
  await page.getByRole('button', { name: 'Show what it would do' }).click();
  const said = page.locator('[data-import-words]');
  await expect(said).toContainText('1 added, 0 changed, 1 refused');
  await page.getByLabel('Only with would be').selectOption('refused');
  await expect(page.locator('tr[data-place]')).toHaveCount(1);
  await page.getByLabel('Row 3, value').fill('3');
  await page.getByLabel('Row 3, value').press('Enter');
  await expect(said).toContainText('2 added, 0 changed, 0 refused');
  await page.getByRole('button', { name: 'Take in 2 rows' }).click();
  const list = (await (await fetch(`${fralto.base}/api/v1/model`)).json()).stateLists.find(l => l.code === 'RunState');
  expect(list.states.slice(-2)).toEqual([
    { value: 2, name: 'Fault', abnormal: true, key: 'flt' },
    { value: 3, name: 'Odd' },
  ]);
  await page.goto(`${fralto.base}/states`);
  await page.getByRole('link', { name: /^Run state/ }).click();
  await expect(page.getByLabel(/^States, a line each/)).toHaveValue(/2 Fault = flt !/);
});

test('at 390 px every view can be looked at: nothing is flat, and the page does not go sideways', async ({ browser }) => {
  const page = await (await browser.newContext({ viewport: { width: 390, height: 800 } })).newPage();
  const kiln = await node('/KLN1');
  const template = (await fralto.api('/templates')).find(t => t.code === 'Kiln').id;
  for (const [address, what] of [
    [`/plant?at=${kiln}`, '.sheetpane table'],
    [`/plant?at=${await node('Corvane/TarnQuay')}`, '.sheetpane table'],
    [`/templates?at=${template}`, '#property-form'],
    [`/controllers?at=${await controller('kiln-plc')}`, '.listscroll'],
    ['/live', '.listscroll'],
    ['/journal', '.listscroll'],
    [`/bindings?template=${template}`, '.matrixscroll'],
    ['/alarms/log', '.listscroll'],
  ]) {
    await page.goto(fralto.base + address);
    const box = await page.locator(what).first().boundingBox();
    expect(box?.height, `${address} ${what}`).toBeGreaterThan(150);
    const wide = await page.evaluate(() => document.documentElement.scrollWidth);
    expect(wide, `${address} is ${wide} wide`).toBeLessThanOrEqual(391);
    const steps = await page.locator('nav.top .step').evaluateAll(all => all.map(s => s.getBoundingClientRect().right));
    expect(Math.max(...steps), address).toBeLessThanOrEqual(390);
  }
  await page.context().close();
});
