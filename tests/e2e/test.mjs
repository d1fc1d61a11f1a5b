// Playwright's own test and expect, with one thing added: a page leaves for an empty one before it is closed. Chromium can hang for
// ever when a page is closed in the middle of a navigation, which a key press that posts a form may still be in when a test ends.
import { test as base, expect } from '@playwright/test';

export const test = base.extend({
  page: async ({ page }, use) => {
    await use(page);
    await page.goto('about:blank').catch(() => {});
  },
});
export { expect };
