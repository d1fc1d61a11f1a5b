// From bytes to a value anyone can check: units, signals and scales in the demo plant, with its honest mistakes found and mended.
import { test, expect } from './test.mjs';

let fralto;
let templates;
let nodes;
test.beforeAll(async ({ demo }) => {
  fralto = await demo.asShipped();
  templates = await fralto.api('/templates');
  nodes = await fralto.api('/equipment');
});

const template = code => templates.find(t => t.code === code).id;
const property = (of, code) => templates.find(t => t.code === of).properties.find(p => p.code === code).id;
const node = path => nodes.find(e => e.path.endsWith(path)).id;
const value = async path => (await fralto.api(`/values?path=Corvane/TarnQuay/${path}`))[0];
const ruler = (of, code) => `${fralto.base}/templates?at=${template(of)}&property=${property(of, code)}`;

test('a broken wire says its current and the rule it breaks', async ({ page }) => {
  await expect
    .poll(async () => (await value('Steeping/SteepHouse/ST5/Temperature')).status.reason)
    .toBe('3.2 mA: 3.6 mA or less is a sensor failure (NAMUR NE 43)');
  await page.goto(`${fralto.base}/live?at=${node('/ST5')}`);
  await expect(page.getByRole('row', { name: / Temperature / })).toContainText('sensor failure (NAMUR NE 43)');
});

test('a signal set wrong is seen from live values, and one click mends it for all', async ({ page }) => {
  await page.goto(ruler('SteepVessel', 'Oxygen'));
  await expect(page.locator('#fit')).toContainText('fits 4…20 mA as 0…32767 counts better than the 4…20 mA as 0…65535 counts you set', {
    timeout: 30_000,
  });
  await page.getByRole('button', { name: 'set Steep oxygen to 4…20 mA as 0…32767 counts, for 10 instances', exact: true }).click();
  await expect(page.getByRole('status').first()).toContainText('Change scale Steep oxygen');
  await expect(page.locator('#ruler')).toContainText('32767');
  await expect
    .poll(async () => {
      const { value: oxygen, raw } = await value('Steeping/SteepHouse/ST2/Oxygen');
      return Math.abs(oxygen - (raw / 32767) * 12) < 1e-6;
    })
    .toBe(true);
});

test('swapped words are seen from live values, and one click mends the tag, however slow the hand', async ({ page }) => {
  await page.goto(ruler('Kiln', 'Moisture'));
  await expect(page.locator('#fit')).toContainText('as CDAB instead of ABCD it makes sense: Kiln 3', { timeout: 30_000 });
  const button = page.getByRole('button', { name: 'read this tag as CDAB', exact: true });
  const judged = () => page.waitForResponse(/handler=Fit/).then(response => response.finished());
  const seen = page.locator('#fit').getByText(/^seen for/);

  // The keys keep hold of the button while its piece is drawn anew.
  const before = await seen.textContent();
  await button.focus();
  await expect(seen).not.toHaveText(before);
  await expect(button).toBeFocused();

  // Nothing is drawn anew under a pressed button.
  await button.hover();
  await page.mouse.down();
  await judged();
  await page.evaluate(() => new Promise(requestAnimationFrame));
  await page.mouse.up();
  await expect(page.getByRole('status').first()).toContainText('Order of words CDAB of 1 tag');
  await expect
    .poll(async () => {
      const { value: moisture, status } = await value('Kilning/KilnHouse/KLN3/Moisture');
      return `${status.name}, ${moisture > 3 && moisture < 50 ? 'a moisture' : moisture}`;
    })
    .toBe('Good, a moisture');
});

test('a limit is nudged by keys and dragged by hand, held by its neighbours, and the effect is known before', async ({ page }) => {
  await page.goto(ruler('AirSweptBed', 'AirOn'));
  const field = page.locator('#f-HighSetpoint');
  const flag = page.getByRole('slider', { name: 'H limit, priority 2', exact: true });
  await flag.focus();
  await page.keyboard.press('ArrowRight');
  await expect(field).toHaveValue('88.1');
  await expect(flag).toHaveAttribute('aria-valuenow', '88.1');
  await expect(flag).toBeFocused();
  await page.keyboard.press('Shift+ArrowRight');
  await expect(field).toHaveValue('89.1');
  await expect(flag).toContainText('H 89.1');
  await page.keyboard.press('End');
  await expect(field).toHaveValue('94.9');
  await expect(page.getByText(/changes \d+ of 11 instances/)).toBeVisible();

  // The ruler is drawn anew from what was typed: until then the flag stands where it stood, and in between there is none.
  await expect(flag).toContainText('H 94.9');
  let box;
  await expect.poll(async () => (box = await flag.locator('.body').boundingBox())).not.toBeNull();
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 - 60, box.y + box.height / 2, { steps: 5 });
  await page.mouse.up();
  await expect(field).not.toHaveValue('94.9');
  const dragged = Number(await field.inputValue());
  expect(dragged).toBeGreaterThan(84);
  expect(dragged).toBeLessThan(90);
  expect(dragged).toBe(Number(dragged.toFixed(1)));
  await expect(page.locator('#ruler')).toContainText(`H ${dragged}`);

  // Typed numbers are drawn too; what cannot be drawn leaves the ruler as it is saved and says so.
  await field.fill('120.5');
  await expect(page.locator('#ruler')).toContainText('what is typed cannot be drawn yet');
  await field.fill('86');
  await page.locator('#f-HighOnDelay').fill('15');
  await page.locator('#f-HighOffDelay').fill('30');
  await expect(page.locator('#ruler')).toContainText('on 15 s, off 30 s');
  await page.getByRole('button', { name: 'Save property', exact: true }).click();
  await expect
    .poll(async () =>
      (await fralto.api('/templates'))
        .find(t => t.code === 'AirSweptBed')
        .properties.find(p => p.code === 'AirOn')
        .limits.find(l => l.condition === 'High'),
    )
    .toMatchObject({ setpoint: 86, onDelay: 15, offDelay: 30 });
});

test('a dot of the ruler tells its instance on focus', async ({ page }) => {
  await page.goto(ruler('SteepVessel', 'Level'));
  const dot = page.getByRole('img', { name: /^Steep 1: [\d.]+ m, raw \d+/ });
  await dot.focus();
  await expect(dot.locator('.detail')).toBeVisible();
});

test('the chain shows every stage now, and both ends can be tried', async ({ page }) => {
  await page.goto(`${fralto.base}/chain?at=${node('/ST1')}&property=${property('SteepVessel', 'Level')}`);
  const now = page.getByRole('region', { name: 'Now' });
  for (const stage of ['Bytes', 'Raw value', 'Signal', 'Scale', 'Value']) await expect(now.getByText(stage, { exact: true })).toBeVisible();
  const raw = page.getByLabel('Raw', { exact: true });
  await raw.fill('16384');
  await page.getByRole('button', { name: 'Show what it becomes', exact: true }).click();
  const tried = page.getByRole('region', { name: 'Try' });
  await expect(tried).toContainText('40 00');
  await expect(tried).toContainText('12.00 mA');
  await expect(tried).toContainText('1.60004883 m');
  await page.getByLabel('Value', { exact: true }).fill('1.6');
  await page.getByRole('button', { name: 'Show where it comes from', exact: true }).click();
  await expect(tried).toContainText('1.6 m asks for raw 16383.5, written as 16384');
  await page.getByLabel('Raw', { exact: true }).fill('40000');
  await page.getByRole('button', { name: 'Show what it becomes', exact: true }).click();
  await expect(tried).toContainText('40000 does not fit int16, -32768 … 32767');
  await page.getByLabel('Value', { exact: true }).fill('deep');
  await page.getByRole('button', { name: 'Show where it comes from', exact: true }).click();
  await expect(page.getByRole('alert')).toContainText("'deep' is no number");
});

test('one person looks at a temperature in another unit; the model stays as it is', async ({ page, browser }) => {
  const address = `${fralto.base}/live?at=${node('/ST1')}`;
  await page.goto(address);
  const row = page.getByRole('row', { name: / Temperature / });
  await row.getByRole('link', { name: '°C' }).click();
  await page.getByRole('button', { name: '°F', exact: true }).click();
  await expect(row).toContainText('°F');
  await expect.poll(async () => Number(await row.locator('.value').textContent())).toBeGreaterThan(50);
  await expect(row).toContainText('L 51.8');
  const other = await (await browser.newContext()).newPage();
  await other.goto(address);
  await expect(other.getByRole('row', { name: / Temperature / })).toContainText('°C');
  await other.close();
  expect((await value('Steeping/SteepHouse/ST1/Temperature')).unit).toBe('°C');
});

test('a strapping table is pasted, its change is shown before it is made, and a bent one says why it has no way back', async ({ page }) => {
  await page.goto(`${fralto.base}/scales?open=new`);
  await page.getByLabel('Name', { exact: true }).fill('Brine tank');
  await page.getByLabel('Shape', { exact: true }).selectOption({ label: 'table' });
  await page.getByLabel(/^Points/).fill('level;volume\n0;0\n0,5;120\n1;90');
  await page.getByLabel('Stands for low', { exact: true }).fill('0');
  await page.locator('#f-InputHigh').fill('1');
  await expect(page.locator('#trial')).toContainText("no way back: the table's values rise and fall");
  await page.getByLabel(/^Points/).fill('0;0\n0,5;120\n1;300');
  await expect(page.locator('#trial')).toContainText('commands can use it backwards');
  await page.getByRole('button', { name: 'Add scale', exact: true }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Brine tank');
  await expect(page.getByText('No property uses it yet.')).toBeVisible();

  await page.getByRole('link', { name: /^Steep level/ }).click();
  await page.locator('#f-EngineeringHigh').fill('3.4');
  // A silo that is all but empty stays as empty.
  await expect(page.locator('#trial')).toContainText(/changes [78] of 8 living values/);
  await page.getByRole('button', { name: 'Save scale for 10 instances', exact: true }).click();
  await expect
    .poll(async () => {
      const { value: level, raw } = await value('Steeping/SteepHouse/ST1/Level');
      return Math.abs(level - (raw / 32767) * 3.4) < 1e-9;
    })
    .toBe(true);
});

test('a unit is found by its words and taken with the keyboard; what is none is answered with the nearest', async ({ page }) => {
  await page.goto(`${fralto.base}/templates?at=${template('Pump')}&open=property`);
  await page.getByLabel('Property name', { exact: true }).fill('Leak');
  const unit = page.getByLabel('Unit', { exact: true });
  // The list is of the letters before while the answer is on its way: what is taken is of what is typed.
  await page.route('**/units?**', async route => {
    await new Promise(resolve => setTimeout(resolve, 400));
    await route.continue();
  });
  await unit.pressSequentially('gallon');
  await expect(page.getByRole('listbox', { name: 'Units' }).getByRole('option').first()).toBeVisible();
  await page.keyboard.type(' minute');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(unit).toHaveValue(/gal.*\/min/);
  await unit.fill('m3/hh');
  await page.getByRole('button', { name: 'Add property', exact: true }).click();
  await expect(page.getByText("'m3/hh' names no unit; did you mean m³/h")).toBeVisible();
  await page.getByLabel('Unit', { exact: true }).fill('cbm/h');
  await page.getByRole('button', { name: 'Add property', exact: true }).click();
  await expect(page.getByRole('row', { name: /^Leak measured m³\/h/ })).toBeVisible();
});

test('one contact of a packed array is bound to a door, and a part that is not there is refused', async ({ page }) => {
  await page.goto(`${fralto.base}/bindings?template=${template('Kiln')}&cell=${node('/KLN2')}.${property('Kiln', 'Door')}`);
  await page.getByLabel('Part of CONTACTS', { exact: true }).fill('[192]');
  await page.getByRole('button', { name: 'CONTACTS', exact: true }).click();
  await expect(page.getByRole('alert')).toContainText('CONTACTS has the elements [0] to [191], not [192].');
  await page.getByLabel('Part of CONTACTS', { exact: true }).fill('[19]');
  await page.getByRole('button', { name: 'CONTACTS', exact: true }).click();
  await expect(page.getByRole('link', { name: /Kiln 2 Door: CONTACTS\[19\]/ })).toBeVisible();
  await expect.poll(async () => (await value('Kilning/KilnHouse/KLN2/Door'))?.stateName).toMatch(/^(Open|Closed)$/);
});

test('a unit of ones own is added, converted and found in every picker', async ({ page }) => {
  await page.goto(`${fralto.base}/units`);
  await page.getByRole('link', { name: 'Add unit' }).click();
  for (const [label, text] of [
    ['Symbol', 'bag'],
    ['Name', 'bag of malt'],
    ['Code', 'BAG25'],
    ['One is', '25'],
    ['of', 'kg'],
  ])
    await page.getByLabel(label, { exact: true }).fill(text);
  await page.getByRole('button', { name: 'Add unit', exact: true }).click();
  await expect(page.getByText('1 bag =')).toBeVisible();
  await page.getByLabel('Convert', { exact: true }).fill('40');
  await page.getByRole('button', { name: 'Convert', exact: true }).click();
  await expect(page.getByRole('row', { name: '1 t', exact: true })).toBeVisible();
});
