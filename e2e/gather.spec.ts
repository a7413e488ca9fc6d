/** Copies that are broken off and go on, duplicates, folders; and the Library with a great deal in it. */
import { mkdirSync, readdirSync, renameSync } from 'node:fs';
import { join } from 'node:path';
import knex from 'knex';
import { expect, test } from './test';
import {
  card,
  ffmpeg,
  footage,
  frameShot,
  gather,
  gathered,
  goTo,
  inflate,
  psnr,
  scratch,
  sha256,
  still,
} from './helpers';
import { data } from './world';

test('a copy that is broken off goes on where it stopped, and arrives byte for byte', async ({ page, context }) => {
  const file = footage('interrupted.mp4', 1, 1);
  inflate(file, 120e6);
  await page.goto('/');
  // Slow enough to be caught in the middle; and by the page itself, however busy the machine is.
  const slow = await context.newCDPSession(page);
  await slow.send('Network.emulateNetworkConditions', {
    offline: false,
    latency: 0,
    downloadThroughput: -1,
    uploadThroughput: 8e6,
  });
  await page.getByTestId('file-input').setInputFiles(file);
  const row = page.getByTestId('adding').filter({ hasText: 'interrupted' });
  await row.evaluate(
    (shown) =>
      new Promise<void>((resolve) => {
        const look = () => {
          if (!(parseFloat(/([\d.]+) MB of/.exec(shown.textContent)?.[1] ?? '0') > 40)) return;
          seen.disconnect();
          [...shown.querySelectorAll('button')].find((b) => b.textContent.includes('Pause'))!.click();
          resolve();
        };
        const seen = new MutationObserver(look);
        seen.observe(shown, { subtree: true, childList: true, characterData: true });
        look();
      }),
  );
  await expect(row).toContainText('paused');
  await page.close();

  const again = await context.newPage();
  await again.goto('/');
  await expect(again.getByTestId('broken-off').filter({ hasText: 'interrupted.mp4' })).toContainText(
    'Choose the file again',
  );
  const offsets: number[] = [];
  again.on('request', (r) => r.method() === 'PATCH' && offsets.push(Number(r.headers()['upload-offset'])));
  await again.getByTestId('file-input').setInputFiles(file);
  await gathered(again, 'interrupted');
  expect(offsets[0]).toBeGreaterThan(30e6);
  const sums = readdirSync(join(data, 'originals')).map((f) => sha256(join(data, 'originals', f)));
  expect(sums).toContain(sha256(file));
  expect(readdirSync(join(data, 'uploads'))).toEqual([]);

  // The same content under another name is not sent at all.
  const renamed = join(scratch, 'another-name.mp4');
  renameSync(file, renamed);
  offsets.length = 0;
  await again.getByTestId('file-input').setInputFiles(renamed);
  await expect(again.getByTestId('adding').filter({ hasText: 'another-name' })).toContainText(
    'in the Library already, as interrupted',
  );
  expect(offsets).toEqual([]);
});

test('footage is used while it is gathered: as far as it is there, and beyond it frame by frame', async ({ page }) => {
  const file = footage('early.mp4', 0, 13);
  await page.goto('/');
  await page.getByTestId('file-input').setInputFiles(file);
  await expect(card(page, 'early').locator('img').first()).toBeVisible({ timeout: 60_000 });
  await card(page, 'early').getByRole('button', { name: 'New take' }).click();
  await still(page);
  await expect(page.getByTestId('growing')).toContainText('of 0:13');
  await expect(page.getByTestId('not-yet')).toBeVisible();
  const far = join(scratch, 'far.png');
  const near = join(scratch, 'near.png');
  await frameShot(page, near);
  await goTo(page, 12.5);
  await expect(page.getByTestId('growing')).toContainText('single frames of the original');
  await frameShot(page, far);
  expect(psnr(near, far)).toBeLessThan(30);
  // It comes to its end by itself, with what stood still still standing.
  await expect(page.getByTestId('growing')).toBeHidden({ timeout: 240_000 });
  await expect(page.getByTestId('not-yet')).toBeHidden();
  const whole = join(scratch, 'whole.png');
  await expect
    .poll(async () => (await frameShot(page, whole), psnr(far, whole)), { timeout: 60_000 })
    .toBeGreaterThan(30);
  await page.keyboard.press('Space');
  const time = page.getByRole('textbox', { name: 'Time in seconds' });
  await expect.poll(async () => parseFloat(await time.inputValue())).toBeLessThan(12.4);
});

test('an original that the browser plays on hardware is played at once, and its proxy when it is whole', async ({
  page,
}) => {
  // A machine with a decoder of its own, as far as the page can tell.
  await page.addInitScript(() => {
    navigator.mediaCapabilities.decodingInfo = () =>
      Promise.resolve({ supported: true, smooth: true, powerEfficient: true } as MediaCapabilitiesDecodingInfo);
  });
  const asked: string[] = [];
  page.on('request', (r) => void asked.push(new URL(r.url()).pathname.split('/').at(-1)!));
  await page.goto('/');
  await page.getByTestId('file-input').setInputFiles(footage('direct.mp4', 2, 12));
  await card(page, 'direct').getByRole('button', { name: 'New take' }).click();
  await expect(page.getByTestId('growing')).toContainText('Until then the original is played');
  await still(page);
  await goTo(page, 11);
  const original = join(scratch, 'original.png');
  await frameShot(page, original);
  expect(asked).toContain('original');
  expect(asked).not.toContain('proxy.mp4');
  await expect(page.getByTestId('growing')).toBeHidden({ timeout: 240_000 });
  await expect.poll(() => asked.includes('proxy.mp4'), { timeout: 60_000 }).toBe(true);
  const proxy = join(scratch, 'proxy.png');
  await expect
    .poll(async () => (await frameShot(page, proxy), psnr(original, proxy)), { timeout: 60_000 })
    .toBeGreaterThan(30);
});

test('a companion of low resolution is played until the proxy is whole', async ({ page }) => {
  const file = footage('paired.mp4', 1, 12);
  ffmpeg('-i', file, '-vf', 'scale=480:240', '-c:v', 'libx264', join(scratch, 'paired.LOW.mp4'));
  const asked: string[] = [];
  page.on('request', (r) => void asked.push(new URL(r.url()).pathname.split('/').at(-1)!));
  await page.goto('/');
  await page.getByRole('textbox', { name: 'Path on this machine' }).fill(file);
  await page.getByRole('button', { name: 'Add by path' }).click();
  await card(page, 'paired').getByRole('button', { name: 'New take' }).click();
  await expect(page.getByTestId('growing')).toContainText('its companion of low resolution is played');
  await goTo(page, 10);
  await still(page);
  await page.keyboard.press('Space');
  const time = page.getByRole('textbox', { name: 'Time in seconds' });
  await expect.poll(async () => parseFloat(await time.inputValue())).toBeGreaterThan(10.3);
  await page.keyboard.press('Space');
  expect(asked).toContain('companion.mp4');
  expect(asked.filter((f) => f.startsWith('proxy'))).toEqual([]);
  await expect(page.getByTestId('growing')).toBeHidden({ timeout: 240_000 });
  await expect.poll(() => asked.includes('proxy.mp4'), { timeout: 60_000 }).toBe(true);
});

test('a folder is gathered whole by its path, with a prefix; what it has twice is said', async ({ page }) => {
  const folder = join(scratch, 'afternoon');
  mkdirSync(folder, { recursive: true });
  for (const [name, from] of [
    ['one', 2],
    ['two', 3],
  ] as const)
    renameSync(footage(`${name}.mp4`, from, 0.5), join(folder, `${name}.mp4`));
  await page.goto('/');
  await page.getByRole('textbox', { name: 'Name prefix' }).fill('Sunday ');
  await page.getByRole('textbox', { name: 'Path on this machine' }).fill(folder);
  await page.getByRole('button', { name: 'Add by path' }).click();
  await gathered(page, 'Sunday one');
  await gathered(page, 'Sunday two');
  await page.getByRole('textbox', { name: 'Path on this machine' }).fill(join(folder, 'one.mp4'));
  await page.getByRole('button', { name: 'Add by path' }).click();
  await expect(page.getByTestId('adding').last()).toContainText('in the Library already');
  await page.getByRole('textbox', { name: 'Name prefix' }).fill('');
});

test('footage is a favourite, tagged, noted, found, deleted and brought back; a take too', async ({ page }) => {
  await gather(page, footage('pond.mp4', 4, 0.5));
  const pond = card(page, 'pond');
  await pond.getByRole('button', { name: 'Make pond a favourite' }).click();
  await pond.getByRole('button', { name: 'About pond' }).click();
  const sheet = page.getByRole('dialog');
  await expect(sheet).toContainText('1920 × 960, h264');
  await sheet.getByLabel('Tags, with commas between').fill('water, quiet');
  await sheet.getByLabel('Notes').fill('The heron stands behind the signal box.');
  await sheet.getByRole('textbox', { name: 'Name of the footage' }).fill('Lily pond');
  await sheet.getByRole('button', { name: 'Close' }).focus();
  await page.keyboard.press('Escape');
  const lily = card(page, 'Lily pond');
  await expect(lily).toContainText('quiet');

  const search = page.getByRole('searchbox', { name: 'Search the Library' });
  await search.fill('heron');
  await expect(page.getByTestId('footage')).toHaveCount(1);
  await search.fill('');
  await page.getByRole('button', { name: 'Favourites' }).click();
  await expect(page.getByTestId('footage')).toHaveCount(1);
  await page.getByRole('button', { name: 'Favourites' }).click();

  await lily.getByRole('button', { name: 'New take' }).click();
  await expect(page.getByTestId('save-state')).toBeVisible();
  await page.goto('/');
  const take = page.getByTestId('take').filter({ hasText: 'Lily pond, take 1' });
  await take.getByRole('button', { name: /^Duplicate/ }).click();
  await expect(take).toHaveCount(2);
  await take
    .first()
    .getByRole('button', { name: /^Rename/ })
    .click();
  await page.getByRole('textbox', { name: 'Name of the take' }).fill('Heron');
  await page.keyboard.press('Enter');
  const heron = page.getByTestId('take').filter({ hasText: 'Heron' });
  await heron.getByRole('button', { name: 'Delete Heron' }).click();
  await expect(heron).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).last().click();
  await expect(heron).toHaveCount(1);

  await lily.getByRole('button', { name: 'Delete Lily pond' }).click();
  await expect(lily).toHaveCount(0);
  await expect(page.getByText('Lily pond was deleted. With it went 2 takes.')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).last().click();
  await expect(lily).toBeVisible();
  await lily.getByRole('button', { name: 'Delete Lily pond' }).click();
  await page.getByRole('button', { name: 'Deleted footage' }).click();
  await card(page, 'Lily pond').getByRole('button', { name: 'Bring back' }).click();
  await page.getByRole('button', { name: 'Back to the Library' }).click();
  await expect(lily).toBeVisible();
});

test('a missing original is noticed and found again by its content alone', async ({ page }) => {
  const folder = join(scratch, 'moved');
  mkdirSync(folder, { recursive: true });
  const file = footage('wanderer.mp4', 6, 0.5);
  await page.goto('/');
  await page.getByRole('textbox', { name: 'Path on this machine' }).fill(file);
  await page.getByRole('button', { name: 'Add by path' }).click();
  await gathered(page, 'wanderer');
  renameSync(file, join(folder, 'elsewhere.mp4'));
  await page.reload();
  const wanderer = card(page, 'wanderer');
  await expect(wanderer).toContainText('original missing');
  await wanderer.getByRole('button', { name: 'About wanderer' }).click();
  const field = page.getByRole('textbox', { name: 'Where the original is now' });
  await field.fill(footage('stranger.mp4', 7, 0.5));
  await page.getByRole('button', { name: 'Find it there' }).click();
  await expect(page.getByText('has other content than wanderer')).toBeVisible();
  await field.fill(join(folder, 'elsewhere.mp4'));
  await page.getByRole('button', { name: 'Find it there' }).click();
  await expect(field).toHaveCount(0);
  await page.keyboard.press('Escape');
  await expect(wanderer).not.toContainText('original missing');
});

test('two thousand recordings are listed and searched, and only what is in sight is drawn', async ({ page }) => {
  await gather(page, footage('many.mp4', 8, 0.5));
  const db = knex({
    client: 'better-sqlite3',
    connection: { filename: join(data, 'glimbo.sqlite') },
    useNullAsDefault: true,
  });
  const row = (await db('footage').where({ name: 'many' }).first()) as Record<string, unknown>;
  const rows = Array.from({ length: 2000 }, (_, i) => ({
    ...row,
    id: `copy-${i}`,
    name: `Recording ${i}`,
    notes: i === 1234 ? 'kingfisher' : '',
    created: (row.created as number) - i - 1,
  }));
  await db.batchInsert('footage', rows, 30);
  try {
    await page.goto('/');
    await expect(page.getByTestId('footage-count')).toHaveText(/^20\d\d$/);
    expect(await page.getByTestId('footage').count()).toBeLessThan(40);
    const search = page.getByRole('searchbox', { name: 'Search the Library' });
    await search.fill('kingfisher');
    await expect(page.getByTestId('footage')).toHaveCount(1);
    await expect(card(page, 'Recording 1234')).toBeVisible();
    await search.fill('Recording 199');
    await expect(page.getByTestId('footage-count')).toHaveText(/^12 of/);
    await search.fill('');
    await page.getByRole('radio', { name: 'List' }).click();
    await page.getByTestId('footage').first().hover();
    await page.mouse.wheel(0, 60_000);
    await expect(page.getByRole('article', { name: /^Recording 1\d\d\d$/ }).first()).toBeVisible();
    expect(await page.getByTestId('footage').count()).toBeLessThan(60);
    await page.getByRole('radio', { name: 'Grid' }).click();
  } finally {
    await db('footage').where('id', 'like', 'copy-%').delete();
    await db.destroy();
  }
});
