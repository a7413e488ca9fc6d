import { execFileSync } from 'node:child_process';
import { copyFileSync, existsSync, readdirSync, readFileSync, truncateSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { expect, test } from './test';
import { ffmpeg, footage, footageCount, gather, scratch } from './helpers';
import { data } from './world';

const at = (name: string) => join(scratch, name);
const uploads = () => readdirSync(join(data, 'uploads'));

test('wrong files get a sentence each and leave nothing behind', async ({ page }) => {
  const good = footage('good.mp4', 0, 1);
  writeFileSync(at('letter.mp4'), 'this is only text');
  writeFileSync(at('empty.mp4'), '');
  ffmpeg('-f', 'lavfi', '-t', '1', '-i', 'sine=440', at('tune.mp4'));
  copyFileSync(good, at('broken.mp4'));
  truncateSync(at('broken.mp4'), Math.round(readFileSync(good).length * 0.6));
  ffmpeg('-i', good, '-c', 'copy', '-movflags', '+faststart', at('half.mp4'));
  truncateSync(at('half.mp4'), Math.round(readFileSync(at('half.mp4')).length * 0.5));
  ffmpeg('-i', good, '-vf', 'scale=960:481', '-pix_fmt', 'yuv444p', at('odd.mp4'));
  await page.goto('/');
  const before = await footageCount(page);
  const uploadsBefore = uploads();
  for (const [name, words] of [
    ['letter.mp4', /not a video that Glimbo can read/],
    ['empty.mp4', /0 bytes/],
    ['tune.mp4', /sound but no picture/],
    ['broken.mp4', /cut short/],
    ['half.mp4', /cut short/],
    ['odd.mp4', /both sides must be even/],
  ] as const) {
    await page.getByTestId('file-input').setInputFiles(at(name));
    const row = page.getByTestId('adding').filter({ hasText: name });
    await expect(row).toContainText(words);
    await expect(row).toContainText('Nothing was added');
    await row.getByRole('button', { name: 'Close' }).click();
  }
  await expect.poll(() => footageCount(page)).toBe(before);
  expect(uploads()).toEqual(uploadsBefore);
});

test("footage that is not 2:1, or of variable rate, is taken on the user's word", async ({ page }) => {
  const good = footage('good.mp4', 0, 1);
  ffmpeg('-i', good, '-vf', 'scale=1280:720', at('squeezed.mp4'));
  ffmpeg(
    '-i',
    good,
    '-vf',
    "setpts='if(lt(N,10),N/30,10/30+(N-10)/12)/TB',scale=640:320",
    '-fps_mode',
    'vfr',
    '-an',
    at('uneven.mp4'),
  );
  await page.goto('/');
  const before = await footageCount(page);
  const uploadsBefore = uploads();
  await page.getByTestId('file-input').setInputFiles(at('squeezed.mp4'));
  let row = page.getByTestId('adding').filter({ hasText: 'squeezed.mp4' });
  await expect(row).toContainText('1280 × 720, not twice as wide as high');
  await row.getByRole('button', { name: 'Leave it out' }).click();
  await expect.poll(uploads).toEqual(uploadsBefore);
  await expect.poll(() => footageCount(page)).toBe(before);

  await page.getByTestId('file-input').setInputFiles(at('uneven.mp4'));
  row = page.getByTestId('adding').filter({ hasText: 'uneven.mp4' });
  await expect(row).toContainText('variable frame rate');
  await row.getByRole('button', { name: 'Take it all the same' }).click();
  const card = page.getByTestId('footage').filter({ hasText: 'uneven' });
  await expect(card.locator('img').first()).toBeVisible({ timeout: 60_000 });
  await expect(card).toContainText('made constant');
});

test('a file is used in place by its path, inside allowed folders only', async ({ page }) => {
  const file = resolve(footage('in-place.mp4', 0, 1));
  const originals = readdirSync(join(data, 'originals'));
  await page.goto('/');
  const add = async (path: string) => {
    await page.getByRole('textbox', { name: 'Path on this machine' }).fill(path);
    await page.getByRole('button', { name: 'Add by path' }).click();
  };
  await add('/etc/passwd');
  await expect(page.getByTestId('adding').last()).toContainText('outside the folders');
  await add('/nowhere/clip.mp4');
  await expect(page.getByTestId('adding').last()).toContainText('was not found');
  await add(file);
  await expect(page.getByTestId('footage').filter({ hasText: 'in-place' })).toBeVisible();
  await add(file);
  await expect(page.getByTestId('adding').last()).toContainText('in the Library already');
  expect(existsSync(file)).toBe(true);
  expect(readdirSync(join(data, 'originals'))).toEqual(originals);
});

test('a running export can be cancelled and leaves no half file', async ({ page }) => {
  await gather(page, footage('long.mp4', 0, 4));
  await page.getByTestId('footage').filter({ hasText: 'long' }).getByRole('button', { name: 'New take' }).click();
  await page.getByRole('button', { name: 'Export', exact: true }).click();
  await page.getByRole('combobox', { name: 'Size class' }).selectOption('2160');
  await page.getByRole('button', { name: 'Export clip' }).click();
  const region = page.getByRole('region', { name: 'Exports of this take' });
  await expect(region.getByText(/\d+ %/)).toBeVisible({ timeout: 60_000 });
  await region.getByRole('button', { name: 'Cancel' }).click();
  await expect(region.getByText('cancelled')).toBeVisible();
  expect(readdirSync(join(data, 'exports')).filter((f) => f.endsWith('.part'))).toEqual([]);
});

test('requests from elsewhere are refused', async ({ request, baseURL }) => {
  const foreign = await request.post('/gather', {
    headers: { origin: 'http://elsewhere.example' },
    form: { intent: 'path', path: '/etc/passwd' },
  });
  expect(foreign.status()).toBe(403);
  const status = execFileSync(
    'curl',
    ['-s', '-o', '/dev/null', '-w', '%{http_code}', '-H', 'Host: elsewhere.example', baseURL!],
    { encoding: 'utf8' },
  );
  expect(status).toBe('403');
  expect((await request.get('/media/footage/..%2f..%2fglimbo.sqlite/proxy.mp4')).status()).toBe(400);
  const around = ['/assets/../settings.data', '/assets/..\\settings.data', '/sign-in/../exports'];
  for (const path of around) {
    const answer = execFileSync('curl', [
      '-s',
      '--path-as-is',
      '-o',
      '/dev/null',
      '-w',
      '%{http_code}',
      baseURL! + path,
    ]);
    expect(answer.toString()).toBe('400');
  }
});

test('pages are usable on the night sheet and have names for their controls', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'Night sheet' }).click();
  await page.reload();
  await expect(page.locator('html')).toHaveAttribute('data-sheet', 'night');
  for (const path of ['/', '/card', '/exports', '/settings']) {
    await page.goto(path);
    const unnamed = await page.evaluate(
      () =>
        [...document.querySelectorAll('button, a, input:not([type=hidden]):not([hidden]):not([aria-hidden])')].filter(
          (e) =>
            !(
              e.textContent?.trim() ||
              e.getAttribute('aria-label') ||
              e.getAttribute('title') ||
              (e as HTMLInputElement).labels?.length
            ),
        ).length,
    );
    expect(unnamed, path).toBe(0);
  }
});
