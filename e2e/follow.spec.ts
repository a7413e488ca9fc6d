/** Following a visitor: drawn round on the Map, tracked, kept in frame in the Frame and in the clip that is exported. */
import { expect, test, type Page } from './test';
import { join } from 'node:path';
import { exportClip, ffmpeg, footage, frameShot, gather, goTo, openTake, part, scratch, typeDial } from './helpers';

/** How blue and how red the picture is in its middle. */
function middle(picture: string, ...before: string[]): { red: number; blue: number } {
  const pixels = ffmpeg(
    ...before,
    '-i',
    picture,
    '-vf',
    'crop=8:8',
    '-frames:v',
    '1',
    '-pix_fmt',
    'rgb24',
    '-f',
    'rawvideo',
    '-',
  );
  const mean = (k: number) => {
    let sum = 0;
    for (let i = k; i < pixels.length; i += 3) sum += pixels[i]!;
    return sum / (pixels.length / 3);
  };
  return { red: mean(0), blue: mean(2) };
}

async function inFrame(page: Page) {
  const shot = join(scratch, 'follow.png');
  await frameShot(page, shot);
  return middle(shot);
}

test('a visitor is pointed out, followed round the sphere, framed aside, and exported', async ({ page }) => {
  await gather(page, footage('walker.mp4', 1, 6));
  await openTake(page, 'walker');
  await part(page, 'Follow');
  const map = (await page.getByTestId('map').boundingBox())!;
  const onMap = (heading: number, tilt: number) =>
    [map.x + map.width * (0.5 + heading / 360), map.y + map.height * (0.5 - tilt / 180)] as const;
  await page.getByRole('button', { name: 'Point a subject out' }).click();
  await page.mouse.click(...onMap(0, 50));
  await expect(page.getByText('stands out there from what is about it')).toBeVisible({ timeout: 60_000 });
  // The outline of a press is drawn first; it can be drawn better.
  await page.mouse.click(...onMap(-117, -4));
  await expect(page.getByText('Is this its outline')).toBeVisible({ timeout: 60_000 });
  await expect(page.getByTestId('proposed-on-map')).toBeVisible();
  // The track is seen while it grows.
  await page.evaluate(() => {
    new MutationObserver((_, observer) => {
      const going = document.querySelector('[role=progressbar][aria-label="Following Subject 1"]');
      if (!going || !document.querySelector('[data-testid=subject-streaks] path')) return;
      observer.disconnect();
      document.body.dataset.grew = 'yes';
    }).observe(document.body, { subtree: true, childList: true, attributes: true });
  });
  // A line drawn round the visitor in blue, behind the camera to the left.
  const round = Array.from({ length: 24 }, (_, i) => {
    const a = (i / 24) * 2 * Math.PI;
    return onMap(-117 + 6 * Math.cos(a), -4 + 15 * Math.sin(a));
  });
  await page.mouse.move(...round[0]!);
  await page.mouse.down();
  for (const point of round) await page.mouse.move(...point);
  await expect(page.getByTestId('outline-drawn')).toBeVisible();
  await page.mouse.up();
  const follow = page.getByRole('button', { name: 'Follow it' });
  await expect(follow).toBeVisible({ timeout: 240_000 });
  await expect(page.getByTestId('subject-streaks').locator('path')).toHaveCount(1);
  await expect(page.locator('body')).toHaveAttribute('data-grew', 'yes');
  const face = page.getByTestId('subject-picture');
  expect(await face.evaluate((img: HTMLImageElement) => img.decode().then(() => img.naturalWidth))).toBe(96);
  await page.getByRole('button', { name: 'Colour of Subject 1: plum' }).click();
  await page.getByRole('menuitemradio', { name: 'amber' }).click();
  await expect(page.getByTestId('subject-streaks').locator('path')).toHaveAttribute('fill', 'var(--tint-amber)');
  await follow.click();
  await expect(page.getByRole('region', { name: 'Follows of this take' }).getByText('Subject 1')).toBeVisible();
  await expect(page.getByTestId('on-air-curve')).toHaveCount(1);

  for (const time of [2, 3.5, 5]) {
    await goTo(page, time);
    const { red, blue } = await inFrame(page);
    expect(blue, `at ${time} s`).toBeGreaterThan(1.3 * red);
  }
  const blueness = async () => {
    const { red, blue } = await inFrame(page);
    return blue / red;
  };
  await typeDial(page, 'Place across', -60);
  await expect.poll(blueness).toBeLessThan(1.3);
  await page.keyboard.press('Control+z');
  await expect.poll(blueness).toBeGreaterThan(1.3);

  // Put right once, by hand, in the middle of the Frame where it is seen: only about that moment it is looked for anew.
  await goTo(page, 4);
  await page.getByRole('button', { name: 'Put right' }).click();
  const sheet = (await page.getByTestId('point-out-in-frame').boundingBox())!;
  await page.mouse.click(sheet.x + sheet.width / 2, sheet.y + sheet.height / 2);
  await expect(page.getByText('By hand')).toBeVisible();
  await expect(page.getByRole('button', { name: '0:04.00' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Put right' })).toBeVisible({ timeout: 240_000 });
  await expect.poll(blueness).toBeGreaterThan(1.3);

  // It can be renamed, deleted and brought back; the take goes on following it.
  const name = page.getByRole('textbox', { name: 'Name of Subject 1' });
  await name.fill('In blue');
  await name.press('Enter');
  await expect(page.getByRole('textbox', { name: 'Name of In blue' })).toBeVisible();
  await page.getByRole('button', { name: 'Delete In blue' }).click();
  await page.getByRole('button', { name: 'Bring it back' }).click();
  await expect(page.getByRole('textbox', { name: 'Name of In blue' })).toBeVisible();

  const clip = await exportClip(page, 640, 360);
  for (const time of [1.5, 3, 5]) {
    const { red, blue } = middle(clip, '-ss', String(time));
    expect(blue, `exported, at ${time} s`).toBeGreaterThan(1.3 * red);
  }
});

test('what moves is found; two are taken, followed, kept in frame and exported', async ({ page }) => {
  await gather(page, footage('visitors.mp4', 1, 5));
  await openTake(page, 'visitors');
  // The Sweep shows what moves as soon as that is known.
  await page.keyboard.press('v');
  await page.getByRole('button', { name: 'Find what moves' }).click();
  await expect(page.getByTestId('found-streaks').locator('path').first()).toBeVisible({ timeout: 240_000 });
  await expect(page.getByTestId('activity-not-yet')).toHaveCount(0);
  await page.keyboard.press('v');
  await expect(page.getByTestId('found-streaks').locator('path')).toHaveCount(0);

  await part(page, 'Follow');
  await page.getByRole('button', { name: 'Find subjects' }).click();
  const found = page.getByRole('region', { name: 'What was found' });
  await expect(found.getByText(/^\d+ found$/)).toBeVisible();
  // The visitor in blue goes by behind the camera and is the largest; the one who is seen next longest is somebody else.
  await page.getByRole('combobox', { name: 'Order of what was found' }).selectOption('largest first');
  const picture = found.getByTestId('candidate-picture').first();
  expect(await picture.evaluate((img: HTMLImageElement) => img.decode().then(() => img.naturalWidth))).toBe(96);
  const boxes = found.getByRole('checkbox');
  await boxes.nth(0).check();
  await boxes.nth(1).check();
  await expect(page.getByTestId('found-on-map').locator('path').first()).toBeVisible();
  await page.getByRole('button', { name: 'Take these 2' }).click();
  await expect(found.getByText('is Subject 1')).toBeVisible();
  await expect(found.getByText('is Subject 2')).toBeVisible();
  await page.getByRole('button', { name: 'To the subjects' }).click();
  const follow = page.getByRole('button', { name: 'Follow it' });
  await expect(follow).toHaveCount(2, { timeout: 240_000 });
  await expect(page.getByTestId('subject-streaks').locator('path')).toHaveCount(2);
  await follow.first().click();
  await expect(page.getByTestId('on-air-curve')).toHaveCount(1);
  const clip = await exportClip(page, 640, 360);
  for (const time of [2, 3, 4]) {
    const { red, blue } = middle(clip, '-ss', String(time));
    expect(blue, `exported, at ${time} s`).toBeGreaterThan(1.3 * red);
  }
});
