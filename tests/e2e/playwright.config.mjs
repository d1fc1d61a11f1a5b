import { defineConfig } from '@playwright/test';

// The two longest begin, so that no worker is left with one of them at the end.
const longest = ['opcua.spec.mjs', 'walk.spec.mjs'];

export default defineConfig({
  testDir: '.',
  projects: [
    { name: 'longest', testMatch: longest },
    { name: 'others', testMatch: '*.spec.mjs', testIgnore: longest },
  ],
  // Long enough for a machine that has other work; nothing waits longer than what it waits for.
  timeout: 150_000,
  expect: { timeout: 20_000 },
  workers: 2,
  reporter: [['list']],
  use: {
    // One window for all tests of a worker, its page and storage cleared in between: opening one costs more than most tests do.
    reuseContext: true,
    viewport: { width: 1280, height: 800 },
    // No test reads pixels: a quarter of them costs a twentieth less.
    deviceScaleFactor: 0.5,
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
});
