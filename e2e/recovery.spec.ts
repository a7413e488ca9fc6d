import { spawn, type ChildProcess } from 'node:child_process';
import { mkdirSync, readdirSync, renameSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from './test';
import { card, chooseSize, footage, gather, gathered, inflate, scratch, sha256 } from './helpers';
import { world } from './world';

const PORT = world.ownPort;
const data = join(world.folder, 'recovery');
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
      GLIMBO_FOLDERS: scratch,
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
  const analyseNew = new URLSearchParams({ analyseNew: 'no', findNew: 'no' });
  await fetch(`http://127.0.0.1:${PORT}/settings`, { method: 'POST', body: analyseNew });
});
test.afterAll(kill);

test('after a kill in the middle of a proxy and of an export both are finished, and nothing half done is left', async ({
  page,
}) => {
  const file = footage('kill.mp4', 0, 12);
  await page.goto('/');
  await page.getByTestId('file-input').setInputFiles(file);
  const picture = page.getByTestId('footage').locator('img').first();
  await expect(picture).toBeVisible({ timeout: 60_000 });
  await kill();
  const pieces = () => readdirSync(join(data, 'footage')).flatMap((f) => readdirSync(join(data, 'footage', f)));
  const before = pieces().filter((f) => /^proxy-\d+/.test(f));
  expect(before.length).toBeGreaterThan(0);
  await start();
  await page.goto('/');
  // What was whole when it was killed is there at once, and gone on with.
  await expect(picture).toBeVisible({ timeout: 5000 });
  await expect.poll(() => pieces().filter((f) => /^piece-[1-9]/.test(f)).length, { timeout: 60_000 }).toBe(1);
  await gathered(page, 'kill');
  expect(readdirSync(join(data, 'footage')).filter((f) => f.endsWith('.part'))).toEqual([]);

  await page.getByRole('button', { name: 'New take', exact: true }).click();
  await page.getByRole('button', { name: 'Export', exact: true }).click();
  await chooseSize(page, 1280, 720);
  await page.getByRole('button', { name: 'Export clip' }).click();
  const region = page.getByRole('region', { name: 'Exports of this take' });
  await expect(region.getByText(/[1-9]\d* %/)).toBeVisible({ timeout: 60_000 });
  await kill();
  await start();
  await page.goto('/exports');
  await expect(page.getByTestId('export').locator('video')).toBeVisible({ timeout: 300_000 });
  expect(readdirSync(join(data, 'exports'))).toHaveLength(1);
});

test('after a kill in the middle of a motion analysis it is made all the same, and nothing half done is left', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'New take', exact: true }).first().click();
  await page.getByRole('navigation', { name: 'Stations' }).getByRole('button', { name: 'Level' }).click();
  await page.getByRole('tab', { name: 'Motion', exact: true }).click();
  await page.getByRole('button', { name: 'Analyse the motion' }).click();
  await expect(page.getByTestId('analysing')).toContainText(/[1-9]\d* %/, { timeout: 60_000 });
  await kill();
  await start();
  await page.reload();
  await page.getByRole('tab', { name: 'Motion', exact: true }).click();
  await expect(page.getByTestId('motion-state')).toContainText('Analysed: quick', { timeout: 240_000 });
  expect(readdirSync(join(data, 'motions')).filter((f) => !f.endsWith('.json'))).toEqual([]);
  expect(readdirSync(join(data, 'motions'))).toHaveLength(1);
});

test('after a kill in the middle of a copy from a card it is finished, once, and every byte is there', async ({
  page,
}) => {
  const folder = join(scratch, 'disk');
  mkdirSync(folder, { recursive: true });
  for (const [name, from] of [
    ['first', 9],
    ['second', 10],
  ] as const)
    renameSync(footage(`${name}.mp4`, from, 0.5), join(folder, `${name}.mp4`));
  inflate(join(folder, 'second.mp4'), 700e6);
  await page.goto(`/card?path=${encodeURIComponent(folder)}`);
  for (const name of ['first', 'second']) await page.getByRole('checkbox', { name: `Choose ${name}` }).click();
  await page.getByRole('button', { name: 'Copy to the Library' }).click();
  await expect(page.getByTestId('job').getByText(/[1-9]\d* %/)).toBeVisible({ timeout: 60_000 });
  await kill();
  await start();
  await page.goto('/');
  await gathered(page, 'first');
  await gathered(page, 'second');
  await expect(card(page, 'first')).toHaveCount(1);
  const originals = readdirSync(join(data, 'originals'));
  expect(originals.filter((f) => f.endsWith('.part'))).toEqual([]);
  const sums = originals.map((f) => sha256(join(data, 'originals', f)));
  expect(sums).toContain(sha256(join(folder, 'second.mp4')));
  rmSync(join(folder, 'second.mp4'));
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
