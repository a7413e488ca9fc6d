/** The Level station in the real application, on footage that was carried by hand, upside down. */
import { join } from 'node:path';
import { expect, test, type Page } from './test';
import {
  card,
  dialValue,
  ffmpeg,
  footage,
  footageCount,
  frameShot,
  gather,
  goTo,
  openTake,
  part,
  psnr,
  saved,
  scratch,
  station,
  still,
  typeDial,
} from './helpers';

const frame = (page: Page) => page.getByTestId('frame');

/** PSNR of the middle of two pictures of the Frame. */
function middleAlike(a: string, b: string) {
  const cut = (file: string) => {
    const out = file.replace('.png', '-middle.png');
    ffmpeg('-i', file, '-vf', 'crop=40:40', out);
    return out;
  };
  return psnr(cut(a), cut(b), 0);
}

test.describe.configure({ mode: 'serial' });

test.beforeEach(async ({ page }) => {
  await page.goto('/');
  // The cards are drawn a moment after the page: asked too early, the clip would be sent once more.
  if ((await footageCount(page)) > 0) await page.getByTestId('footage').first().waitFor();
  if ((await card(page, 'bridge').count()) > 0) return;
  await gather(page, footage('bridge.mp4', 1, 3, 'footbridge-carry'));
});

/** Opens a new take of the footage at the Level station. */
async function atLevel(page: Page) {
  await openTake(page, 'bridge');
  await station(page, 'Level');
}

test('the motion is analysed with progress, upside down is proposed, and the framing is kept with one undo', async ({
  page,
}) => {
  await openTake(page, 'bridge');
  await typeDial(page, 'Pan', 40);
  await goTo(page, 1);
  await page.keyboard.press('Enter');
  await station(page, 'Level');
  await part(page, 'Steady');
  await expect(page.getByText('Steadying needs to know how the rig moved')).toBeVisible();
  await part(page, 'Motion');
  await page.getByRole('button', { name: 'Analyse the motion' }).click();
  await expect(page.getByTestId('analysing')).toBeVisible();
  await expect(page.getByTestId('motion-state')).toContainText('Analysed: quick', { timeout: 90_000 });
  await page.getByRole('group', { name: 'Lanes' }).getByRole('button', { name: 'Motion' }).click();
  await expect(page.getByTestId('motion-lane')).toBeVisible();

  await part(page, 'Orient');
  await expect(page.getByText('Up is not on top')).toBeVisible();
  const before = join(scratch, 'level-before.png');
  const after = join(scratch, 'level-after.png');
  await frameShot(page, before);
  await page.getByText('Up is not on top').getByRole('button').click();
  await expect(page.getByRole('radio', { name: 'Upside down' })).toBeChecked();
  await expect(page.getByText('Up is not on top')).toBeHidden();
  await frameShot(page, after);
  // The same thing is in the middle, the other way up.
  ffmpeg('-i', after, '-vf', 'hflip,vflip', join(scratch, 'level-over.png'));
  expect(middleAlike(before, join(scratch, 'level-over.png'))).toBeGreaterThan(28);
  expect(middleAlike(before, after)).toBeLessThan(25);
  await station(page, 'Path');
  expect(await dialValue(page, 'Pan')).toBeCloseTo(-40, 0);
  await page.getByRole('button', { name: 'Undo' }).click();
  expect(await dialValue(page, 'Pan')).toBeCloseTo(40, 1);
  await station(page, 'Level');
  await expect(page.getByRole('radio', { name: 'Upright' })).toBeChecked();
  await page.getByRole('button', { name: 'Redo' }).click();

  // Without keeping the framing the dials keep their numbers.
  await page.getByRole('checkbox', { name: 'Keep the framing' }).uncheck();
  await page.getByRole('radio', { name: 'Left side' }).click();
  await station(page, 'Path');
  expect(await dialValue(page, 'Pan')).toBeCloseTo(-40, 0);
});

test('steadying changes the Frame at once, can be seen before and after, and survives a reload', async ({ page }) => {
  await atLevel(page);
  await page.getByRole('radio', { name: 'Upside down' }).click();
  await part(page, 'Steady');
  await goTo(page, 2.4);
  await still(page);
  const filmed = join(scratch, 'filmed.png');
  const steadied = join(scratch, 'steadied.png');
  await frameShot(page, filmed);
  // Where it is switched on the framing is kept; elsewhere the rig's turning is gone from the picture.
  await goTo(page, 1.2);
  await page.getByRole('radio', { name: 'Still' }).click();
  await goTo(page, 2.4);
  await frameShot(page, steadied);
  expect(psnr(filmed, steadied)).toBeLessThan(25);

  await page.getByRole('radio', { name: 'Rolling' }).click();

  // B, held, shows it as it was filmed.
  await frame(page).focus();
  await page.keyboard.down('b');
  await expect(page.getByTestId('as-filmed')).toBeVisible();
  await page.keyboard.up('b');
  await expect(page.getByTestId('as-filmed')).toBeHidden();

  await part(page, 'Before and after');
  const [before, after] = (await page.getByTestId('jitter').innerText()).match(/\d+/g)!.map(Number) as [number, number];
  expect(before).toBeGreaterThan(50);
  expect(after).toBeLessThan(before * 0.1);
  await page.getByRole('radio', { name: 'Both, with' }).click();
  const line = page.getByRole('slider', { name: 'Line between unsteadied and steadied' });
  await expect(line).toHaveAttribute('aria-valuenow', '50');
  await line.focus();
  await page.keyboard.press('ArrowLeft');
  await expect(line).toHaveAttribute('aria-valuenow', '48');
  const box = (await frame(page).boundingBox())!;
  await page.getByRole('radio', { name: 'Side by side' }).click();
  await expect.poll(async () => (await frame(page).boundingBox())!.height).toBeLessThan(box.height * 0.7);
  // Elsewhere the Frame shows what is exported.
  await station(page, 'Export');
  await expect.poll(async () => (await frame(page).boundingBox())!.height).toBeCloseTo(box.height, 0);
  await station(page, 'Level');
  await page.getByRole('radio', { name: 'After', exact: true }).click();

  await part(page, 'Steady');
  await page.getByRole('textbox', { name: 'Strength value' }).fill('50');
  await page.getByRole('textbox', { name: 'Strength value' }).press('Enter');
  await saved(page);
  await page.reload();
  await expect(page.getByRole('radio', { name: 'Rolling' })).toBeChecked();
  await expect(page.getByRole('textbox', { name: 'Strength value' })).toHaveValue('50 %');
  // Undo reaches back across the reload.
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('textbox', { name: 'Strength value' })).toHaveValue('100 %');
});

test('pins are proposed, added, given a kind, moved and removed', async ({ page }) => {
  await atLevel(page);
  await part(page, 'Steady');
  await page.getByRole('radio', { name: 'Pinned' }).click();
  const rows = page.getByTestId('pin-row');
  await expect(rows.first()).toBeVisible();
  const proposed = await rows.count();
  await goTo(page, 2.9);
  await page.getByRole('button', { name: 'Pin here' }).click();
  await expect(rows).toHaveCount(proposed + 1);
  await rows.last().getByRole('combobox').selectOption('still');
  await goTo(page, 2.7);
  await rows.last().getByRole('button', { name: 'Move here' }).click();
  await expect(rows.last()).toContainText('0:02.70');
  await rows
    .last()
    .getByRole('button', { name: /^Remove the pin/ })
    .click();
  await expect(rows).toHaveCount(proposed);
  await page.getByRole('radio', { name: 'Still' }).click();
  await expect(page.getByRole('combobox', { name: 'Heading follows' })).toHaveValue('world');
  await page.getByRole('button', { name: 'As in this frame' }).click();
  await expect(page.getByRole('button', { name: 'As in this frame' })).toBeDisabled();
});

test('the horizon is put straight by dragging, by numbers and by proposals, and goes to another take', async ({
  page,
}) => {
  await atLevel(page);
  await page.getByRole('radio', { name: 'Upside down' }).click();
  await part(page, 'Horizon');
  await goTo(page, 1);
  await still(page);
  const keys = page.getByTestId('level-key');
  // In the Frame, near its left end: the line turns about the other end.
  const box = (await frame(page).boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.15, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.15, box.y + box.height / 2 + 30, { steps: 4 });
  await page.mouse.up();
  await expect(keys).toHaveCount(1);
  const roll = page.getByRole('textbox', { name: 'Roll of the horizon' });
  const leaning = parseFloat((await roll.inputValue()).replace('−', '-'));
  expect(Math.abs(leaning)).toBeGreaterThan(1);
  await roll.fill('2.5');
  await roll.press('Enter');
  await expect(keys).toContainText('2.5°');

  // The middle of the longest stretch without one; then what the picture proposes.
  await page.getByRole('button', { name: 'Next middle' }).click();
  await expect(page.getByRole('textbox', { name: 'Time in seconds' })).not.toHaveValue('1.000 s');
  await expect(page.getByTestId('proposal')).toContainText('% sure');
  await page.getByTestId('proposal').getByRole('button', { name: 'Accept' }).click();
  await expect(keys).toHaveCount(2);
  await page
    .getByRole('button', { name: /^Remove the level key/ })
    .first()
    .click();
  await expect(keys).toHaveCount(1);

  // On the Map.
  await goTo(page, 0.5);
  const map = (await page.getByTestId('map').boundingBox())!;
  await page.mouse.move(map.x + map.width * 0.85, map.y + map.height / 2);
  await page.mouse.down();
  await page.mouse.move(map.x + map.width * 0.85, map.y + map.height / 2 + 8, { steps: 4 });
  await page.mouse.up();
  await expect(keys).toHaveCount(2);

  // On the Sweep: one dragged past the other leaves it alone, and is one undo step.
  const marks = page.getByTestId('level-marks').getByRole('button');
  const names = await marks.evaluateAll((all) => all.map((m) => m.getAttribute('aria-label')));
  const [upper, lower] = [(await marks.first().boundingBox())!, (await marks.last().boundingBox())!];
  await page.mouse.move(lower.x + 10, lower.y + lower.height / 2);
  await page.mouse.down();
  await page.mouse.move(lower.x + 10, upper.y + upper.height / 2 - 40, { steps: 120 });
  await page.mouse.up();
  await expect(marks).toHaveCount(2);
  await expect(marks.last()).toHaveAttribute('aria-label', names[0]!);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(marks.last()).toHaveAttribute('aria-label', names[1]!);

  await page.getByRole('button', { name: 'Level the whole take' }).click();
  await expect(page.getByText(/level keys were set/)).toBeVisible();
  const all = await keys.count();
  expect(all).toBeGreaterThan(2);
  await page.getByRole('button', { name: 'Copy keys' }).click();
  await saved(page);
  await atLevel(page);
  await part(page, 'Horizon');
  await expect(keys).toHaveCount(0);
  await page.getByRole('button', { name: 'Paste keys' }).click();
  await expect(keys).toHaveCount(all);
});

test('what is under the pointer becomes ahead, and the mount is turned by dragging', async ({ page }) => {
  await atLevel(page);
  const box = (await frame(page).boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.75, box.y + box.height * 0.5);
  await frame(page).focus();
  await page.keyboard.press('x');
  const heading = page.getByRole('textbox', { name: 'Heading of ahead' });
  await expect.poll(async () => parseFloat(await heading.inputValue())).toBeGreaterThan(5);
  await station(page, 'Path');
  expect(await dialValue(page, 'Pan')).toBeLessThan(-5);
  await station(page, 'Level');
  await page.getByRole('button', { name: 'Turn it by dragging' }).click();
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 60, box.y + box.height / 2, { steps: 4 });
  await page.mouse.up();
  const pan = page.getByRole('textbox', { name: 'Mount pan value' });
  await expect.poll(async () => Math.abs(parseFloat((await pan.inputValue()).replace('−', '-')))).toBeGreaterThan(3);
});

test('the analysis is corrected by hand, and a table that is no sidecar is refused in words', async ({ page }) => {
  await atLevel(page);
  await part(page, 'Motion');
  await goTo(page, 2);
  await page.getByRole('button', { name: 'A cut is here' }).click();
  await expect(page.getByTestId('cut')).toHaveCount(1);
  await page.getByRole('button', { name: 'It does not' }).click();
  await expect(page.getByTestId('cut')).toHaveCount(0);
  await page.getByRole('button', { name: 'Do not trust' }).click();
  await expect(page.getByTestId('bad')).toHaveCount(1);
  await page.getByTestId('bad').getByRole('button', { name: 'Trust it' }).click();
  await expect(page.getByTestId('bad')).toHaveCount(0);
  await page
    .getByLabel('Motion sidecar file')
    .setInputFiles({ name: 'notes.csv', mimeType: 'text/csv', buffer: Buffer.from('day,visitors\n1,200\n') });
  await expect(page.getByText(/not a motion sidecar/)).toBeVisible();
  await expect(page.getByTestId('motion-state')).toContainText('Analysed: quick');
});

test('a motion sidecar of the whole walk is fitted to the piece of it, and levels by gravity', async ({ page }) => {
  await atLevel(page);
  await part(page, 'Motion');
  await page.getByLabel('Motion sidecar file').setInputFiles('packages/demo/clips/footbridge-carry.motion.csv');
  await expect(page.getByRole('combobox', { name: 'Motion sidecar' })).toHaveValue('replace');
  await page.getByRole('button', { name: 'Analyse again' }).click();
  await expect(page.getByTestId('motion-state')).toContainText('Analysed: sidecar', { timeout: 90_000 });
  await part(page, 'Horizon');
  await expect(page.getByTestId('proposal')).toContainText('100 % sure');
});

test('a changed stitch makes the analysis void: it says so, the old one stays, and it can be run again', async ({
  page,
}) => {
  await atLevel(page);
  await station(page, 'Source');
  await part(page, 'Stitch');
  const stereo = page.getByRole('combobox', { name: 'Stereo' });
  await stereo.selectOption('over-under first');
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByRole('button', { name: 'Undo the last change' })).toBeVisible({ timeout: 60_000 });
  await station(page, 'Level');
  await part(page, 'Motion');
  await expect(page.getByTestId('motion-state')).toContainText('has changed since the analysis. It is still used');
  await page.getByRole('group', { name: 'Lanes' }).getByRole('button', { name: 'Motion' }).click();
  await expect(page.getByTestId('motion-before').first()).toBeAttached();
  await page.getByRole('button', { name: 'Analyse again' }).click();
  await expect(page.getByTestId('motion-state')).toContainText(/Analysed/, { timeout: 240_000 });
});

test('where the picture does not tell up nothing is proposed, and it leads to what is left to be done by hand', async ({
  page,
}) => {
  const fog = join(scratch, 'fog.mp4');
  ffmpeg(
    '-f',
    'lavfi',
    '-i',
    'color=c=0x878b90:s=1024x512:d=3:r=30',
    '-vf',
    'noise=alls=6:allf=t:all_seed=1',
    '-pix_fmt',
    'yuv420p',
    fog,
  );
  await page.goto('/');
  await gather(page, fog);
  await openTake(page, 'fog');
  await station(page, 'Level');
  await part(page, 'Motion');
  await page.getByRole('button', { name: 'Analyse the motion' }).click();
  await expect(page.getByTestId('motion-state')).toContainText('Analysed: quick', { timeout: 90_000 });
  await part(page, 'Horizon');
  await expect(page.getByTestId('unsure')).toContainText('The picture does not tell where up is here');
  await expect(page.getByRole('button', { name: 'Accept' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Level the whole take' }).click();
  await expect(page.getByText('Nowhere does the picture tell surely where up is')).toBeVisible();
  await expect(page.getByTestId('unsure-stretch')).toBeVisible();
  // What was left alone is still told of after a reload.
  await page.reload();
  await expect(page.getByTestId('unsure-stretch')).toBeVisible();
  await station(page, 'Level');
  await part(page, 'Horizon');
  await page.getByRole('button', { name: 'Next unsure stretch' }).click();
  await expect(page.getByRole('textbox', { name: 'Time in seconds' })).toHaveValue(/^1\.[45]/);
  const roll = page.getByRole('textbox', { name: 'Roll of the horizon' });
  await roll.fill('4');
  await roll.press('Enter');
  await expect(page.getByTestId('unsure-stretch')).toHaveCount(0);
});
