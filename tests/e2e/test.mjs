// Playwright's own test and expect, with two things added. A page leaves for an empty one before it is closed: Chromium can hang for
// ever when a page is closed in the middle of a navigation, which a key press that posts a form may still be in when a test ends.
// And a demo plant that the files of one worker share: each begins with the model as it is shipped.
import { test as base, expect } from '@playwright/test';
import { startFralto } from './fralto.mjs';

export const test = base.extend({
  page: async ({ page }, use) => {
    // A test that leaves what it has typed means it; other questions are answered as they are without this.
    page.on('dialog', dialog => {
      if (dialog.type() === 'beforeunload') return dialog.accept();
      return page.listenerCount('dialog') === 1 ? dialog.dismiss() : undefined;
    });
    await use(page);
    page.removeAllListeners('dialog');
    await page.goto('about:blank').catch(() => {});
  },
  demo: [
    async ({}, use) => {
      const fralto = await startFralto('demo');
      const shipped = await (await fetch(`${fralto.base}/api/v1/model`)).text();
      await use({
        ...fralto,
        asShipped: async () => {
          const answer = await fetch(`${fralto.base}/api/v1/model`, {
            method: 'PUT',
            headers: { 'content-type': 'application/json' },
            body: shipped,
          });
          if (!answer.ok) throw new Error(`The plant could not be put back: ${await answer.text()}`);
          return fralto;
        },
      });
      await fralto.forget();
    },
    { scope: 'worker', timeout: 150_000 },
  ],
});

// Types into Find as a hand does: a slash, once the page listens to it, and then the words.
export async function find(page, words) {
  const field = page.getByRole('combobox', { name: 'Find' });
  await expect(async () => {
    await page.keyboard.press('/');
    await expect(field).toBeFocused({ timeout: 500 });
  }).toPass();
  await field.fill('');
  await page.keyboard.type(words);
}
export { expect };
