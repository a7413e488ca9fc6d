import { spawn, type ChildProcess } from 'node:child_process';
import { mkdirSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { footage, gather } from './helpers';

const PORT = 4373;
const data = join(tmpdir(), 'glimbo-recovery');
let server: ChildProcess;

/** Starts a server of this test's own, which may be killed. */
async function start() {
  server = spawn('node', ['app/start.mjs'], {
    env: {
      ...process.env,
      NODE_ENV: 'production',
      GLIMBO_ROOT: process.cwd(),
      GLIMBO_DATA: data,
      GLIMBO_PORT: String(PORT),
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  await new Promise<void>((resolve) =>
    server.stdout!.on('data', (d: Buffer) => String(d).includes('http://') && resolve()),
  );
}
const kill = () =>
  new Promise((resolve) => {
    server.once('exit', resolve);
    server.kill('SIGKILL');
  });

test.use({ baseURL: `http://127.0.0.1:${PORT}` });
test.beforeAll(async () => {
  rmSync(data, { recursive: true, force: true });
  mkdirSync(data, { recursive: true });
  await start();
});
test.afterAll(kill);

test('after a kill in the middle of a proxy and of an export both are finished, and nothing half done is left', async ({
  page,
}) => {
  const file = footage('kill.mp4', 0, 8);
  await page.goto('/');
  await page.getByTestId('file-input').setInputFiles(file);
  await expect(page.getByTestId('footage').getByText(/[1-9]\d* %/)).toBeVisible({ timeout: 60_000 });
  await kill();
  await start();
  await page.goto('/');
  await expect(page.getByTestId('footage').locator('img').first()).toBeVisible({ timeout: 120_000 });
  expect(readdirSync(join(data, 'footage')).filter((f) => f.endsWith('.part'))).toEqual([]);

  await page.getByRole('button', { name: 'New take' }).click();
  await page.getByRole('button', { name: 'Export', exact: true }).click();
  await page.getByRole('button', { name: 'Export clip' }).click();
  const region = page.getByRole('region', { name: 'Exports of this take' });
  await expect(region.getByText(/[1-9]\d* %/)).toBeVisible({ timeout: 60_000 });
  await kill();
  await start();
  await page.goto('/exports');
  await expect(page.getByTestId('export').locator('video')).toBeVisible({ timeout: 180_000 });
  expect(readdirSync(join(data, 'exports'))).toHaveLength(1);
});

test('a change made while the server is away is kept and saved when it is back', async ({ page }) => {
  await gather(page, footage('away.mp4', 3, 1));
  await page.getByTestId('footage').filter({ hasText: 'away' }).getByRole('button', { name: 'New take' }).click();
  const pan = page.getByRole('textbox', { name: 'Pan value' });
  await expect(pan).toBeVisible();
  await kill();
  await pan.fill('42');
  await pan.press('Enter');
  await expect(page.getByTestId('save-state')).toContainText('not saved');
  await start();
  await expect(page.getByTestId('save-state')).toHaveText('saved', { timeout: 30_000 });
  await page.reload();
  await expect(pan).toHaveValue('42.0°');
});
