/** Laying and shaping the camera's path with pointer and keyboard: moves, handles, boxes, performing, pace, formats. */
import { join } from 'node:path';
import { writeFileSync } from 'node:fs';
import { expect, test, type Page } from './test';
import {
  card,
  data,
  dial,
  dialValue,
  exportClip,
  ffmpeg,
  footage,
  frameShot,
  gather,
  glimbo,
  goTo,
  inData,
  kept,
  openTake,
  part,
  psnr,
  saved,
  scratch,
  station,
  still,
  takeOf,
  typeDial,
} from './helpers';

interface Key {
  time: number;
  value: number;
  ease: string | number[];
}
interface TakeDocument {
  footage: string;
  path: Record<string, Key[]>;
}

const file = () => join(scratch, 'ride.mp4');

test.beforeEach(async ({ page }) => {
  await page.goto('/');
  if ((await page.getByTestId('footage').filter({ hasText: 'ride' }).count()) === 0) {
    // Two beats a second, so that there is something to catch on.
    const filmed = footage('ride-filmed.mp4', 2, 9);
    const beats = 'aevalsrc=0.5*sin(400*PI*t)*exp(-40*mod(t\\,0.5)):d=9:s=48000';
    ffmpeg('-i', filmed, '-f', 'lavfi', '-i', beats, '-map', '0:v', '-map', '1:a', '-c:v', 'copy', '-shortest', file());
    await gather(page, file());
  }
  await openTake(page, 'ride');
});

/** Drags something by its middle, by pixels. */
async function dragBy(page: Page, what: ReturnType<Page['locator']>, dx: number, dy: number) {
  const box = (await what.boundingBox())!;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + dx / 2, y + dy / 2, { steps: 3 });
  await page.mouse.move(x + dx, y + dy, { steps: 3 });
  await page.mouse.up();
}

test('a dive out of a planet into a ride with a spin, a hold and a whip, shaped by handles, is exported as it is', async ({
  page,
}) => {
  await typeDial(page, 'Pan', 20);
  await typeDial(page, 'Tilt', -8);
  await typeDial(page, 'Field of view', 70);
  await page.keyboard.press('Delete');
  // Tried first: the path is as it was, the Frame shows the planet.
  await part(page, 'Moves');
  await page.getByRole('group', { name: 'Moves' }).getByRole('button', { name: 'Planet dive' }).click();
  await expect(page.getByTestId('tried')).toBeVisible();
  await page.getByRole('textbox', { name: 'Length value' }).fill('2');
  await page.getByRole('textbox', { name: 'Length value' }).press('Enter');
  await page.getByRole('button', { name: 'Take it' }).click();
  await expect(page.getByTestId('tried')).toBeHidden();
  await part(page, 'Aim');
  await expect(page.getByTestId('keyframe-count')).toHaveText(/^2/);
  expect(await dialValue(page, 'Tilt')).toBe(-90);
  // A spin, a hold, and a whip round to the other side.
  await goTo(page, 2.5);
  await page.getByRole('button', { name: 'More for keyframes' }).click();
  await page.getByRole('button', { name: 'Spin', exact: true }).click();
  await page.keyboard.press('Escape');
  await goTo(page, 5);
  await page.getByRole('button', { name: 'Hold the view until' }).click();
  await page.getByRole('menuitem', { name: '(1 s)' }).click();
  await goTo(page, 6.5);
  await part(page, 'Moves');
  await page.getByRole('group', { name: 'Moves' }).getByRole('button', { name: 'Whip' }).click();
  await page.getByRole('button', { name: 'Take it' }).click();
  // Shaped by a handle of the value curve, and the speed curve follows.
  await goTo(page, 1);
  await part(page, 'Shape');
  const speeds = page.getByTestId('segment-speeds');
  await expect(speeds).toContainText('0.0°/s');
  const curve = await page.getByTestId('speed-curve').getAttribute('d');
  await dragBy(page, page.getByRole('button', { name: 'Value handle leaving' }), 60, -20);
  await expect(speeds).not.toContainText('0.0°/s → 0.0');
  expect(await page.getByTestId('speed-curve').getAttribute('d')).not.toBe(curve);
  const clip = await exportClip(page, 480, 270);
  const take = await kept<TakeDocument>(takeOf(page));
  expect(take.path.pan!.at(-1)!.value - take.path.pan![0]!.value).toBeGreaterThan(360);
  expect(take.path.pan!.some((k) => k.ease === 'whip')).toBe(true);
  expect(take.path.pan!.some((k) => k.ease === 'hold')).toBe(true);
  expect(Array.isArray(take.path.pan![0]!.ease)).toBe(true);

  const document = join(scratch, 'dive.json');
  writeFileSync(document, JSON.stringify({ ...take, footage: file() }));
  for (const time of [0, 0.5, 1, 1.5, 2.2, 3, 3.5, 4.2, 5.5, 6.6, 6.7, 7.5]) {
    const seen = join(scratch, 'dive-seen.png');
    const meant = join(scratch, 'dive-meant.png');
    ffmpeg(
      '-i',
      clip,
      '-vf',
      `select=eq(n\\,${Math.round(time * 30)}),scale=in_color_matrix=bt709:in_range=tv`,
      '-frames:v',
      '1',
      seen,
    );
    glimbo('frame', document, '--time', String(time), '--size', '480x270', '--out', meant);
    expect(psnr(seen, meant), `at ${time} s`).toBeGreaterThan(30);
  }
});

test('keyframes are picked with a box, moved and stretched together, undone by name, and pasted onto ten takes', async ({
  page,
}) => {
  for (const [time, pan] of [
    [1, 10],
    [2, 40],
    [3, 80],
    [6, 15],
  ] as const) {
    await goTo(page, time);
    await typeDial(page, 'Pan', pan);
  }
  // A key of one dial alone.
  await goTo(page, 4);
  await page.getByRole('button', { name: 'Key of roll here' }).click();
  await expect(page.getByRole('button', { name: 'Key of roll here' })).toHaveAttribute('aria-pressed', 'true');
  await page.getByRole('button', { name: 'Previous key of roll' }).click();
  await expect(page.getByRole('textbox', { name: 'Time in seconds' })).toHaveValue('3.000 s');

  const sweep = (await page.getByTestId('sweep').boundingBox())!;
  const y = (t: number) => sweep.y + (t / 9) * sweep.height;
  await page.keyboard.down('Control');
  await page.mouse.move(sweep.x + 10, y(0.5));
  await page.mouse.down();
  await page.mouse.move(sweep.x + sweep.width - 10, y(3.4), { steps: 4 });
  await expect(page.getByTestId('box')).toBeVisible();
  await page.mouse.up();
  await page.keyboard.up('Control');
  const beads = page.getByTestId('sweep').getByRole('button', { name: /^Keyframe/ });
  await expect(beads.and(page.locator('[aria-pressed=true]'))).toHaveCount(3);
  // Stretched about the playhead at 3 s to one and a half.
  await page.getByRole('button', { name: 'More for keyframes' }).click();
  await page.getByRole('textbox', { name: 'Stretch to, in per cent' }).fill('50');
  await page.getByRole('textbox', { name: 'Stretch to, in per cent' }).press('Enter');
  await page.getByRole('button', { name: 'Stretch', exact: true }).click();
  await page.keyboard.press('Escape');
  const times = async () => (await saved(page), (await kept<TakeDocument>(takeOf(page))).path.pan!.map((k) => k.time));
  await expect.poll(times).toEqual([2, 2.5, 3, 6]);
  const undo = page.getByRole('button', { name: 'Undo', exact: true });
  await expect(undo).toHaveAttribute('title', 'Undo: move 2 keys (Ctrl Z)');
  // One bead takes the others that are selected along.
  await dragBy(page, beads.nth(1), 0, (sweep.height / 9) * 0.5);
  await expect.poll(async () => (await times())[0]!).toBeCloseTo(2.5, 1);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect.poll(times).toEqual([1, 2, 3, 6]);

  // With the sound's beats in sight a bead catches on them, though it is dragged a little past.
  const [lanes, sound] = [page.getByRole('group', { name: 'Lanes' }), page.getByTestId('beats')];
  await lanes.getByRole('button', { name: 'Sound' }).click();
  await expect(sound.locator('line')).toHaveCount(18);
  await expect(page.getByText('120 beats/min')).toBeVisible();
  // The Sweep has another height with another lane beside it.
  const { height } = (await page.getByTestId('sweep').boundingBox())!;
  await dragBy(page, beads.nth(3), 0, (-height / 9) * 0.5 + 4);
  await expect.poll(times).toEqual([1, 2, 3, 5.5]);
  await page.keyboard.press('Control+z');
  await lanes.getByRole('button', { name: 'Sound' }).click();

  // Onto ten takes at once.
  const mine = takeOf(page);
  const others = await page.evaluate(async (id) => {
    const post = async () =>
      (
        (await (
          await fetch(`/takes/${id}`, {
            method: 'POST',
            headers: { 'content-type': 'application/json' },
            body: '{"intent":"duplicate"}',
          })
        ).json()) as { id: string }
      ).id;
    const made: string[] = [];
    for (let i = 0; i < 10; i++) made.push(await post());
    return made;
  }, mine);
  await page.keyboard.press('Control+a');
  await page.keyboard.press('Shift+D');
  await saved(page);
  await page.getByRole('button', { name: 'More for keyframes' }).click();
  await page.getByRole('menuitem', { name: 'Paste onto other takes…' }).click();
  const dialog = page.getByRole('dialog');
  const rows = dialog.getByRole('checkbox', { name: /ride, take \d+.*ride|ride.*v\d|take 1.*ride/i });
  await expect.poll(() => rows.count()).toBeGreaterThanOrEqual(10);
  await dialog.getByRole('checkbox', { name: /^All \d+/ }).check();
  await dialog.getByRole('button', { name: /^Paste onto \d+/ }).click();
  await expect(page.getByText(/^Pasted onto \d+ takes/)).toBeVisible();
  for (const id of others) expect((await kept<TakeDocument>(id)).path.pan![0]!.value).toBeCloseTo(10.1, 6);
});

test('the camera is performed, over a part only; the old path stays beside it until it is kept', async ({ page }) => {
  await typeDial(page, 'Pan', 10);
  await goTo(page, 8);
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('keyframe-count')).toHaveText(/^2/);
  await saved(page);
  await goTo(page, 2);
  await part(page, 'Perform');
  await page.getByTestId('perform').click();
  await expect(page.getByTestId('countdown')).toBeVisible();
  await expect(page.getByTestId('performing')).toBeVisible({ timeout: 10_000 });
  await page.keyboard.down('d');
  const time = page.getByRole('textbox', { name: 'Time in seconds' });
  await expect.poll(async () => parseFloat(await time.inputValue()), { intervals: [50] }).toBeGreaterThan(3.5);
  await page.keyboard.up('d');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('performed')).toContainText(/\d+ keyframes, \d\.\d+° from what you steered/);
  await expect(page.getByTestId('tried-curve')).toBeVisible();
  // Nothing is taken yet.
  expect((await kept<TakeDocument>(takeOf(page))).path.pan!).toHaveLength(2);
  const off = Number((await page.getByTestId('performed').innerText()).match(/([\d.]+)°/)![1]);
  expect(off).toBeLessThanOrEqual(1.5);
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(page.getByTestId('tried')).toBeHidden();
  await saved(page);
  const { pan } = (await kept<TakeDocument>(takeOf(page))).path as { pan: Key[] };
  const inside = pan.filter((k) => k.time > 0 && k.time < 8);
  expect(inside.length).toBeGreaterThan(1);
  expect(inside.every((k) => k.time >= 2 && k.time < 6)).toBe(true);
  expect(Math.max(...inside.map((k) => k.value))).toBeGreaterThan(20);
  expect([pan[0]!.value, pan.at(-1)!.value]).toEqual([10, 10]);
});

test('wide and tall are framed side by side, and exported with one press at a pace that slows down', async ({
  page,
}) => {
  await typeDial(page, 'Pan', 30);
  await page.getByRole('button', { name: 'Formats and guides' }).click();
  await page.getByRole('menuitemcheckbox', { name: '9:16' }).click();
  await page.getByRole('menuitemcheckbox', { name: 'Side by side in the Frame' }).click();
  await page.getByRole('menuitemcheckbox', { name: 'Thirds' }).click();
  await page.getByRole('menuitemradio', { name: 'this format alone', exact: true }).click();
  await still(page);
  await expect(page.getByTestId('guides')).toHaveCount(2);
  // Dragged in the tall picture, only that one is corrected.
  const frame = (await page.getByTestId('frame').boundingBox())!;
  const [x, y] = [frame.x + frame.width * 0.9, frame.y + frame.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x - 40, y, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByRole('combobox', { name: 'Format', exact: true })).toHaveValue('9:16');
  const tall = await dialValue(page, 'Pan');
  expect(tall).toBeGreaterThan(33);
  await page.getByRole('combobox', { name: 'Format', exact: true }).selectOption('16:9');
  await expect(dial(page, 'Pan')).toHaveValue('30.0°');

  // The first two seconds, the second of them half as fast.
  await goTo(page, 1.967);
  await page.keyboard.press('o');
  await part(page, 'Pace');
  await goTo(page, 1);
  await page.getByRole('button', { name: '1×', exact: true }).click();
  await goTo(page, 2);
  await page.getByRole('button', { name: '0.5×', exact: true }).click();
  await page.getByRole('combobox', { name: 'Ease after speed 1' }).selectOption('linear');
  // A straight ramp from 1 to a half: its mean is three quarters.
  await expect(page.getByTestId('clip-length')).toContainText('0:02.33');
  await saved(page);
  await station(page, 'Export');
  await expect(page.getByText('70 frames')).toBeVisible();
  await page.getByRole('combobox', { name: 'Codec' }).selectOption('h264');
  await page.getByRole('button', { name: 'Export all 2 formats' }).click();
  const finished = page.getByRole('region', { name: 'Exports of this take' }).getByText('finished');
  await expect(finished).toHaveCount(2, { timeout: 300_000 });
  const id = takeOf(page);
  const files = await inData(
    async (db) => (await db('jobs').where({ kind: 'export', take_id: id })) as { id: string }[],
  );
  const facts = files.map(
    (f) =>
      JSON.parse(glimbo('probe', join(data, 'exports', `${f.id}.mp4`))) as {
        width: number;
        height: number;
        frames: number;
      },
  );
  expect(facts.map((f) => [f.width, f.height, f.frames]).sort()).toEqual([
    [1080, 1920, 70],
    [1920, 1080, 70],
  ]);
  await page.goto('/');
  await expect(card(page, 'ride')).toBeVisible();
});

test('what is too fast to be seen is told, blurred with one press, and looks as it is exported', async ({ page }) => {
  await goTo(page, 0.7);
  await typeDial(page, 'Pan', 10);
  await goTo(page, 1.3);
  await typeDial(page, 'Pan', 310);
  await part(page, 'Shape');
  const told = page.getByTestId('too-fast');
  await expect(told).toContainText('Too fast to be seen');
  await goTo(page, 1);
  await still(page);
  await frameShot(page, join(scratch, 'sharp.png'));
  await told.getByRole('button', { name: 'Blurred' }).click();
  await expect(told).toHaveCount(0);
  const shutter = page.getByRole('textbox', { name: 'Shutter in degrees' });
  await expect(shutter).toHaveValue('180°');
  await still(page);
  const { width, height } = await frameShot(page, join(scratch, 'browser.png'));
  await saved(page);
  const proxy = await inData(async (db) => (await db('footage').where({ name: 'ride' }).first()) as { id: string });
  const document = join(scratch, 'blurred.json');
  const footage = join(data, 'footage', proxy.id, 'proxy.mp4');
  writeFileSync(document, JSON.stringify({ ...(await kept<TakeDocument>(takeOf(page))), footage }));
  glimbo('frame', document, '--time', '1', '--size', `${width}x${height}`, '--out', join(scratch, 'engine.png'));
  expect(psnr(join(scratch, 'browser.png'), join(scratch, 'engine.png'))).toBeGreaterThan(38);
  expect(psnr(join(scratch, 'sharp.png'), join(scratch, 'engine.png'))).toBeLessThan(32);
  await page.getByTitle('Undo: look (Ctrl Z)').click();
  await expect(told).toBeVisible();
});

test.describe('with fingers too', () => {
  test.use({ hasTouch: true });

  test('a pan is drawn onto the Sweep, two fingers zoom, and path and moves go out to files and come back', async ({
    page,
    context,
  }) => {
    await typeDial(page, 'Pan', 20);
    const sweep = page.getByTestId('sweep');
    const box = (await sweep.boundingBox())!;
    const place = (pan: number, t: number) =>
      [box.x + (pan / 360 + 0.5) * box.width, box.y + (t / 9) * box.height] as const;
    await page.keyboard.down('Shift');
    await page.mouse.move(...place(20, 1));
    await page.mouse.down();
    for (let i = 1; i <= 20; i++) await page.mouse.move(...place(20 + 60 * Math.sin(i / 6), 1 + i / 5));
    await page.mouse.up();
    await page.keyboard.up('Shift');
    await expect(page.getByTestId('tried')).toContainText(/\d+ keyframes, \d\.\d° from what was drawn/);
    await page.getByTestId('tried').getByRole('button', { name: 'Keep (Enter)' }).click();
    await expect(page.getByTestId('keyframe-count')).toHaveText(/^([4-9]|1\d)/);

    // Two fingers that come apart zoom in.
    const fov = await dialValue(page, 'Field of view');
    const frame = (await page.getByTestId('frame').boundingBox())!;
    const [cx, cy] = [frame.x + frame.width / 2, frame.y + frame.height / 2];
    const touch = await context.newCDPSession(page);
    const fingers = (apart: number) => [
      { x: cx - apart, y: cy, id: 0 },
      { x: cx + apart, y: cy, id: 1 },
    ];
    await touch.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: fingers(40) });
    for (const apart of [50, 60, 70, 80])
      await touch.send('Input.dispatchTouchEvent', { type: 'touchMove', touchPoints: fingers(apart) });
    await touch.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
    await expect.poll(() => dialValue(page, 'Field of view')).toBeLessThan(fov * 0.75);

    // The path as a file, and back after all of it was removed.
    const more = () => page.getByRole('button', { name: 'More for keyframes' }).click();
    await more();
    const [csv] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('menuitem', { name: 'Save the path as CSV' }).click(),
    ]);
    const saveTo = join(scratch, 'path.csv');
    await csv.saveAs(saveTo);
    await saved(page);
    const before = (await kept<TakeDocument>(takeOf(page))).path;
    await page.keyboard.press('Control+a');
    await page.keyboard.press('Delete');
    await expect(page.getByTestId('keyframe-count')).toHaveText('Keyframes');
    await more();
    const [chooser] = await Promise.all([
      page.waitForEvent('filechooser'),
      page.getByRole('menuitem', { name: 'Read a path from CSV…' }).click(),
    ]);
    await chooser.setFiles(saveTo);
    await expect(page.getByText("The path of path.csv is the take's now.")).toBeVisible();
    await saved(page);
    expect((await kept<TakeDocument>(takeOf(page))).path.pan).toEqual(before.pan);

    // What is selected is kept as a move, put elsewhere, and saved.
    await page.keyboard.press('Control+a');
    await part(page, 'Moves');
    await page.getByRole('button', { name: 'Keep selected' }).click();
    await expect(page.getByRole('textbox', { name: 'Name of Move 1' })).toBeVisible();
    const [move] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: 'Save Move 1 as a file' }).click(),
    ]);
    expect(move.suggestedFilename()).toBe('Move 1.glimbo-move.json');
    await page.getByRole('button', { name: 'Remove Move 1' }).click();
    await expect(page.getByRole('textbox', { name: 'Name of Move 1' })).toBeHidden();
    await page.getByRole('button', { name: 'Undo' }).last().click();
    await expect(page.getByRole('textbox', { name: 'Name of Move 1' })).toBeVisible();
  });
});
