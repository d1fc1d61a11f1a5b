// The matrix: one kiln by hand, the rest from proposals, what is wrong held back and found, and the pilot plant in under a minute.
import { test, expect } from './test.mjs';
import { startFralto } from './fralto.mjs';

let fralto, template, node, property;

// A plant of its own: what looks wrong depends on what the silos and boxes have done since they began.
test.beforeAll(async () => {
  fralto = await startFralto('demo');
  const [templates, equipment] = [await fralto.api('/templates'), await fralto.api('/equipment')];
  template = code => templates.find(t => t.code === code).id;
  node = path => equipment.find(e => e.path.endsWith(path)).id;
  property = (of, code) => templates.find(t => t.code === of).properties.find(p => p.code === code).id;
});

test.afterAll(async () => {
  await fralto?.forget();
});

const cell = (page, name) => page.locator('a.cell', { hasText: name });
const boundIn = async (page, path) =>
  page.evaluate(async at => {
    const model = await (await fetch('/api/v1/model')).json();
    return model.bindings
      .filter(b => b.equipment.startsWith(at))
      .map(b => `${b.equipment.split('/').slice(4).join('/')} ${b.property} ${b.tag}${b.slice ?? ''}`)
      .sort();
  }, path);

// First of all, while silos and boxes are where they begin.
test('what the stand-ins get wrong is found', async ({ page }) => {
  await page.goto(`${fralto.base}/bindings?template=${template('GerminationBox')}`);
  const held = cell(page, 'box/2/air/humidity');
  await expect(held).toHaveClass(/clash/);
  await held.click();
  await expect(page.locator('#tags')).toContainText('no factor leads from one to the other');
  await expect(cell(page, 'Box 6 Carbon dioxide:')).toContainText('open');

  const line = name => page.getByRole('row').filter({ hasText: name });
  // What looks wrong is worked out beside the pages from values that come by and by, so the list may have to be asked for again.
  await expect(async () => {
    await page.goto(`${fralto.base}/checks?show=wrong`);
    const soon = { timeout: 1000 };
    await expect(line('Box 4 · Top of bed')).toContainText('look swapped', soon);
    await expect(line('Box 4 · Bottom of bed')).toContainText('look swapped', soon);
    await expect(line('Silo 14 · Cable 1 temperature')).toContainText('where the others are about', soon);
    await expect(line(/Silo 0?9\s+·\s+Mass/).first()).toContainText('everywhere else the two are about the same', soon);
    await expect(line('Silo 19 · Level')).toContainText('no #/level/m', soon);
    await expect(line('Steep 5 · Temperature')).toContainText('3.2 mA', soon);
  }).toPass({ timeout: 45_000 });
  await expect(page.getByRole('row').nth(1)).toContainText('⨯');
});

test('the pilot plant is bound in under a minute', async ({ page }) => {
  const begin = Date.now();
  await page.goto(`${fralto.base}/bindings`);
  await page.getByRole('combobox', { name: 'Place' }).selectOption({ label: 'Ashholt' });
  await page.getByRole('button', { name: 'show place' }).click();
  // The matrix is there at once, what is proposed when it has been worked out.
  await expect(cell(page, 'Pilot steep 1 Level:')).toBeVisible();
  await expect(cell(page, 'PS2.STW.0-2')).toHaveClass(/proposed/, { timeout: 30_000 });
  await page.getByRole('button', { name: /^Bind \d+ proposals$/ }).click();
  await expect(page.getByRole('status').filter({ hasText: /\S/ }).first()).toContainText(/Bind 23 properties of 4 instances/);
  await expect(page.locator('[data-value]').filter({ hasText: /\d/ }).first()).toBeVisible();
  expect(Date.now() - begin).toBeLessThan(60_000);
  expect((await boundIn(page, 'Corvane/Ashholt')).some(b => b.endsWith('Level PS1.LT-101'))).toBe(true);
  // One edit: taken back at once.
  await page.getByRole('button', { name: /^Take back: Bind 23/ }).click();
  await expect(cell(page, 'PS2.STW.0-2')).toHaveClass(/proposed/, { timeout: 30_000 });
});

test('a tag that is not declared yet is declared from an open cell, and bound in the same step', async ({ page }) => {
  const current = `${node('/KLN1/MainFan')}.${property('DrivenMachine', 'Current')}`;
  await page.goto(`${fralto.base}/bindings?template=${template('Fan')}&cell=${current}`);
  await page.getByText('Declare a tag and bind it').click();
  // The controller that serves the kiln stands first.
  await expect(page.getByLabel('Controller', { exact: true }).locator('option').first()).toHaveText('kiln-plc');
  await page.getByLabel('Name', { exact: true }).fill('KLN1_IT01');
  await page.getByLabel('Address', { exact: true }).fill('nowhere');
  await page.getByRole('button', { name: 'Declare and bind' }).click();
  await expect(page.getByRole('alert')).toContainText('nowhere');
  // What was typed is still there.
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('KLN1_IT01');
  await page.getByLabel('Address', { exact: true }).fill('input 900');
  await page.getByRole('button', { name: 'Declare and bind' }).click();
  await expect(page.getByRole('status').filter({ hasText: /\S/ }).first()).toContainText('Declare KLN1_IT01');
  await expect(cell(page, 'KLN1_IT01')).toHaveClass(/bound/);
  // One edit: both go together.
  await page.getByRole('button', { name: /^Take back: Declare KLN1_IT01/ }).click();
  await expect(cell(page, 'KLN1_IT01')).toHaveCount(0);
  expect((await fralto.api('/tags?limit=5000')).items?.some?.(t => t.name === 'KLN1_IT01') ?? false).toBe(false);
});

test('one kiln is bound by hand, the others from what was learned', async ({ page }) => {
  test.setTimeout(240_000);
  await page.goto(`${fralto.base}/bindings?template=${template('Kiln')}`);
  const before = (await boundIn(page, 'Corvane/TarnQuay/Kilning/KilnHouse/KLN')).filter(b => !b.includes('/'));
  page.on('dialog', d => d.accept());
  // Take the kilns' own tags off; the parts keep theirs with the exception of what goes along.
  for (const n of [1, 2, 3, 4]) {
    await page.goto(`${fralto.base}/bindings?template=${template('Kiln')}&cell=${node(`/KLN${n}`)}.${property('Kiln', 'AirOn')}`);
    await page.getByRole('button', { name: `unbind all of Kiln ${n}` }).click();
    await expect(page.getByRole('status').filter({ hasText: /\S/ }).first()).toContainText('Unbind');
  }

  // Kiln 1 by keyboard alone: type to filter, Enter binds, arrows go on.
  const byHand = [
    ['Air-on temperature', 'KLN1_TT11'],
    ['Air-off temperature', 'KLN1_TT12'],
    ['Fan speed', 'KLN1_SC01'],
    ['Fan', 'KLN1_XS01'],
  ];
  for (const [name, tag] of byHand) {
    await page
      .locator('a.cell')
      .filter({ has: page.locator('.visually-hidden', { hasText: new RegExp(`^Kiln 1 ${name}: $`) }) })
      .focus();
    await page.keyboard.type(tag[0]);
    await expect(page.getByRole('textbox', { name: 'Filter tags' })).toBeFocused();
    await page.keyboard.type(tag.slice(1));
    await expect(page.locator('#taglist button.pick')).toHaveCount(1);
    await page.keyboard.press('Enter');
    await expect(page.getByRole('status').filter({ hasText: /\S/ }).first()).toContainText(`to ${tag}`);
    await expect(page.locator('a.cell.here')).toBeFocused();
  }
  // The rest of the row as it stands in a spreadsheet, from the moisture on.
  await page.goto(`${fralto.base}/bindings?template=${template('Kiln')}&cell=${node('/KLN1')}.${property('Kiln', 'Moisture')}`);
  await page.getByText('Bind a list of tags from here down').click();
  await page
    .getByRole('textbox', { name: 'Tags to bind from here down' })
    .fill(['MT01', 'FT01', 'LT01', 'KQ01', 'ZS01'].map(t => `KLN1_${t}`).join('\t'));
  await page.getByRole('button', { name: 'Bind these lines' }).click();
  await expect(page.getByRole('status').filter({ hasText: /\S/ }).first()).toContainText('Bind 5 properties of 1 instance');
  // A slice is bound with the part written beside the tag.
  await page.goto(`${fralto.base}/bindings?template=${template('Kiln')}&cell=${node('/KLN1')}.${property('Kiln', 'Phase')}&filter=KLN1_ST`);
  await page.getByRole('textbox', { name: 'Part of KLN1_ST' }).fill('.4-6');
  await page.getByRole('button', { name: 'KLN1_ST', exact: true }).click();
  await expect(page.getByRole('status').filter({ hasText: /\S/ }).first()).toContainText('KLN1_ST.4-6');

  // What one binding has shown is supposed, however many others it finds.
  await expect(page.locator('.learned')).toContainText('Supposed from one binding');
  await page.getByText(/^Why: /).click();
  await expect(page.getByRole('region', { name: 'Why' })).toContainText('found on 3 of 4 others');
  // "Why?" of one cell lists what speaks for it.
  await cell(page, 'KLN2_TT12').click();
  await expect(page.locator('ul.why')).toContainText('name as {code}_TT12');
  await expect(page.locator('ul.why')).toContainText('inside the range');
  // A column, then all.
  await page.getByRole('button', { name: 'Bind the proposals for Air-on temperature' }).click();
  await expect(cell(page, 'KLN4_TT11')).toHaveClass(/bound/);
  await page.getByRole('button', { name: /^Bind \d+ proposals$/ }).click();
  await expect(page.getByRole('status').filter({ hasText: /\S/ }).first()).toContainText(/Bind \d+ properties of \d instances/);
  const after = (await boundIn(page, 'Corvane/TarnQuay/Kilning/KilnHouse/KLN')).filter(b => !b.includes('/'));
  // Everything that was bound is bound again, to the same tags; the door of kiln 2 has come along, and kiln 3's moisture only if its
  // value allowed it.
  for (const line of before.filter(l => !l.startsWith('KLN3 Moisture'))) expect(after).toContain(line);
  expect(after).toContain('KLN2 Door KLN2_ZS01');
  for (const line of after) if (!line.startsWith('KLN2 Door')) expect(before).toContain(line);
  // Kiln 3's moisture reads nonsense, because its words are declared the wrong way round: held back, not proposed.
  // Read so, one value in five happens to look right; by now it has been read often enough to have shown itself.
  await page.reload();
  await expect(cell(page, 'Kiln 3 Grain moisture:')).toHaveClass(/clash/);
});

// Every key finds its field, however fast the hand and however slow the server: the first key loads no page.
for (const pace of [30, 100, 200])
  test(`a tag is typed on a cell at ${pace} ms a key on a slow server`, async ({ page }) => {
    const door = n => `/bindings?template=${template('Kiln')}&cell=${node(`/KLN${n}`)}.${property('Kiln', 'AirOff')}`;
    await page.goto(fralto.base + door(1));
    const before = await boundIn(page, 'Corvane/TarnQuay/Kilning/KilnHouse/KLN');
    await page.route('**/bindings*', async route => {
      await new Promise(resolve => setTimeout(resolve, 350));
      await route.continue().catch(() => {});
    });
    const at = n => page.locator(`a.cell[data-cell="${node(`/KLN${n}`)}.${property('Kiln', 'AirOff')}"]`);
    await at(1).focus();
    await page.keyboard.press('Delete');
    await expect(at(1)).toContainText(/open|proposed|KLN1_TT12/);
    await expect(at(1)).not.toHaveClass(/bound/);
    // Two cells, one after the other, without waiting for anything in between.
    await at(1).focus();
    await page.keyboard.type('KLN1_TT12', { delay: pace });
    await page.keyboard.press('Enter');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.type('KLN2_TT1', { delay: pace });
    await expect(page.getByRole('textbox', { name: 'Filter tags' })).toHaveValue('KLN2_TT1');
    await expect(at(1)).toHaveClass(/bound/);
    await expect(page.getByRole('textbox', { name: 'Filter tags' })).toHaveValue('KLN2_TT1');
    await expect(page.getByRole('textbox', { name: 'Filter tags' })).toBeFocused();
    await expect(page.locator('[data-listed="KLN2_TT1"]')).toHaveAttribute('data-of', `${node('/KLN2')}.${property('Kiln', 'AirOff')}`);
    // Several match: Enter says so and binds nothing.
    await page.keyboard.press('Enter');
    await expect(page.locator('[data-typed-why]')).toContainText('tags match');
    // And so does an Enter that is faster than the list: the text means several tags, or none.
    for (const [text, said] of [
      ['TT1', /tags match|feeds/],
      ['KLN9_ZZ', /no tag matches/i],
    ]) {
      await at(2).focus();
      await page.keyboard.type(text, { delay: 5 });
      await page.keyboard.press('Enter');
      await expect(page.getByText(said).first()).toBeVisible();
      await expect(page.getByRole('textbox', { name: 'Filter tags' })).toHaveValue(text);
    }
    expect(await boundIn(page, 'Corvane/TarnQuay/Kilning/KilnHouse/KLN')).toEqual(before);
  });

test('why a bound value is bad is said where it is bound', async ({ page }) => {
  await page.goto(
    `${fralto.base}/bindings?template=${template('SteepVessel')}&cell=${node('/ST5')}.${property('SteepVessel', 'Temperature')}`,
  );
  await expect(page.locator('#tags [data-why]')).toContainText('3.2 mA');
  await page.goto(
    `${fralto.base}/bindings?template=${template('SteepVessel')}&cell=${node('/ST4')}.${property('SteepVessel', 'Temperature')}`,
  );
  await expect(page.locator('#tags')).toContainText('S04-TT-102');
  await expect(page.locator('#tags [data-why]')).toHaveText('');
});

test('a proposal is refused, remembered and forgotten again', async ({ page }) => {
  await page.goto(
    `${fralto.base}/bindings?template=${template('SteepVessel')}&cell=${node('/PilotSteep1')}.${property('SteepVessel', 'Level')}`,
  );
  await expect(page.locator('#tags')).toContainText('proposed: PS1.LT-101');
  await page.getByRole('button', { name: 'Refuse' }).click();
  await expect(page.locator('a.cell.here')).not.toContainText('PS1.LT-101');
  await expect(page.locator('#tags')).toContainText('refused: PS1.LT-101');
  await page.getByRole('button', { name: 'forget' }).click();
  await expect(page.locator('a.cell.here')).toContainText('PS1.LT-101');
});

test('tags are dragged where they fit, and cells onto each other', async ({ page }) => {
  const matrix = `${fralto.base}/bindings?template=${template('SteepVessel')}`;
  await page.goto(`${matrix}&filter=PS1`);
  // What comes late moves what is below it; a hand waits for that before it reaches out.
  await expect(page.locator('[data-pending]')).toHaveCount(0, { timeout: 30_000 });
  const target = cell(page, 'Pilot steep 1 Level:');
  const tag = page.locator('tr[data-tag]', { hasText: 'PS1.LT-101' });
  await tag.dragTo(target);
  await expect(page.getByRole('status').filter({ hasText: /\S/ }).first()).toContainText('Bind Pilot steep 1 Level to PS1.LT-101');
  // While it is dragged, what fits lights up, and what does not says why.
  await page.goto(`${matrix}&filter=TypePlate`);
  await page
    .locator('tr[data-tag]', { hasText: 'TypePlate' })
    .dispatchEvent('dragstart', { dataTransfer: await page.evaluateHandle(() => new DataTransfer()) });
  await expect(cell(page, 'Pilot steep 2 Level:')).toHaveClass(/nofit/);
  await expect(cell(page, 'Pilot steep 2 Level:')).toHaveAttribute('title', /is text/);
  await cell(page, 'Pilot steep 2 Level:').dispatchEvent('dragover', { dataTransfer: await page.evaluateHandle(() => new DataTransfer()) });
  await expect(page.locator('[data-drag-why]')).toContainText('is text');
  // The same by keyboard: press a tag, go to a cell it lights up, Enter.
  await page.goto(`${matrix}&filter=PS2.AT`);
  await page.getByRole('button', { name: 'PS2.AT-103' }).press('Enter');
  await expect(cell(page, 'Pilot steep 2 Dissolved oxygen:')).toHaveClass(/fits/);
  await cell(page, 'Pilot steep 2 Dissolved oxygen:').press('Enter');
  await expect(page.getByRole('status').filter({ hasText: 'Bind' })).toContainText('Bind Pilot steep 2 Dissolved oxygen to PS2.AT-103');
  await page.goto(matrix);
  await expect(page.locator('[data-pending]')).toHaveCount(0, { timeout: 30_000 });
  const steep = n =>
    page.locator('a.cell').filter({ has: page.locator('.visually-hidden', { hasText: new RegExp(`^Steep ${n} Level: $`) }) });
  await steep(1).dragTo(steep(2));
  await expect(page.getByRole('status').filter({ hasText: /\S/ }).first()).toContainText(
    'Swap the tags of Steep 2 Level and Steep 1 Level',
  );
  await expect(steep(2)).toContainText('S01-LT-101');
  await page.getByRole('button', { name: /^Take back: Swap/ }).click();
  await expect(steep(2)).toContainText('S02-LT-101');
  // The sheet is drawn again when proposals have been worked out: only then a key finds its cell.
  await expect(page.locator('[data-pending]')).toHaveCount(0, { timeout: 30_000 });
  await cell(page, 'Pilot steep 1 Level:').focus();
  await page.keyboard.press('Delete');
  await expect(page.getByRole('status').filter({ hasText: /\S/ }).first()).toContainText('Unbind Pilot steep 1');
});

test('what comes late waits for a pressed button to be let go', async ({ page }) => {
  let answer;
  const held = new Promise(resolve => {
    answer = resolve;
  });
  await page.route(
    url => url.pathname === '/bindings',
    async route => {
      const [asked, got] = [route.request(), await route.fetch()];
      const body = await got.text();
      if (asked.url().includes('wait=true')) {
        await held;
        await route.fulfill({ response: got, body: body.replace('aria-label="What was learned">', '$&<p class="came">It came.</p>') });
      } else if (asked.isNavigationRequest()) {
        await route.fulfill({
          response: got,
          body: body.replace('aria-label="What was learned">', '$&<p data-pending>Working it out</p>'),
        });
      } else await route.fulfill({ response: got, body });
    },
  );
  await page.goto(`${fralto.base}/bindings?template=${template('SteepVessel')}&filter=PS2`);
  const tag = page.locator('tr[data-tag]', { hasText: 'PS2.TT-102' });
  await cell(page, 'Pilot steep 2 Temperature:').scrollIntoViewIfNeeded();
  await tag.hover();
  await page.mouse.down();
  const came = page.waitForResponse(r => r.url().includes('wait=true')).then(r => r.finished());
  answer();
  await came;
  const target = cell(page, 'Pilot steep 2 Temperature:');
  await target.hover();
  // The drag has begun and cells are lit; what came has taken nothing out of the hand.
  await expect(target).toHaveClass(/ fits/);
  await expect(page.locator('.came')).toHaveCount(0);
  // Let go where nothing is: what came is put in now.
  await page.locator('#panehead').hover();
  await page.mouse.up();
  await expect(page.locator('.came')).toHaveCount(1);
  await page.unrouteAll({ behavior: 'ignoreErrors' });
});

test('a column is pasted, and a series goes on', async ({ page }) => {
  const at = `${fralto.base}/bindings?template=${template('SteepVessel')}&cell=${node('/PilotSteep1')}.${property('SteepVessel', 'Level')}`;
  await page.goto(at);
  await expect(page.locator('a.cell.here')).toBeFocused();
  const paste = text =>
    page.evaluate(value => {
      const data = new DataTransfer();
      data.setData('text/plain', value);
      document.activeElement.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
    }, text);
  await paste('PS1.LT-101\nPS2.LT-999');
  await expect(page.getByRole('alert')).toContainText('Line 2: There is no tag PS2.LT-999');
  await expect(page.getByRole('textbox', { name: 'Tags to bind from here down' })).toHaveValue('PS1.LT-101\nPS2.LT-999');
  await page.getByRole('textbox', { name: 'Tags to bind from here down' }).fill('PS1.LT-101\tPS1.TT-102\ntrial-plc/PS2.LT-101');
  await page.getByRole('button', { name: 'Bind these lines' }).click();
  await expect(page.getByRole('status').filter({ hasText: /\S/ }).first()).toContainText('Bind 3 properties of 2 instances');
  await cell(page, 'Pilot steep 1 Temperature:').click();
  await page.getByRole('button', { name: /^fill down 1: PS2.TT-102/ }).click();
  await expect(cell(page, 'Pilot steep 2 Temperature:')).toContainText('PS2.TT-102');
});

test('a naming rule is kept, and one that says nothing is refused', async ({ page }) => {
  await page.goto(`${fralto.base}/bindings?template=${template('Silo')}`);
  await page.locator('.learned summary').click();
  const rule = page.getByRole('textbox', { name: 'Naming rule of Mass', exact: true });
  await rule.fill('silo/{number:00}/mass');
  await rule.press('Enter');
  await expect(page.getByRole('status').filter({ hasText: /\S/ }).first()).toContainText(
    'Keep the rule silo/{number:00}/mass for Silo Mass',
  );
  await page.locator('.learned summary').click();
  await rule.fill('silo/{size}');
  await rule.press('Enter');
  await expect(page.getByRole('alert')).toContainText('{size} is not understood');
});

test('a tag feeds several only when that is said', async ({ page }) => {
  await page.goto(
    `${fralto.base}/bindings?template=${template('GasBurner')}&cell=${node('/BRN1')}.${property('GasBurner', 'Flame')}&filter=KLN1_XS01`,
  );
  await page.getByRole('button', { name: 'share' }).click();
  await expect(page.getByRole('status').filter({ hasText: /\S/ }).first()).toContainText('Burner 1 Flame to KLN1_XS01');
  // The page shows what is known; what looks wrong is worked out beside it.
  await expect(async () => {
    await page.goto(`${fralto.base}/checks?show=wrong&template=${template('GasBurner')}`);
    await expect(page.getByRole('row').filter({ hasText: 'Burner 1 · Flame' })).toContainText('KLN1_XS01 feeds', { timeout: 1000 });
  }).toPass({ timeout: 15_000 });
});

test('bindings are checked, and what moves is seen', async ({ page }) => {
  await page.goto(`${fralto.base}/checks?template=${template('Silo')}`);
  const left = page.getByRole('link', { name: /^left to check/ });
  const before = Number((await left.textContent()).match(/\d+/)[0]);
  // With the keyboard alone: the first row of the list, and the one below it with Shift.
  await page.getByLabel('Filter bindings').fill('Silo level');
  await expect(page.locator('[data-listing-count]')).toContainText(' of ');
  await expect(page.getByRole('row', { name: /^Silo 02 · Level / })).toBeVisible();
  await page.getByRole('row', { name: /^Silo 02 · Level / }).focus();
  await page.keyboard.press(' ');
  await page.keyboard.press('Shift+ArrowDown');
  await expect(page.getByText('2 selected:')).toBeVisible();
  await page.getByRole('button', { name: 'Mark as checked', exact: true }).click();
  await expect(left).toContainText(`${before - 2}`);
  await page.getByRole('link', { name: /^all/ }).click();
  const silo2 = page.getByRole('row').filter({ hasText: 'Silo 02 · Level' }).first();
  await expect(silo2).toContainText('local user');
  // The age goes on being told when values come in: what stands there is not what the page was drawn with.
  const age = silo2.locator('[data-age]');
  await age.evaluate(cell => (cell.textContent = 'not told yet'));
  await expect(age).toHaveText(/^(now|\d+ (s|min))$/);

  // A value is moved at its source: the tag comes up, with what it feeds.
  await page.goto(`${fralto.base}/bindings?template=${template('Silo')}&cell=${node('/S05')}.${property('Silo', 'Aeration')}&moving=true`);
  await page.request.post(`${fralto.base}/api/v1/commands`, {
    data: { path: 'Corvane/TarnQuay/GrainHandling/SiloPark/S05/Aeration', value: 'Running' },
  });
  await expect(page.getByRole('region', { name: 'Tags that change now' })).toContainText('silo/05/aeration', { timeout: 15_000 });
  await expect(page.locator('#moving').getByRole('row').filter({ hasText: 'silo/05/aeration' })).toContainText('Silo 05 Aeration');
});
