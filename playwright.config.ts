import { defineConfig } from '@playwright/test';

const PORT = 4371;

export default defineConfig({
  testDir: 'e2e',
  workers: 1,
  timeout: 240_000,
  expect: { timeout: 30_000 },
  reporter: [['line'], ['json', { outputFile: 'test-results/e2e.json' }]],
  use: {
    baseURL: `http://127.0.0.1:${PORT}`,
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
  webServer: {
    command: 'node e2e/serve.mjs',
    url: `http://127.0.0.1:${PORT}/settings`,
    env: { GLIMBO_PORT: String(PORT) },
    reuseExistingServer: false,
    timeout: 60_000,
  },
});
