/** What somebody meets who opens Glimbo for the first time, with footage of a make of its own. */
import { join } from 'node:path';
import { expect, test, type Page } from './test';
import {
  card,
  dial,
  dialValue,
  ffmpeg,
  footageCount,
  frameShot,
  gather,
  goTo,
  openTake,
  psnr,
  saved,
  scratch,
  station,
  still,
  typeDial,
} from './helpers';

const NAME = 'garden walk';
const times = (page: Page) => page.getByRole('textbox', { name: /^Time of keyframe/ });
const hint = (page: Page) => page.getByTestId('path-hint');

test.beforeEach(async ({ page }) => {
  await page.goto('/');
  if ((await footageCount(page)) > 0) await page.getByTestId('footage').first().waitFor();
  if ((await card(page, NAME).count()) > 0) return;
  // Six seconds at 25 frames a second, in Matroska, its picture a little later than its sound.
  const file = join(scratch, `${NAME}.mkv`);
  ffmpeg(
    '-f',
    'lavfi',
    '-i',
    'sine=330:d=6',
    '-itsoffset',
    '0.021',
    '-t',
    '6',
    '-i',
    'packages/demo/clips/turntable.mp4',
    '-map',
    '1:v',
    '-map',
    '0:a',
    '-vf',
    'scale=1280:640,fps=25',
    '-fps_mode',
    'passthrough',
    '-c:v',
    'libx264',
    '-preset',
    'veryfast',
    '-colorspace',
    'bt709',
    '-c:a',
    'aac',
    file,
  );
  await gather(page, file);
});

/** Drags the picture by some pixels, in steps; calls `seen` after each. */
async function drag(page: Page, dx: number, dy: number, from = { x: 0.5, y: 0.5 }, seen?: () => Promise<void>) {
  const box = (await page.getByTestId('frame').boundingBox())!;
  const [x, y] = [box.x + box.width * from.x, box.y + box.height * from.y];
  await page.mouse.move(x, y);
  await page.mouse.down();
  for (let i = 1; i <= 10; i++) {
    await page.mouse.move(x + (dx * i) / 10, y + (dy * i) / 10);
    await seen?.();
  }
  await page.mouse.up();
}

test('keys work after the pointer pressed something, and a first framing is never thrown away', async ({ page }) => {
  await openTake(page, NAME);
  await expect(hint(page)).toContainText('No keyframes yet');
  await drag(page, -120, 20);
  await expect(times(page)).toHaveCount(1);
  const first = await dialValue(page, 'Pan');
  expect(first).toBeGreaterThan(5);
  await expect(hint(page)).toContainText('One keyframe');

  await goTo(page, 4);
  await drag(page, 200, 0);
  await expect(times(page)).toHaveCount(2);
  await goTo(page, 0);
  expect(await dialValue(page, 'Pan')).toBe(first);

  // Pressed with the pointer: a preset, a dial's reset, a button of the transport, a choice.
  await goTo(page, 2);
  await page.getByRole('button', { name: 'Bowed', exact: true }).click();
  await page.getByRole('button', { name: 'Remove the keyframe' }).click();
  await page.keyboard.press('Enter');
  await expect(times(page)).toHaveCount(3);
  await page.getByRole('button', { name: 'Reset pan' }).click();
  await page.keyboard.press('ArrowDown');
  await expect(page.getByRole('textbox', { name: 'Time in seconds' })).toHaveValue('4.000 s');
  await page.getByRole('combobox', { name: 'Format', exact: true }).selectOption('1:1');
  await page.getByRole('button', { name: 'Loop between in and out' }).click();
  // From the start there is time enough to see it play.
  await page.getByRole('button', { name: 'To the in point' }).click();
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Pause' })).toBeVisible();
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();

  // What the keyboard came to keeps its own keys.
  const straight = page.getByRole('button', { name: 'Straight', exact: true });
  await page.keyboard.press('Tab');
  await straight.focus();
  await page.keyboard.press('Enter');
  expect(await dialValue(page, 'Field of view')).toBe(60);
});

test('a drag stops at straight up and stays calm there; keys stop too; typing may go beyond; Shift holds an axis', async ({
  page,
}) => {
  await openTake(page, NAME);
  let [pan, most] = [await dialValue(page, 'Pan'), 0];
  for (let pull = 0; pull < 4; pull++)
    await drag(page, 30, 260, { x: 0.5, y: 0.2 }, async () => {
      expect(await dialValue(page, 'Tilt')).toBeLessThanOrEqual(90);
      const now = await dialValue(page, 'Pan');
      most = Math.max(most, Math.abs(now - pan));
      pan = now;
    });
  expect(await dialValue(page, 'Tilt')).toBe(90);
  expect(most).toBeLessThan(25);
  for (let i = 0; i < 3; i++) await page.keyboard.press('w');
  expect(await dialValue(page, 'Tilt')).toBe(90);
  await typeDial(page, 'Tilt', 120);
  expect(await dialValue(page, 'Tilt')).toBe(120);

  await typeDial(page, 'Tilt', -35);
  await typeDial(page, 'Pan', 0);
  await page.keyboard.down('Shift');
  await drag(page, -160, 25);
  await page.keyboard.up('Shift');
  expect(await dialValue(page, 'Tilt')).toBe(-35);
  expect(await dialValue(page, 'Pan')).toBeGreaterThan(5);

  // Across the seam: the keyframe that dragging makes is the nearest to its neighbour.
  await typeDial(page, 'Pan', 170);
  await goTo(page, 3);
  for (let i = 0; i < 3; i++) await drag(page, -250, 0);
  expect(Math.abs((await dialValue(page, 'Pan')) - 170)).toBeLessThanOrEqual(180);
});

test('a preset shows what it will do, and the way back from a planet leads to where one looked', async ({ page }) => {
  await openTake(page, NAME);
  await typeDial(page, 'Tilt', -8);
  const before = join(scratch, 'before-preset.png');
  const pointed = join(scratch, 'pointed-preset.png');
  const after = join(scratch, 'after-preset.png');
  await frameShot(page, before);
  await page.getByRole('button', { name: 'Tiny planet' }).hover();
  await expect(hint(page)).toContainText('looks straight down');
  await expect.poll(async () => (await frameShot(page, pointed), psnr(before, pointed))).toBeLessThan(20);
  await page.mouse.move(5, 300);
  await expect.poll(async () => (await frameShot(page, after), psnr(before, after))).toBeGreaterThan(45);
  expect(await dialValue(page, 'Tilt')).toBe(-8);

  await page.getByRole('button', { name: 'Tiny planet' }).click();
  expect(await dialValue(page, 'Tilt')).toBe(-90);
  await page.getByRole('button', { name: 'Wide', exact: true }).hover();
  await expect(hint(page)).toContainText('back to a tilt of −8°');
  await page.getByRole('button', { name: 'Wide', exact: true }).click();
  expect([await dialValue(page, 'Tilt'), await dialValue(page, 'Field of view')]).toEqual([-8, 90]);
});

test('the Frame can be seen large, is handled there, and Esc comes back', async ({ page }) => {
  await openTake(page, NAME);
  const small = (await page.getByTestId('frame').boundingBox())!;
  await page.keyboard.press('f');
  await still(page);
  const large = (await page.getByTestId('frame').boundingBox())!;
  expect(large.width).toBeGreaterThan(1.7 * small.width);
  await drag(page, -200, 0);
  await page.keyboard.press('ArrowRight');
  await expect(page.getByRole('textbox', { name: 'Time in seconds' }).last()).toHaveValue('0.040 s');
  await page.getByRole('button', { name: 'Whole screen' }).click();
  await expect.poll(() => page.evaluate(() => document.fullscreenElement !== null)).toBe(true);
  await page.evaluate(() => document.exitFullscreen());
  await expect(page.getByTestId('frame-room')).toHaveAttribute('data-large', 'false');
  await page.getByRole('button', { name: 'Large Frame' }).click();
  await expect(page.getByTestId('frame-room')).toHaveAttribute('data-large', 'true');
  await page.keyboard.press('Escape');
  await expect(page.getByTestId('frame-room')).toHaveAttribute('data-large', 'false');
  await still(page);
  expect((await page.getByTestId('frame').boundingBox())!.width).toBeCloseTo(small.width, -1);
  await expect(times(page)).toHaveCount(1);
});

test('the Score bears times, shows where a zoomed part lies, and a bead that is dragged shows its own moment', async ({
  page,
}) => {
  await openTake(page, NAME);
  const ticks = page.getByTestId('time-ticks').locator('text');
  await expect(ticks.first()).toHaveText('0:00');
  expect(await ticks.count()).toBeGreaterThan(3);
  await expect(page.getByTestId('overview')).toHaveCount(0);
  const sweep = (await page.getByTestId('sweep').boundingBox())!;
  await page.mouse.move(sweep.x + 100, sweep.y + 200);
  await page.keyboard.down('Control');
  await page.mouse.wheel(0, -600);
  await page.keyboard.up('Control');
  const overview = page.getByTestId('overview');
  await expect(overview).toBeVisible();
  const before = await overview.getAttribute('aria-valuetext');
  const bar = (await overview.boundingBox())!;
  await page.mouse.click(bar.x + 4, bar.y + bar.height - 4);
  await expect(overview).not.toHaveAttribute('aria-valuetext', before!);
  await page.keyboard.down('Control');
  await page.mouse.move(sweep.x + 100, sweep.y + 200);
  await page.mouse.wheel(0, 4000);
  await page.keyboard.up('Control');
  await expect(overview).toHaveCount(0);

  await typeDial(page, 'Pan', 20);
  await goTo(page, 4);
  const bead = page.getByTestId('sweep').getByRole('button', { name: /^Keyframe 1/ });
  const box = (await bead.boundingBox())!;
  const [x, y] = [box.x + box.width / 2, Math.max(box.y + box.height / 2, sweep.y + 2)];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 30, y, { steps: 4 });
  await expect(page.getByRole('textbox', { name: 'Time in seconds' })).toHaveValue('0.000 s');
  await page.mouse.move(x + 30, y + 80, { steps: 4 });
  await expect(page.getByRole('textbox', { name: 'Time in seconds' })).not.toHaveValue('0.000 s');
  expect(await page.getByRole('textbox', { name: 'Time in seconds' }).inputValue()).toBe(
    await times(page).first().inputValue(),
  );
  await page.mouse.up();
  await saved(page);
  await page.keyboard.press('Control+z');
  await expect(times(page).first()).toHaveValue('0.000 s');
});

test('on a small screen nothing is cut off; on a usual one the benches show what matters', async ({ page }) => {
  await openTake(page, NAME);
  const inSight = async (what: ReturnType<Page['getByRole']>) => {
    const box = (await what.boundingBox())!;
    const view = page.viewportSize()!;
    expect(box.x + box.width).toBeLessThanOrEqual(view.width);
    expect(box.y + box.height).toBeLessThanOrEqual(view.height);
  };
  await typeDial(page, 'Pan', 20);
  await inSight(hint(page));
  await page.setViewportSize({ width: 1024, height: 700 });
  for (const what of [
    page.getByRole('combobox', { name: 'Format', exact: true }),
    page.getByRole('button', { name: /^Set/ }),
    page.getByRole('combobox', { name: 'What leaves keyframe 1' }),
    hint(page),
  ])
    await inSight(what);
  await page.setViewportSize({ width: 1280, height: 800 });
  await station(page, 'Level');
  await page.getByRole('tab', { name: 'Orient', exact: true }).click();
  await inSight(page.getByRole('checkbox', { name: /Keep the framing/ }).first());
});

test('takes are numbered, have pictures, and are found, sorted and marked', async ({ page }) => {
  await openTake(page, NAME);
  const name = await page.getByRole('textbox', { name: 'Name of the take' }).inputValue();
  expect(name).toMatch(/^garden walk, take \d+$/);
  await page.goto('/');
  const takes = page.getByTestId('take');
  const mine = takes.filter({ hasText: name });
  const picture = mine.locator('img');
  await expect
    .poll(() => picture.evaluate((i: HTMLImageElement) => i.naturalWidth), { timeout: 60_000 })
    .toBeGreaterThan(100);
  await mine.getByRole('button', { name: `Make ${name} a favourite` }).click();
  await expect(mine.getByRole('button', { name: `${name} is a favourite` })).toBeVisible();
  await page.getByRole('button', { name: 'Favourite takes' }).click();
  await expect(takes).toHaveCount(1);
  await page.getByRole('button', { name: 'Favourite takes' }).click();
  await page.getByRole('searchbox', { name: 'Search the takes' }).fill('garden take');
  for (const text of await takes.allInnerTexts()) expect(text).toContain(NAME);
  await page.getByRole('combobox', { name: 'Order of the takes' }).selectOption('name');
  const names = (await takes.locator('a.line-clamp-2').allInnerTexts()).map((t) => Number(t.split(' ').at(-1)));
  expect(names).toEqual([...names].sort((a, b) => a - b));
});

test('Steady starts the analysis in one press and goes on by itself', async ({ page }) => {
  await openTake(page, NAME);
  await station(page, 'Level');
  await page.getByRole('tab', { name: 'Steady', exact: true }).click();
  await page.getByRole('button', { name: 'Analyse, then Rolling' }).click();
  await station(page, 'Path');
  await expect(page.getByText('the take is steadied')).toBeVisible({ timeout: 240_000 });
  await station(page, 'Level');
  await expect(page.getByRole('radio', { name: 'Rolling' })).toBeChecked();
  const keeps = (await page
    .getByRole('checkbox', { name: /Keep the framing/ })
    .last()
    .boundingBox())!;
  expect(keeps.y + keeps.height).toBeLessThanOrEqual(800);
  await saved(page);
});

test('while a clip is exported the frame being written is seen, and its size is learned', async ({ page }) => {
  await openTake(page, NAME);
  await goTo(page, 1.5);
  await page.keyboard.press('o');
  await station(page, 'Export');
  const estimate = page.getByTestId('estimate');
  const guess = await estimate.innerText();
  await page.getByRole('combobox', { name: 'Size class' }).selectOption('2160');
  await page.getByRole('button', { name: 'Export clip' }).click();
  await page.goto('/exports');
  const written = page.getByTestId('frame-being-written').first();
  await expect(written).toBeVisible({ timeout: 60_000 });
  const bright = await written.evaluate(async (image: HTMLImageElement) => {
    await image.decode();
    const canvas = new OffscreenCanvas(32, 18);
    const context = canvas.getContext('2d')!;
    context.drawImage(image, 0, 0, 32, 18);
    return [...context.getImageData(0, 0, 32, 18).data].reduce((a, b) => a + b, 0) / (32 * 18 * 4);
  });
  expect(bright).toBeGreaterThan(90);
  const newest = page.getByTestId('export').first();
  await expect(newest.locator('video')).toBeVisible({ timeout: 300_000 });
  await expect(newest).toContainText(/frames · \d/);
  await newest.getByRole('link', { name: 'Open the take' }).click();
  await expect(estimate).toHaveAttribute('title', /how large your clips came out/);
  await expect(estimate).not.toHaveText(guess);
});

test('a picture that the browser takes away comes back', async ({ page }) => {
  await openTake(page, NAME);
  await dial(page, 'Pan').fill('15');
  await dial(page, 'Pan').press('Enter');
  const before = join(scratch, 'before-lost.png');
  const after = join(scratch, 'after-lost.png');
  await frameShot(page, before);
  const lose = await page
    .getByTestId('frame')
    .evaluateHandle((c: HTMLCanvasElement) => c.getContext('webgl2')!.getExtension('WEBGL_lose_context')!);
  await lose.evaluate((e: { loseContext(): void }) => e.loseContext());
  await expect(page.getByText('comes back by itself')).toBeVisible();
  await lose.evaluate((e: { restoreContext(): void }) => e.restoreContext());
  await expect(page.getByText('comes back by itself')).toBeHidden();
  await frameShot(page, after);
  expect(psnr(before, after)).toBeGreaterThan(45);
});

test('two files like a pair without dark edges are taken as one says they are', async ({ page }) => {
  const [a, b] = ['a', 'b'].map((which) => join(scratch, `garage-${which}.mp4`));
  for (const [file, from] of [
    [a, 1],
    [b, 7],
  ] as const)
    ffmpeg(
      '-ss',
      String(from),
      '-t',
      '0.5',
      '-i',
      'packages/demo/clips/turntable.mp4',
      '-vf',
      'crop=ih:ih,scale=640:640',
      '-an',
      '-c:v',
      'libx264',
      file!,
    );
  await page.goto('/');
  await page.getByTestId('file-input').setInputFiles([a!, b!]);
  const row = page.getByTestId('adding').filter({ hasText: 'garage' });
  await expect(row).toContainText('no dark edge round two circles');
  await row.getByRole('button', { name: 'Two lenses' }).click();
  await expect(card(page, 'garage')).toContainText('two lenses', { timeout: 60_000 });
  await card(page, 'garage').getByRole('button', { name: 'Delete garage' }).click();
  await page.goto('/?deleted');

  // Removing for good asks, and says what goes.
  await page.getByRole('button', { name: 'Remove for good' }).click();
  const question = page.getByRole('alertdialog');
  await expect(question).toContainText('garage');
  await expect(question).toContainText('cannot be undone');
  await question.getByRole('button', { name: 'Keep it' }).click();
  await expect(card(page, 'garage')).toBeVisible();
  await page.getByRole('button', { name: 'Remove for good' }).click();
  await question.getByRole('button', { name: 'Remove for good' }).click();
  await expect(page.getByText('Nothing is deleted.')).toBeVisible();

  await page.goto('/');
  await page.getByTestId('file-input').setInputFiles([a!, b!]);
  await row.getByRole('button', { name: 'Two recordings' }).click();
  for (const name of ['garage-a', 'garage-b']) {
    const one = page.getByTestId('adding').filter({ hasText: name });
    await expect(one).toContainText('not twice as wide as high');
    await one.getByRole('button', { name: 'Leave it out' }).click();
  }
  await expect(page.getByTestId('adding')).toHaveCount(0);
});

test('new footage is analysed and looked through by itself when nothing else waits, if that is set', async ({
  page,
}) => {
  await page.goto('/settings');
  const choices = ['Analyse its motion by itself', 'Find subjects in it by itself'].map((name) =>
    page.getByRole('checkbox', { name }),
  );
  for (const choice of choices) await choice.check();
  const file = join(scratch, 'itself.mp4');
  ffmpeg(
    '-ss',
    '2',
    '-t',
    '1',
    '-i',
    'packages/demo/clips/footbridge-carry.mp4',
    '-vf',
    'scale=1280:640',
    '-an',
    '-c:v',
    'libx264',
    file,
  );
  await gather(page, file);
  await openTake(page, 'itself');
  await station(page, 'Level');
  await page.getByRole('tab', { name: 'Motion', exact: true }).click();
  await expect(page.getByTestId('motion-state')).toContainText('Analysed: quick', { timeout: 90_000 });
  await page.keyboard.press('v');
  await expect(page.getByTestId('activity-not-yet')).toHaveCount(0, { timeout: 90_000 });
  await page.goto('/settings');
  for (const choice of choices) {
    await choice.uncheck();
    await expect(choice).not.toBeChecked();
  }
});
