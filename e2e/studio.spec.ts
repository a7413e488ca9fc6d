import { join } from 'node:path';
import { expect, test, type Page } from './test';
import type { Take } from '@glimbo/core/take/take';
import {
  dial,
  dialValue,
  draftsIn,
  exportClip,
  ffmpeg,
  footage,
  frameShot,
  gather,
  glimbo,
  goTo,
  kept,
  openTake,
  psnr,
  saved,
  scratch,
  still,
  takeDocument,
  takeOf,
  typeDial,
} from './helpers';
import { data } from './world';

const clip = () => join(scratch, 'midday.mp4');
/** The proxy that the application made of this file's footage. */
async function proxyOf(page: Page, card: string) {
  await page.goto('/');
  const picture = page.getByTestId('footage').filter({ hasText: card }).locator('img').first();
  const id = (await picture.getAttribute('src'))!.split('/')[3]!;
  return join(data, 'footage', id, 'proxy.mp4');
}

test.beforeEach(async ({ page }) => {
  await page.goto('/');
  if ((await page.getByTestId('footage').filter({ hasText: 'midday' }).count()) > 0) return;
  footage('midday.mp4', 5, 3);
  await gather(page, clip());
});

test('a file goes from the Library to a wide and a tall clip that match what was seen', async ({ page }) => {
  await openTake(page, 'midday');

  // Three keyframes, aimed by dragging the picture in the Frame.
  const frame = (await page.getByTestId('frame').boundingBox())!;
  const drag = async (dx: number, dy: number) => {
    const [x, y] = [frame.x + frame.width / 2, frame.y + frame.height / 2];
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + dx / 2, y + dy / 2, { steps: 3 });
    await page.mouse.move(x + dx, y + dy, { steps: 3 });
    await page.mouse.up();
  };
  await page.keyboard.press('Enter');
  await drag(-120, 40);
  const first = await dialValue(page, 'Pan');
  expect(first).toBeGreaterThan(5);
  expect(await dialValue(page, 'Tilt')).toBeGreaterThan(1);
  await goTo(page, 1);
  await drag(-160, 10);
  await goTo(page, 2);
  await drag(220, -30);
  await expect(page.getByRole('textbox', { name: /^Time of keyframe/ })).toHaveCount(3);
  await saved(page);

  await page.getByRole('button', { name: 'To the in point' }).click();

  for (const aspect of ['16:9', '9:16']) {
    await page.getByRole('combobox', { name: 'Format', exact: true }).selectOption(aspect);
    const [width, height] = aspect === '16:9' ? [960, 540] : [540, 960];
    await exportClip(page, width!, height!, 10);
    await page.getByRole('button', { name: 'Path', exact: true }).click();
  }

  // The exported frames against the engine's stills of the very same take.
  await page.goto('/exports');
  const newest = page.getByTestId('export').first();
  const video = newest.locator('video');
  await expect.poll(() => video.evaluate((v: HTMLVideoElement) => v.duration)).toBeCloseTo(3, 1);
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    newest.getByRole('link', { name: 'Download' }).click(),
  ]);
  expect(download.suggestedFilename()).toMatch(/midday.*\.mp4$/);
  const tall = join(scratch, 'tall.mp4');
  await download.saveAs(tall);
  const facts = JSON.parse(glimbo('probe', tall)) as {
    width: number;
    height: number;
    frames: number;
    sound: object | null;
  };
  expect(facts).toMatchObject({ width: 540, height: 960, frames: 90 });
  expect(facts.sound).not.toBeNull();

  await newest.getByRole('link', { name: 'Open the take' }).click();
  await page.getByRole('button', { name: 'Path', exact: true }).click();
  const path: Record<string, { time: number; value: number }[]> = { pan: [], tilt: [], roll: [], fov: [], bend: [] };
  for (const time of [0, 1, 2]) {
    await goTo(page, time);
    for (const [channel, name] of [
      ['pan', 'Pan'],
      ['tilt', 'Tilt'],
      ['fov', 'Field of view'],
    ] as const)
      path[channel]!.push({ time, value: await dialValue(page, name) });
  }
  const document = takeDocument(clip(), path, { frame: { aspect: '9:16' }, range: { in: 0, out: 3 } });
  for (const time of [0, 1, 2]) {
    ffmpeg('-i', tall, '-vf', `select=eq(n\\,${time * 30})`, '-frames:v', '1', join(scratch, 'exported.png'));
    glimbo('frame', document, '--time', String(time), '--size', '540x960', '--out', join(scratch, 'engine.png'));
    expect(psnr(join(scratch, 'exported.png'), join(scratch, 'engine.png'))).toBeGreaterThan(32);
  }
});

test("the Frame standing still is the engine's still, in every projection", async ({ page }) => {
  const proxy = await proxyOf(page, 'midday');
  await openTake(page, 'midday');
  const views: [pan: number, tilt: number, roll: number, fov: number, bend: number][] = [
    [20, -10, 0, 60, 0],
    [178, 5, 12, 90, 0],
    [-60, 0, 0, 170, 1],
    [10, -90, 0, 270, 1],
    [30, -20, 5, 290, 2.4],
  ];
  for (const [pan, tilt, roll, fov, bend] of views) {
    for (const [name, value] of [
      ['Bend', bend],
      ['Field of view', fov],
      ['Pan', pan],
      ['Tilt', tilt],
      ['Roll', roll],
    ] as const)
      await typeDial(page, name, value);
    const size = await frameShot(page, join(scratch, 'browser.png'));
    const document = takeDocument(proxy, { pan, tilt, roll, fov, bend });
    glimbo(
      'frame',
      document,
      '--time',
      '0',
      '--size',
      `${size.width}x${size.height}`,
      '--out',
      join(scratch, 'engine.png'),
    );
    expect(
      psnr(join(scratch, 'browser.png'), join(scratch, 'engine.png')),
      `pan ${pan} tilt ${tilt} fov ${fov} bend ${bend}`,
    ).toBeGreaterThan(42);
  }
});

for (const decoder of ['handed out', 'kept back'] as const)
  test(`every frame is reached, forwards and backwards, where the browser's decoder is ${decoder}`, async ({
    page,
  }) => {
    if (decoder === 'kept back')
      await page.addInitScript(() =>
        ['VideoDecoder', 'VideoFrame'].forEach((name) => Reflect.deleteProperty(window, name)),
      );
    const proxy = await proxyOf(page, 'midday');
    await openTake(page, 'midday');
    const view = { pan: 20, tilt: -10, roll: 0, fov: 75, bend: 0 };
    const document = takeDocument(proxy, view);
    await typeDial(page, 'Field of view', view.fov);
    await typeDial(page, 'Pan', view.pan);
    await typeDial(page, 'Tilt', view.tilt);
    const shot = join(scratch, 'browser.png');
    const engine = join(scratch, 'engine.png');
    const likeness = (frame: number, { width, height }: { width: number; height: number }) => {
      const size = `${width}x${height}`;
      glimbo('frame', document, '--time', String(frame / 30), '--size', size, '--out', engine);
      return psnr(shot, engine);
    };
    await goTo(page, 41 / 30);
    await page.keyboard.press('ArrowLeft');
    await page.keyboard.press('ArrowLeft');
    const size = await frameShot(page, shot);
    const right = likeness(39, size);
    expect(right).toBeGreaterThan(40);
    expect(likeness(40, size)).toBeLessThan(right - 2);
    await page.keyboard.press('j');
    const time = page.getByRole('textbox', { name: 'Time in seconds' });
    await expect.poll(async () => parseFloat(await time.inputValue())).toBeLessThan(1);
    await page.keyboard.press('k');
    const stopped = Math.round(parseFloat(await time.inputValue()) * 30);
    expect(likeness(stopped, await frameShot(page, shot))).toBeGreaterThan(40);
  });

test('undo reaches back across a reload, and the address brings back station and time', async ({ page }) => {
  await openTake(page, 'midday');
  await typeDial(page, 'Pan', 30);
  await typeDial(page, 'Pan', 60);
  await goTo(page, 1.5);
  await saved(page);
  await expect(page).toHaveURL(/t=1\.500/);
  await page.reload();
  await still(page);
  await expect(page.getByRole('textbox', { name: 'Time in seconds' })).toHaveValue('1.500 s');
  expect(await dialValue(page, 'Pan')).toBe(60);
  await page.getByRole('button', { name: 'Undo' }).click();
  expect(await dialValue(page, 'Pan')).toBe(30);
  await page.keyboard.press('Control+z');
  expect(await dialValue(page, 'Pan')).toBe(0);
  await page.keyboard.press('Control+Shift+z');
  expect(await dialValue(page, 'Pan')).toBe(30);
  await saved(page);
  await page.reload();
  await still(page);
  expect(await dialValue(page, 'Pan')).toBe(30);
  await expect(page.getByRole('button', { name: 'Redo' })).toBeEnabled();
});

test('a second tab never overwrites the first silently', async ({ page, context }) => {
  await openTake(page, 'midday');
  const other = await context.newPage();
  await other.goto(page.url());
  await still(other);
  await typeDial(page, 'Pan', 11);
  await saved(page);
  await typeDial(other, 'Tilt', 22);
  await expect(other.getByText(/changed in another tab/)).toBeVisible();
  // What is changed after that is kept too, even over a reload, and goes into a take of its own.
  await typeDial(other, 'Roll', 5);
  await expect.poll(() => draftsIn(other)).toContain('"value":5');
  await other.reload();
  await expect(other.getByTestId('conflict')).toContainText(/were not saved, and the take was changed elsewhere/);
  await other.getByRole('button', { name: 'Keep mine as a take of its own' }).click();
  await expect(other.getByRole('textbox', { name: 'Name of the take' })).toHaveValue(/\(mine\)/);
  await still(other);
  expect([await dialValue(other, 'Tilt'), await dialValue(other, 'Roll')]).toEqual([22, 5]);
  await page.reload();
  await still(page);
  expect([await dialValue(page, 'Pan'), await dialValue(page, 'Tilt')]).toEqual([11, 0]);
});

test('a take of a thousand keyframes opens, saves what is edited alone, and loses no edit while the server is away', async ({
  page,
  context,
}) => {
  await openTake(page, 'midday');
  const address = `/takes/${takeOf(page)}`;
  const take = await kept<Take>(takeOf(page));
  const keys = Array.from({ length: 300 }, (_, i) => ({ time: i / 150, value: 20 + (i % 7) / 10 }));
  const path = Object.fromEntries(['pan', 'tilt', 'roll', 'fov'].map((channel) => [channel, keys]));
  const put = { intent: 'put', document: { ...take, path: { ...take.path, ...path } } };
  expect((await page.request.post(address, { data: put })).status()).toBe(200);
  await page.goto('about:blank');
  await page.goto(`/studio/${address.split('/').at(-1)}`);
  await still(page);
  const sizes: number[] = [];
  page.on('request', (r) => r.url().endsWith(address) && sizes.push(r.postData()!.length));
  await typeDial(page, 'Pan', 33);
  await saved(page);
  expect(sizes.length).toBeGreaterThan(0);
  expect(Math.max(...sizes)).toBeLessThan(2000);

  await context.route(`**${address}`, (route) => route.abort());
  for (let n = 1; n <= 12; n++) await typeDial(page, n % 2 ? 'Tilt' : 'Roll', n);
  await expect(page.getByTestId('save-state')).toContainText('not saved');
  await page.close();
  const again = await context.newPage();
  await again.goto(`/studio/${address.split('/').at(-1)}`);
  await still(again);
  expect([await dialValue(again, 'Tilt'), await dialValue(again, 'Roll')]).toEqual([11, 12]);
  await context.unroute(`**${address}`);
  await saved(again);
  await again.keyboard.press('Control+z');
  await expect.poll(() => dialValue(again, 'Roll')).toBe(10);
});

test('keyframes are set, moved, held, eased, copied and removed', async ({ page }) => {
  await openTake(page, 'midday');
  await page.keyboard.press('Enter');
  await goTo(page, 1);
  await typeDial(page, 'Pan', 40);
  const times = page.getByRole('textbox', { name: /^Time of keyframe/ });
  await expect(times).toHaveCount(2);

  // A bead on the Sweep: across is pan, down is time.
  const bead = page.getByTestId('sweep').getByRole('button').nth(1);
  const box = (await bead.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 - 40, box.y + box.height / 2 + 60, { steps: 5 });
  await page.mouse.up();
  const moved = parseFloat(await times.nth(1).inputValue());
  expect(moved).toBeGreaterThan(1.1);
  expect(Math.abs(moved * 30 - Math.round(moved * 30))).toBeLessThan(0.05);

  await times.nth(1).fill('2');
  await times.nth(1).press('Enter');
  await expect(times.nth(1)).toHaveValue('2.000 s');
  expect(await dialValue(page, 'Pan')).toBeLessThan(20);

  await page.getByRole('combobox', { name: 'What leaves keyframe 1' }).selectOption('hold');
  await goTo(page, 1.5);
  expect(await dialValue(page, 'Pan')).toBe(0);
  await page.keyboard.press('ArrowDown');
  await expect(page.getByRole('textbox', { name: 'Time in seconds' })).toHaveValue('2.000 s');

  await page.getByRole('button', { name: 'Hold the view until' }).click();
  await page.getByRole('menuitem', { name: '2.50 s' }).click();
  await expect(times).toHaveCount(3);
  await goTo(page, 2.8);
  await page.getByTestId('sweep').getByRole('button').nth(1).focus();
  await page.keyboard.press('Control+d');
  await expect(times).toHaveCount(4);
  await page.keyboard.press('Delete');
  await expect(times).toHaveCount(3);
});

test('changing the format keeps the field of view over the shorter side', async ({ page }) => {
  await openTake(page, 'midday');
  for (const [aspect, ratio] of [
    ['9:16', 9 / 16],
    ['1:1', 1],
    ['4:5', 0.8],
    ['4:3', 4 / 3],
    ['2.35:1', 2.35],
    ['16:9', 16 / 9],
  ] as const) {
    await page.getByRole('combobox', { name: 'Format', exact: true }).selectOption(aspect);
    await still(page);
    const box = (await page.getByTestId('frame').boundingBox())!;
    expect(box.width / box.height).toBeCloseTo(ratio, 1);
    expect(await dialValue(page, 'Field of view')).toBe(75);
  }
});

test('plays with a clock that runs, loops, steps by frame and shuttles', async ({ page }) => {
  await openTake(page, 'midday');
  const time = async () => parseFloat(await page.getByRole('textbox', { name: 'Time in seconds' }).inputValue());
  await page.keyboard.press('ArrowRight');
  expect(await time()).toBeCloseTo(1 / 30, 2);
  await page.keyboard.press('Shift+ArrowRight');
  expect(await time()).toBeCloseTo(31 / 30, 2);
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Pause' })).toBeVisible();
  await expect.poll(time).toBeGreaterThan(1.4);
  await page.keyboard.press('j');
  await expect.poll(time).toBeLessThan(1.2);
  await page.keyboard.press('k');
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
  await goTo(page, 2.8);
  await page.keyboard.press('l');
  await expect.poll(time).toBeLessThan(1.5);
  await page.keyboard.press('k');
});

test('plays from where it was sent to, also where the video comes only after that', async ({ page }) => {
  let letIn!: () => void;
  const gate = new Promise<void>((resolve) => (letIn = resolve));
  await page.route(/proxy.*mp4/, async (route) => {
    if (route.request().resourceType() === 'media') await gate;
    await route.continue();
  });
  await openTake(page, 'midday');
  const field = page.getByRole('textbox', { name: 'Time in seconds' });
  await goTo(page, 1.5);
  const seen = [1.5];
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Pause' })).toBeVisible();
  letIn();
  await expect
    .poll(async () => seen[seen.push(parseFloat(await field.inputValue())) - 1], { intervals: [20] })
    .toBeGreaterThan(2);
  expect(Math.min(...seen)).toBeGreaterThanOrEqual(1.4);
  await page.keyboard.press('k');
});

test('lens presets, double-click reset and typed numbers', async ({ page }) => {
  await openTake(page, 'midday');
  await page.getByRole('button', { name: 'Tiny planet' }).click();
  expect([
    await dialValue(page, 'Tilt'),
    await dialValue(page, 'Field of view'),
    await dialValue(page, 'Bend'),
  ]).toEqual([-90, 270, 1]);
  await page.getByText('Tilt', { exact: true }).last().dblclick();
  expect(await dialValue(page, 'Tilt')).toBe(0);
  await dial(page, 'Pan').fill('nonsense');
  await dial(page, 'Pan').press('Enter');
  expect(await dialValue(page, 'Pan')).toBe(0);
  await typeDial(page, 'Pan', 725);
  await expect(page.getByText('Heading 5.0°')).toBeVisible();
});
