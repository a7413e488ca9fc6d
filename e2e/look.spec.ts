/** Giving a take a look: light, colour, LUTs and moods, detail, the Meter, overlays; what is seen is what is exported. */
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Page } from './test';
import {
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
  kept,
  openTake,
  part,
  proxyOfTake,
  psnr,
  saved,
  scratch,
  station,
  still,
  takeOf,
  typeDial,
} from './helpers';

/** The look of a take as it is kept. */
const lookOf = async (page: Page, id = takeOf(page)) => (await kept<{ look?: Record<string, unknown> }>(id)).look;

/** The Frame as one sees it, with what lies over it. */
async function frameSeen(page: Page, file: string) {
  const size = await frameShot(page, file);
  const url = await page.getByTestId('frame').evaluate(async (canvas: HTMLCanvasElement) => {
    const out = Object.assign(document.createElement('canvas'), { width: canvas.width, height: canvas.height });
    const context = out.getContext('2d')!;
    context.drawImage(canvas, 0, 0);
    const svg = document.querySelector('[data-testid=overlays] svg');
    if (!svg) return out.toDataURL();
    let text = svg.outerHTML;
    for (const [, href] of text.matchAll(/ href="([^"]+)"/g)) {
      const blob = await (await fetch(href!)).blob();
      const inlined = await new Promise<string>((resolve) => {
        const reader = Object.assign(new FileReader(), { onload: () => resolve(reader.result as string) });
        reader.readAsDataURL(blob);
      });
      text = text.replaceAll(href!, inlined);
    }
    const image = new Image();
    image.src = `data:image/svg+xml,${encodeURIComponent(text)}`;
    await image.decode();
    context.drawImage(image, 0, 0, out.width, out.height);
    return out.toDataURL();
  });
  writeFileSync(file, Buffer.from(url.split(',')[1]!, 'base64'));
  return size;
}

/** The engine's still of the take as it is kept, at a size; its LUTs and pictures lie beside it. */
async function engineStill(page: Page, time: number, size: { width: number; height: number }, out: string) {
  await saved(page);
  const document = join(data, 'materials', 'seen.json');
  writeFileSync(document, JSON.stringify({ ...(await kept<object>(takeOf(page))), footage: await proxyOfTake(page) }));
  glimbo('frame', document, '--time', String(time), '--size', `${size.width}x${size.height}`, '--out', out);
}

/** How near the Frame comes to the engine's still, in dB. */
async function nearness(page: Page, time: number): Promise<number> {
  const [seen, engine] = [join(scratch, 'look-seen.png'), join(scratch, 'look-engine.png')];
  await still(page);
  const size = await frameSeen(page, seen);
  await engineStill(page, time, size, engine);
  return psnr(seen, engine);
}

/** A LUT that makes all of it bluer. */
function lutFile(name: string, text?: string) {
  const file = join(scratch, name);
  const rows = [0, 1].flatMap((b) =>
    [0, 1].flatMap((g) => [0, 1].map((r) => `${0.8 * r} ${0.9 * g} ${0.15 + 0.85 * b}`)),
  );
  writeFileSync(file, text ?? `TITLE "Blue hour"\nLUT_3D_SIZE 2\n${rows.join('\n')}\n`);
  return file;
}

async function choose(page: Page, button: string, file: string) {
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('tabpanel').getByRole('button', { name: button }).click(),
  ]);
  await chooser.setFiles(file);
}

test.beforeEach(async ({ page }) => {
  await page.goto('/');
  if ((await page.getByTestId('footage').filter({ hasText: 'shade' }).count()) === 0) {
    footage('shade.mp4', 6, 5, 'ridge-loop');
    await gather(page, join(scratch, 'shade.mp4'));
  }
  await openTake(page, 'shade');
  await station(page, 'Look');
});

test('light, colour, a LUT, a mood and detail: the Frame is what the engine makes, and all of it goes to another take', async ({
  page,
}) => {
  const plain = join(scratch, 'look-plain.png');
  await frameShot(page, plain);
  await typeDial(page, 'Exposure', 0.5);
  await typeDial(page, 'Shadows', 30);
  // The same on the curve, by key.
  await page.getByRole('slider', { name: 'Contrast on the curve' }).press('ArrowUp');
  await expect(dial(page, 'Contrast')).toHaveValue('2');
  expect(await nearness(page, 0)).toBeGreaterThan(42);
  expect(psnr(plain, join(scratch, 'look-engine.png'))).toBeLessThan(25);

  await part(page, 'Colour');
  await typeDial(page, 'Temperature', -20);
  await choose(page, 'Read .cube or .cdl', lutFile('Blue hour.cube'));
  await expect(page.getByTestId('lut-name')).toHaveText('Blue hour.cube');
  expect(await nearness(page, 0)).toBeGreaterThan(42);
  await page.getByRole('button', { name: 'Coal smoke' }).click();
  await page.getByRole('textbox', { name: 'Amount of the mood' }).fill('60');
  await page.getByRole('textbox', { name: 'Amount of the mood' }).press('Enter');
  expect(await nearness(page, 0)).toBeGreaterThan(42);

  await part(page, 'Detail');
  await typeDial(page, 'Clarity', 50);
  await typeDial(page, 'Sharpening', 90);
  expect(await nearness(page, 0)).toBeGreaterThan(40);

  // Before, on the left of the line and with B held, is the picture as it was.
  await part(page, 'Light');
  await page.getByRole('button', { name: 'Before and after' }).click();
  await expect(page.getByRole('slider', { name: 'Line between before and after the look' })).toBeVisible();
  await page.getByRole('button', { name: 'Before and after' }).click();
  await page.keyboard.down('b');
  const held = join(scratch, 'look-held.png');
  await expect.poll(async () => (await frameShot(page, held), psnr(plain, held))).toBeGreaterThan(45);
  await page.keyboard.up('b');

  // A LUT that is none is told in a sentence, and nothing changes.
  await part(page, 'Colour');
  await choose(page, 'Read .cube or .cdl', lutFile('broken.cube', 'LUT_3D_SIZE 2\n0 0 0\n'));
  await expect(page.getByText(/broken\.cube.*cut short.*Nothing was changed/s)).toBeVisible();
  await expect(page.getByTestId('lut-name')).toHaveText('Blue hour.cube');

  // The look goes out as a .cube that ffmpeg reads, and as a colour decision.
  const [cube] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: '.cube', exact: true }).click(),
  ]);
  await cube.saveAs(join(scratch, 'out.cube'));
  ffmpeg(
    '-f',
    'lavfi',
    '-i',
    'color=gray:s=16x16',
    '-frames:v',
    '1',
    '-vf',
    `lut3d=${join(scratch, 'out.cube')}`,
    join(scratch, 'grey.png'),
  );
  const [cc] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: '.cc', exact: true }).click(),
  ]);
  await cc.saveAs(join(scratch, 'out.cc'));
  expect(readFileSync(join(scratch, 'out.cc'), 'utf8')).toContain('<Slope>');

  // To another take, in one step.
  const look = await lookOf(page);
  expect(look).toMatchObject({ grade: { exposure: 0.5 }, mood: { name: 'Coal smoke', amount: 60 } });
  const here = takeOf(page);
  await openTake(page, 'shade');
  const other = takeOf(page);
  await page.goto(`/studio/${here}?station=look`);
  await still(page);
  await part(page, 'Colour');
  await page.getByRole('button', { name: 'To other takes' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('checkbox', { name: 'Look', exact: true })).toBeChecked();
  await dialog.getByRole('checkbox', { name: /^All \d+$/ }).check();
  await dialog.getByRole('button', { name: /^Paste onto/ }).click();
  await expect(page.getByText(/^Pasted onto/)).toBeVisible();
  expect(await lookOf(page, other)).toEqual(look);
});

test('dials are keyed like the path: a lane with beads, moved, undone; the Meter becomes keyframes', async ({
  page,
}) => {
  await page.getByRole('button', { name: 'Key of exposure here' }).click();
  await goTo(page, 2);
  await typeDial(page, 'Exposure', 1.5);
  await goTo(page, 1);
  expect(await dialValue(page, 'Exposure')).toBeCloseTo(0.75, 1);
  expect(await nearness(page, 1)).toBeGreaterThan(42);
  await page.getByRole('group', { name: 'Lanes' }).getByRole('button', { name: 'Exposure' }).click();
  const bead = page.getByRole('button', { name: 'Exposure of keyframe 2' });
  const box = (await bead.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 - 5, box.y + box.height / 2 + 30, { steps: 4 });
  await page.mouse.up();
  const keys = async () => (await lookOf(page)) as { grade: { exposure: { time: number; value: number }[] } };
  await expect.poll(async () => (await keys()).grade.exposure[1]!.time).toBeGreaterThan(2.1);
  expect((await keys()).grade.exposure[1]!.value).toBeLessThan(1.5);
  await page.keyboard.press('Delete');
  await expect.poll(async () => (await keys()).grade.exposure.length).toBe(1);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');

  await part(page, 'Camera');
  await page.getByRole('checkbox', { name: 'Meter' }).click();
  await expect(page.getByTestId('meter-now')).toContainText('EV here', { timeout: 60_000 });
  await expect(page.getByTestId('meter-curve')).toBeVisible();
  await goTo(page, 3);
  expect(await nearness(page, 3)).toBeGreaterThan(38);
  await page.getByRole('button', { name: 'To keyframes' }).click();
  await expect(page.getByText(/became keyframes of the exposure/)).toBeVisible();
  await expect.poll(async () => await lookOf(page)).not.toHaveProperty('meter');
});

test('what is pressed with the picker becomes grey', async ({ page }) => {
  await part(page, 'Colour');
  await page.getByRole('button', { name: 'Pick grey' }).click();
  // Something even that has little colour of its own: the dials reach that far.
  const shot = join(scratch, 'look-grey.png');
  const { width, height } = await frameShot(page, shot);
  const pixels = ffmpeg('-i', shot, '-pix_fmt', 'rgb24', '-f', 'rawvideo', '-');
  const at = (x: number, y: number) => [0, 1, 2].map((k) => pixels[3 * (y * width + x) + k]!);
  const spread = (c: number[]) => Math.max(...c) - Math.min(...c);
  const even = (x: number, y: number) =>
    [-6, 6].every((d) => [at(x + d, y), at(x, y + d)].every((c) => c.every((v, k) => Math.abs(v - at(x, y)[k]!) < 5)));
  const places = Array.from(
    { length: 900 },
    (_, i) =>
      [
        40 + (i % 30) * Math.floor((width - 80) / 30),
        30 + Math.floor(i / 30) * Math.floor((height - 60) / 30),
      ] as const,
  );
  const [x, y] = places.find(([px, py]) => {
    const c = at(px, py);
    return spread(c) > 14 && spread(c) < 32 && Math.min(...c) > 60 && Math.max(...c) < 190 && even(px, py);
  })!;
  const frame = (await page.getByTestId('frame').boundingBox())!;
  await page.mouse.click(frame.x + (x + 0.5) * (frame.width / width), frame.y + (y + 0.5) * (frame.height / height));
  await expect.poll(() => dialValue(page, 'Temperature')).not.toBe(0);
  await still(page);
  await frameShot(page, shot);
  const after = ffmpeg('-i', shot, '-pix_fmt', 'rgb24', '-f', 'rawvideo', '-');
  expect(spread([0, 1, 2].map((k) => after[3 * (y * width + x) + k]!))).toBeLessThan(8);
});

test('a title, bars, a logo, a patch and a twin are in every format, and in the clips that are exported', async ({
  page,
}) => {
  await part(page, 'Overlays');
  await page.getByRole('button', { name: 'Title', exact: true }).click();
  await page.getByRole('textbox', { name: 'Text of the title' }).fill('Brindle Halt');
  await page.getByRole('button', { name: 'Bars' }).click();
  const logo = join(scratch, 'wheel.svg');
  writeFileSync(
    logo,
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 20 20"><circle cx="10" cy="10" r="9" fill="#fff" fill-opacity="0.8"/></svg>',
  );
  await choose(page, 'Picture', logo);
  await expect(page.getByTestId('overlays').locator('image')).toHaveCount(1);
  await part(page, 'Sphere');
  await page.getByRole('checkbox', { name: 'Patch over the tripod' }).click();
  await typeDial(page, 'Tilt', -20);
  await expect(page.getByTestId('patch-outline')).toBeVisible();
  await page.getByRole('checkbox', { name: 'Sector' }).click();
  await page.getByRole('radio', { name: 'Twin' }).click();
  await typeDial(page, 'Later by', 4);
  await expect(page.getByTestId('sector-on-map')).toBeVisible();
  // Its edge is dragged on the Map, into the middle of what the Frame shows.
  const edge = page.getByRole('slider', { name: 'Last heading of the sector' });
  const grip = (await edge.boundingBox())!;
  const map = (await page.getByTestId('map').boundingBox())!;
  await page.mouse.move(grip.x + grip.width / 2, grip.y + grip.height / 2);
  await page.mouse.down();
  await page.mouse.move(grip.x + grip.width / 2 - map.width / 6, grip.y + grip.height / 2, { steps: 5 });
  await page.mouse.up();
  await expect.poll(() => dialValue(page, 'To')).toBeGreaterThan(25);
  expect(await dialValue(page, 'To')).toBeLessThan(35);
  await page.keyboard.press('Control+z');
  await expect.poll(() => dialValue(page, 'To')).toBe(90);
  await page.keyboard.press('Control+Shift+z');
  await expect.poll(() => dialValue(page, 'To')).toBeLessThan(35);
  await goTo(page, 1);
  expect(await nearness(page, 1)).toBeGreaterThan(38);

  // The moment that is compared, and no more: what is exported is short.
  await goTo(page, 1.2);
  await page.keyboard.press('o');
  await goTo(page, 1);
  for (const aspect of ['16:9', '9:16']) {
    await page.getByRole('combobox', { name: 'Format', exact: true }).selectOption(aspect);
    await still(page);
    const seen = join(scratch, 'overlaid.png');
    const { width, height } = await frameSeen(page, seen);
    await saved(page);
    const clip = await exportClip(page, width, height, 4);
    const exported = join(scratch, 'overlaid-export.png');
    ffmpeg('-i', clip, '-vf', 'select=eq(n\\,30)', '-frames:v', '1', exported);
    expect(psnr(seen, exported), aspect).toBeGreaterThan(38);
    await station(page, 'Look');
  }
});
