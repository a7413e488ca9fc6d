/** A camera card: looked at, copied with check sums, ejected in the middle; a pair, and a calibration of it. */
import { readdirSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { expect, test, type Page } from './test';
import { seamError } from '../packages/core/src/stitch/calibrate';
import type { TwoLenses } from '../packages/core/src/stitch/source';
import { makeCard } from '../packages/demo/src/card';
import { inOnePicture, TRUE } from '../packages/demo/src/lenses';
import { card, ffmpeg, frameShot, gathered, goTo, inflate, scratch, sha256, still } from './helpers';
import { data } from './world';

const clips = resolve('packages/demo/clips');
const drawer = join(data, 'cards');

test.beforeAll(async () => {
  if (!readdirSync(data).includes('cards')) await makeCard(clips, join(drawer, 'HALT.out'));
});

const onCard = (page: Page, name: string) =>
  page.getByTestId('card-recording').filter({ has: page.getByRole('heading', { name, exact: true }) });

async function insert(page: Page) {
  await page.goto('/card');
  const button = page.getByRole('button', { name: 'Insert the card' });
  if (await button.isVisible()) await button.click();
  await expect(onCard(page, 'HALT_0001').locator('img')).toBeVisible();
}

test('a card goes to a take in one go: looked at, chosen, copied, stitched', async ({ page }) => {
  await insert(page);
  await expect(page.getByTestId('card-recording')).toHaveCount(5);
  // What is unwell is said before anything is copied, and cannot be chosen.
  await expect(onCard(page, 'HALT_0004')).toContainText('is cut short');
  await expect(onCard(page, 'HALT_0005_A')).toContainText('second lens is missing');
  for (const name of ['HALT_0004', 'HALT_0005_A'])
    await expect(page.getByRole('checkbox', { name: `Choose ${name}` })).toBeDisabled();
  await expect(onCard(page, 'HALT_0003')).toContainText('Two lenses, two files');

  await page.getByRole('checkbox', { name: 'Choose HALT_0003' }).click();
  await page.getByRole('textbox', { name: 'Name prefix' }).fill('Day 1 ');
  await page.getByRole('textbox', { name: 'Tags' }).fill('open day, pole');
  await expect(page.getByText('1 of 5 chosen')).toBeVisible();
  await page.getByRole('button', { name: 'Copy to the Library' }).click();
  await expect(page.getByTestId('job')).toContainText('Done');

  await page.goto('/');
  await gathered(page, 'Day 1 HALT_0003');
  const footage = card(page, 'Day 1 HALT_0003');
  await expect(footage).toContainText('two lenses');
  await expect(footage).toContainText('open day');
  const sums = readdirSync(join(data, 'originals')).map((f) => sha256(join(data, 'originals', f)));
  for (const lens of ['A', 'B']) expect(sums).toContain(sha256(join(drawer, 'HALT/FILMS', `HALT_0003_${lens}.MP4`)));

  await footage.getByRole('button', { name: 'New take' }).click();
  await still(page);
  const shot = join(scratch, 'stitched.png');
  const { width, height } = await frameShot(page, shot);
  const rgb = ffmpeg('-i', shot, '-f', 'rawvideo', '-pix_fmt', 'rgb24', '-');
  const black = rgb.filter((_, i) => i % 3 === 0 && rgb[i]! + rgb[i + 1]! + rgb[i + 2]! < 24).length;
  expect(black).toBeLessThan(width * height * 0.01);

  // The same card again: what is in the Library is known by its content, whatever it is called there.
  await insert(page);
  await expect(onCard(page, 'HALT_0003')).toContainText('In the Library already, as Day 1 HALT_0003');
});

test('a card that is ejected while it is copied leaves nothing half done, and the rest can be copied later', async ({
  page,
}) => {
  const films = join(drawer, 'HALT', 'FILMS');
  await insert(page);
  ffmpeg(
    '-ss',
    '2',
    '-i',
    join(clips, 'ridge-loop.mp4'),
    '-t',
    '1',
    '-c',
    'copy',
    '-f',
    'mp4',
    join(films, 'HALT_0006.MP4'),
  );
  inflate(join(films, 'HALT_0006.MP4'), 500e6);
  await page.reload();
  await expect(onCard(page, 'HALT_0006').locator('img')).toBeVisible();
  await page.getByRole('checkbox', { name: 'Choose HALT_0001' }).click();
  await page.getByRole('checkbox', { name: 'Choose HALT_0006' }).click();
  await page.getByRole('button', { name: 'Copy to the Library' }).click();
  await expect(page.getByTestId('job').getByText(/[1-9]\d* %/)).toBeVisible();
  await page.getByRole('button', { name: 'Eject the card' }).click();
  await expect(page.getByTestId('job')).toContainText('The card was ejected while HALT_0006.MP4 was copied');
  await expect(page.getByTestId('job')).toContainText('1 of 2 recordings were copied and are in the Library');
  expect(readdirSync(join(data, 'originals')).filter((f) => f.endsWith('.part'))).toEqual([]);

  await page.getByRole('button', { name: 'Insert the card' }).click();
  await expect(onCard(page, 'HALT_0001')).toContainText('In the Library already');
  await page.getByTestId('job').getByRole('button', { name: 'Try again' }).click();
  await expect(page.getByTestId('job').first()).toContainText('Done', { timeout: 240_000 });
  await page.goto('/');
  await expect(card(page, 'HALT_0001')).toBeVisible();
  await expect(card(page, 'HALT_0006')).toBeVisible();
});

test('a pair of files is stitched, calibrated on a frame, and the seam meets as the true lenses say', async ({
  page,
}) => {
  const pair = ['a', 'b'].map((lens) => join(scratch, `corner_${lens}.mp4`));
  pair.forEach((out, i) =>
    ffmpeg(
      '-i',
      join(clips, `signal-corner-${i ? 'b' : 'a'}.mp4`),
      '-t',
      '1',
      '-c:v',
      'libx264',
      '-preset',
      'veryfast',
      '-crf',
      '12',
      '-c:a',
      'copy',
      out,
    ),
  );
  await page.goto('/');
  await page.getByTestId('file-input').setInputFiles(pair);
  await gathered(page, 'corner');
  const picture = card(page, 'corner').locator('img').first();
  const version = async () => Number(/v=(\d+)/.exec((await picture.getAttribute('src'))!)![1]);
  const first = await version();
  await card(page, 'corner').getByRole('button', { name: 'New take' }).click();
  await still(page);
  await goTo(page, 0.5);
  await page.getByRole('button', { name: 'Source' }).click();
  await page.getByRole('tab', { name: 'Stitch' }).click();
  await expect(page.getByTestId('seam-on-map')).toBeVisible();
  await page.getByRole('button', { name: 'Calibrate on this frame' }).click();
  const told = page.getByTestId('calibration');
  await expect(told).toBeVisible({ timeout: 60_000 });
  const [before, after] = [...(await told.innerText()).matchAll(/([\d.]+)°/g)].map((m) => Number(m[1]));
  expect(before).toBeGreaterThan(0.8);
  expect(after).toBeLessThan(0.15);
  // Before and after stand on both sides of a line that can be moved.
  const line = page.getByRole('slider', { name: 'Line between before and after' });
  await expect(line).toBeVisible({ timeout: 60_000 });
  await line.press('ArrowLeft');
  await expect(line).toHaveAttribute('aria-valuenow', '48');

  const studio = page.url();
  await page.getByRole('button', { name: 'Apply to the footage' }).click();
  await expect(page.getByText('The proxy is being made with the new stitch')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Undo the last change' })).toBeVisible();
  await page.goto('/');
  await expect.poll(version, { timeout: 90_000 }).toBeGreaterThan(first);
  const id = (await picture.getAttribute('src'))!.split('/')[3]!;
  const { source } = (await (await page.request.get(`/footage/${id}/stitch`)).json()) as { source: TwoLenses };
  const { mean, worst } = seamError(source.lenses, inOnePicture(TRUE));
  expect(mean).toBeLessThan(0.1);
  expect(worst).toBeLessThan(0.2);
  expect(source.track!.seam.length).toBeGreaterThan(3);

  // It survives a reload, and the change can be taken back.
  await page.goto(studio);
  await page.getByRole('button', { name: 'Source' }).click();
  await page.getByRole('tab', { name: 'Stitch' }).click();
  await page.getByRole('button', { name: 'Undo the last change' }).click();
  await expect
    .poll(
      async () =>
        ((await (await page.request.get(`/footage/${id}/stitch`)).json()) as { source: TwoLenses }).source.lenses[1]
          .roll,
    )
    .toBe(0);
});

test('a lens by itself is taken as half a sphere on the user’s word', async ({ page }) => {
  const one = join(scratch, 'alone_a.mp4');
  ffmpeg('-ss', '2', '-i', join(clips, 'signal-corner-a.mp4'), '-t', '0.5', '-vf', 'scale=480:480', one);
  await page.goto('/');
  await page.getByTestId('file-input').setInputFiles(one);
  const row = page.getByTestId('adding').filter({ hasText: 'alone_a' });
  await expect(row).toContainText('one lens of two');
  await row.getByRole('button', { name: 'Take it all the same' }).click();
  await gathered(page, 'alone_a');
  await expect(card(page, 'alone_a')).toContainText('one lens');
  // Its circle was found, and can be set on the picture.
  await card(page, 'alone_a').getByRole('button', { name: 'New take' }).click();
  await page.getByRole('button', { name: 'Source' }).click();
  await page.getByRole('tab', { name: 'Stitch' }).click();
  const radius = page.getByRole('textbox', { name: 'Radius' });
  const found = parseFloat(await radius.inputValue());
  expect(Math.abs(found - 235)).toBeLessThan(2);
  await page.getByRole('button', { name: 'Set the circle on the picture' }).click();
  await expect(page.getByAltText('The picture as it was filmed')).toBeVisible();
  const handle = (await page.getByTestId('radius-handle').boundingBox())!;
  await page.mouse.move(handle.x + handle.width / 2, handle.y + handle.height / 2);
  await page.mouse.down();
  await page.mouse.move(handle.x - 20, handle.y + 35, { steps: 4 });
  await page.mouse.up();
  await page.getByRole('group', { name: 'Circle of the lens' }).press('-');
  await page.keyboard.press('Escape');
  expect(parseFloat(await radius.inputValue())).toBeLessThan(found - 5);
  await expect(page.getByText('Shown on this frame alone so far')).toBeVisible();
});
