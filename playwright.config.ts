import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: 'e2e',
  // Each has a server, a port and data of its own, see e2e/test.ts.
  workers: 2,
  // The longest walks take two minutes on two idle cores.
  timeout: 420_000,
  expect: { timeout: 30_000 },
  reporter: [['line'], ['json', { outputFile: 'test-results/e2e.json' }]],
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: process.env.GLIMBO_CHROMIUM ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--autoplay-policy=no-user-gesture-required',
      ],
    },
  },
});
