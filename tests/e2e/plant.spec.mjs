// Building a large plant quickly: a series with its preview, a copy, moving by form, by dragging and by keyboard.
import { test, expect } from './test.mjs';

let fralto;

test.beforeAll(async ({ demo }) => {
  fralto = await demo.asShipped();
});

const all = () => fralto.api('/equipment');
const open = async (page, code) => page.goto(`${fralto.base}/plant?at=${(await all()).find(e => e.code === code).id}`);
const node = (page, name) => page.locator('.node').filter({ has: page.getByText(name, { exact: true }) });
const below = async path =>
  (await all()).filter(e => e.path.startsWith(`${path}/`) && !e.path.slice(path.length + 1).includes('/')).map(e => e.code);

test('a series of two hundred is previewed, then added as one edit', async ({ page }) => {
  await open(page, 'TrialHall');
  await page.getByRole('link', { name: 'Add a series' }).click();
  await page.getByLabel('Names', { exact: true }).fill('Pilot steep {n}');
  await page.getByLabel('Codes', { exact: true }).fill('PS');
  await expect(page.getByText('Put {n} where the number goes').first()).toBeVisible();
  await page.getByLabel('Codes', { exact: true }).fill('PS{n}');
  await page.getByLabel('How many', { exact: true }).fill('200');
  await page.getByLabel('Digits', { exact: true }).fill('3');
  await page.getByLabel('Level', { exact: true }).selectOption({ label: 'unit' });
  await page.getByLabel('Instances of', { exact: true }).selectOption({ label: 'Kiln' });
  await expect(page.locator('.preview li')).toHaveCount(200);
  await expect(page.locator('.preview li').last()).toHaveText('Pilot steep 200 PS200');
  const before = (await all()).length;
  await page.getByRole('button', { name: 'Add the series', exact: true }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Pilot steep 001');
  // Each brings the seven parts of a kiln.
  expect((await all()).length).toBe(before + 200 * 8);
  await page.getByRole('button', { name: /^Take back: Add 200 members/ }).click();
  await expect.poll(async () => (await all()).length).toBe(before);
});

test('a subtree is copied with its bindings, and moved by its path', async ({ page }) => {
  await open(page, 'KLN1');
  await page.getByRole('link', { name: 'Copy' }).click();
  await page.getByLabel('Below, as a path', { exact: true }).fill('Corvane/Nowhere');
  await page.getByRole('button', { name: 'Copy it', exact: true }).click();
  await expect(page.getByText('Nothing has the path Corvane/Nowhere.')).toBeVisible();
  await page.getByLabel('Below, as a path', { exact: true }).fill('Corvane/TarnQuay/Kilning/KilnHouse');
  await page.getByLabel('Name', { exact: true }).fill('Kiln 9');
  await page.getByLabel('Code', { exact: true }).fill('KLN9');
  await page.getByLabel('Bindings', { exact: true }).selectOption({ label: 'bind to the same tags, commands excepted' });
  await page.getByRole('button', { name: 'Copy it', exact: true }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Kiln 9');
  // The setpoint is a command and stays with the original.
  const fed = async path => (await fralto.api(`/values?path=${path}`)).filter(v => v.source === 'tag');
  await expect.poll(async () => (await fed('Corvane/TarnQuay/Kilning/KilnHouse/KLN9')).length).toBe(14);

  await page.getByRole('link', { name: 'Move' }).click();
  await page.getByLabel('Below, as a path', { exact: true }).fill('Corvane/Ashholt/TrialHall');
  await page.getByRole('button', { name: 'Move it', exact: true }).click();
  await expect
    .poll(async () => (await fed('Corvane/Ashholt/TrialHall/KLN9')).filter(v => v.status.name === 'Good').length)
    .toBe(14);
});

test('nodes are dragged and nudged, and a misfit is refused with the reason', async ({ page }) => {
  await open(page, 'KilnHouse');
  await node(page, 'Kiln 2').dragTo(node(page, 'Kiln 1'));
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Kiln 2');
  expect((await below('Corvane/TarnQuay/Kilning/KilnHouse')).slice(0, 2)).toEqual(['KLN2', 'KLN1']);

  await node(page, 'Kiln 2').focus();
  await page.keyboard.press('Alt+ArrowDown');
  await expect.poll(async () => (await below('Corvane/TarnQuay/Kilning/KilnHouse')).slice(0, 2)).toEqual(['KLN1', 'KLN2']);
  // The hand stays on it: twice more and back, without looking for it again.
  await expect(node(page, 'Kiln 2')).toBeFocused();
  await page.keyboard.press('Alt+ArrowDown');
  await expect.poll(async () => (await below('Corvane/TarnQuay/Kilning/KilnHouse')).indexOf('KLN2')).toBe(2);
  await expect(node(page, 'Kiln 2')).toBeFocused();
  await page.keyboard.press('Alt+ArrowUp');
  await expect.poll(async () => (await below('Corvane/TarnQuay/Kilning/KilnHouse')).indexOf('KLN2')).toBe(1);
  await expect(node(page, 'Kiln 2')).toBeFocused();
  await page.keyboard.press('Alt+ArrowUp');
  await expect.poll(async () => (await below('Corvane/TarnQuay/Kilning/KilnHouse')).slice(0, 2)).toEqual(['KLN2', 'KLN1']);

  await node(page, 'Kiln 2').dragTo(node(page, 'Ashholt'));
  await expect(page.getByLabel('Path')).toContainText('Ashholt');
  expect(await below('Corvane/Ashholt')).toContain('KLN2');

  await open(page, 'KLN1');
  await node(page, 'Kilning').dragTo(node(page, 'Kiln 1'));
  await expect(page.getByRole('alert')).toContainText('cannot move into itself');
});
