/** Cutting live between Lookouts, several in one picture, laying them onto other takes; and a Sketch, taken in part. */
import { expect, test, type Page } from './test';
import { join } from 'node:path';
import {
  dialValue,
  exportClip,
  ffmpeg,
  footage,
  frameShot,
  gather,
  goTo,
  inData,
  kept,
  openTake,
  part,
  psnr,
  saved,
  scratch,
  still,
  takeOf,
  typeDial,
} from './helpers';

interface Kept {
  lookouts?: { views: { name: string }[]; cuts: { time: number; shows: { layout: string; views: number[] } | null }[] };
  path: { pan: { time: number }[] | number };
}
const document = (page: Page) => kept<Kept>(takeOf(page));
const cutsOf = async (page: Page) =>
  (await document(page)).lookouts?.cuts.map((c) => c.shows?.views.map((v) => v + 1).join('') ?? 'path') ?? [];

const time = async (page: Page) =>
  parseFloat(await page.getByRole('textbox', { name: 'Time in seconds' }).inputValue());
const playedTo = (page: Page, seconds: number) =>
  expect.poll(() => time(page), { intervals: [30], timeout: 30_000 }).toBeGreaterThan(seconds);

/** A picture of a clip at a time, as large as the Frame is. */
function picture(clip: string, at: number, { width, height }: { width: number; height: number }): string {
  const file = join(scratch, `lookouts-${at}.png`);
  ffmpeg('-ss', String(at), '-i', clip, '-frames:v', '1', '-vf', `scale=${width}:${height}:flags=area`, file);
  return file;
}

/** The middle of a quarter of a picture, by the shares at which it begins. */
function part4(file: string, x: number, y: number): string {
  const out = file.replace(/\.png$/, `-${x}-${y}.png`);
  ffmpeg('-i', file, '-vf', `crop=iw*0.44:ih*0.44:iw*${x}:ih*${y}`, out);
  return out;
}

test('four Lookouts are cut live, put right, shown at once, laid onto other takes and exported', async ({ page }) => {
  await gather(page, footage('lookouts.mp4', 2, 8));
  // Two more takes that they are laid onto.
  for (let i = 0; i < 2; i++) await openTake(page, 'lookouts');
  await openTake(page, 'lookouts');
  await part(page, 'Lookouts');
  await page.getByRole('button', { name: 'Front, right, back and left' }).click();
  const cells = page.getByTestId('lookout-cell');
  await expect(cells).toHaveCount(4);
  await still(page);

  // A cell is dragged: that Lookout turns, the path stays.
  const cell = (await cells.nth(1).boundingBox())!;
  await page.mouse.move(cell.x + cell.width / 2, cell.y + cell.height / 2);
  await page.mouse.down();
  await page.mouse.move(cell.x + cell.width / 2 - 60, cell.y + cell.height / 2, { steps: 5 });
  await page.mouse.up();
  expect(await dialValue(page, 'Pan')).toBeGreaterThan(95);
  await typeDial(page, 'Pan', 90);

  // Live: each number lasts until the next, and what is on air has a rim.
  await goTo(page, 0.5);
  await page.getByRole('button', { name: 'Work on Front' }).click();
  await page.keyboard.press('Space');
  await playedTo(page, 1.2);
  await page.keyboard.press('2');
  await expect(cells.nth(1)).toHaveAttribute('data-on-air', 'yes');
  await playedTo(page, 2.6);
  await page.keyboard.press('3');
  await playedTo(page, 4);
  await page.keyboard.press('Space');
  await expect(page.getByTestId('cut-piece')).toHaveCount(3);
  await saved(page);
  expect(await cutsOf(page)).toEqual(['2', '3', 'path']);

  // One part is cut again: only that part is another one. Then it is undone.
  // Wherever a busy machine let it begin and end.
  const [, third, after] = (await document(page)).lookouts!.cuts;
  await goTo(page, (third!.time + after!.time) / 2);
  await page.keyboard.press('4');
  await saved(page);
  expect(await cutsOf(page)).toEqual(['2', '3', '4', 'path']);
  await page.keyboard.press('Control+z');
  await saved(page);
  expect(await cutsOf(page)).toEqual(['2', '3', 'path']);

  // Four at once from 5 s on, with a line between.
  await page.getByRole('radio', { name: 'On air' }).click();
  await goTo(page, 5);
  await page.getByRole('button', { name: 'Four', exact: true }).click();
  await page.getByRole('textbox', { name: 'Width of the line between' }).fill('2');
  await page.getByRole('textbox', { name: 'Width of the line between' }).press('Enter');
  await saved(page);
  expect(await cutsOf(page)).toEqual(['2', '3', 'path', '1234']);
  const shots: [at: number, shot: string, size: { width: number; height: number }][] = [];
  for (const at of [2, 6]) {
    await goTo(page, at);
    const shot = join(scratch, `lookouts-frame-${at}.png`);
    shots.push([at, shot, await frameShot(page, shot)]);
  }

  // Laid onto the other two takes: the views, without the cuts.
  await page.getByRole('button', { name: 'To other takes' }).click();
  const dialog = page.getByRole('dialog');
  const others = dialog.getByRole('group', { name: 'Takes' }).locator('label').filter({ hasText: 'lookouts, take' });
  await expect(others).toHaveCount(2);
  for (const other of await others.all()) await other.getByRole('checkbox').check();
  await dialog.getByRole('button', { name: 'Paste onto 2' }).click();
  await expect(page.getByText('Pasted onto 2 takes')).toBeVisible();
  const laid = await inData(async (db) => {
    const own = (await db('takes')
      .where({ id: takeOf(page) })
      .first()) as { footage_id: string };
    return (await db('takes')
      .where({ footage_id: own.footage_id })
      .whereNot({ id: takeOf(page) })) as { id: string }[];
  });
  for (const { id } of laid) {
    const { lookouts } = await kept<Kept>(id);
    expect(lookouts!.views.map((v) => v.name)).toEqual(['Front', 'Right', 'Back', 'Left']);
    expect(lookouts!.cuts).toEqual([]);
  }

  // The clip is what was seen.
  const clip = await exportClip(page, 960, 540);
  for (const [at, shot, size] of shots) {
    const exported = picture(clip, at, size);
    // Each quarter without its rim: the line between lies over the Frame, and in the clip's picture.
    for (const [x, y] of [
      [0.03, 0.03],
      [0.53, 0.03],
      [0.03, 0.53],
      [0.53, 0.53],
    ] as const)
      expect(psnr(part4(shot, x, y), part4(exported, x, y)), `at ${at} s, ${x}, ${y}`).toBeGreaterThan(28);
  }
  const line = ffmpeg(
    '-ss',
    '6',
    '-i',
    clip,
    '-frames:v',
    '1',
    '-vf',
    'crop=4:4:(iw-4)/2:ih/4',
    '-pix_fmt',
    'gray',
    '-f',
    'rawvideo',
    '-',
  );
  expect(Math.min(...line)).toBeGreaterThan(220);
});

test('a Sketch is proposed, a part of it taken by dragging, and the rest left; first cuts are made from the Library', async ({
  page,
}) => {
  await gather(page, footage('sketched.mp4', 3, 8));
  await openTake(page, 'sketched');
  await part(page, 'Sketch');
  await page.getByRole('button', { name: 'Propose a path' }).click();
  const line = page.getByTestId('sketch-line');
  await expect(line).toBeAttached({ timeout: 30_000 });
  await expect(page.getByRole('list', { name: 'Why here' }).getByRole('listitem').first()).toBeVisible();
  const before = (await document(page)).path.pan;
  expect(Array.isArray(before) && before.length > 0).toBe(false);

  // Dragged along from where it begins to the middle.
  const sweep = (await page.getByTestId('sweep').boundingBox())!;
  const d = (await line.getAttribute('d'))!;
  const [x, y] = d
    .match(/M\s*(-?[\d.]+)[ ,]+(-?[\d.]+)/)!
    .slice(1)
    .map(Number) as [number, number];
  await page.mouse.move(sweep.x + x, sweep.y + y + 8);
  await page.mouse.down();
  await page.mouse.move(sweep.x + x, sweep.y + y + 140, { steps: 6 });
  await page.mouse.up();
  await saved(page);
  const taken = (await document(page)).path.pan as { time: number }[];
  expect(taken.length).toBeGreaterThanOrEqual(2);
  expect(taken.at(-1)!.time).toBeLessThan(6);
  await page.keyboard.press('Control+z');
  await page.getByRole('button', { name: 'Take it', exact: true }).click();
  await expect(page.getByTestId('sketch-on-sweep')).toHaveCount(0);
  await saved(page);
  expect(((await document(page)).path.pan as { time: number }[]).at(-1)!.time).toBeGreaterThan(7);

  await page.goto('/');
  await page.getByRole('button', { name: 'First cuts' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('checkbox', { name: /^All \d/ }).uncheck();
  await dialog.locator('label').filter({ hasText: 'sketched' }).getByRole('checkbox').check();
  await dialog.getByRole('button', { name: 'Make 1 take' }).click();
  await expect(page.getByTestId('take').filter({ hasText: 'First cut' })).toHaveCount(1, { timeout: 60_000 });
});
