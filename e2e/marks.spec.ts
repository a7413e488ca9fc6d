/** Finding moments: marks, ranges that become takes, glances, the look round, the Sweep close up; and the frame rate's reading. */
import { join } from 'node:path';
import { expect, test, type Page } from './test';
import {
  card,
  dialValue,
  ffmpeg,
  footage,
  frameShot,
  gather,
  goTo,
  openTake,
  psnr,
  saved,
  scratch,
  still,
} from './helpers';

test.beforeEach(async ({ page }) => {
  await page.goto('/');
  if ((await card(page, 'walk').count()) === 0) await gather(page, footage('walk.mp4', 7, 3));
  await openTake(page, 'walk');
});

const time = (page: Page) => page.getByRole('textbox', { name: 'Time in seconds' });

test('marks and ranges are set with a key, survive a reload, and a range becomes a take', async ({ page }) => {
  await goTo(page, 0.5);
  await page.keyboard.press('m');
  await page.getByRole('button', { name: 'Source' }).click();
  await page.getByRole('tab', { name: 'Marks and ranges' }).click();
  const mark = page.getByTestId('mark').getByRole('textbox');
  await mark.fill('Train comes in');
  await mark.press('Enter');
  await goTo(page, 1);
  await page.getByTestId('frame').focus();
  await page.keyboard.press('r');
  await goTo(page, 2);
  await page.getByTestId('frame').focus();
  await page.keyboard.press('r');
  await expect(page.getByTestId('range')).toContainText('0:01.00 to 0:02.03');
  await page.reload();
  await expect(page.getByTestId('mark').getByRole('textbox')).toHaveValue('Train comes in');
  await expect(page.getByTestId('marks')).toContainText('Train comes in');
  await page.getByRole('button', { name: 'Mark Train comes in' }).click();
  await expect(time(page)).toHaveValue('0.500 s');
  await goTo(page, 1.5);
  await page.getByTestId('frame').focus();
  await page.keyboard.press('t');
  await page.getByRole('button', { name: 'Open it' }).click();
  await expect(page.getByRole('textbox', { name: 'Name of the take' })).toHaveValue('walk, 0:01.0 to 0:02.0');
  await page.getByRole('button', { name: 'Source' }).click();
  await page.getByRole('tab', { name: 'Range and rate' }).click();
  await expect(page.getByRole('textbox', { name: 'In point' })).toHaveValue('1.000 s');
  await expect(page.getByRole('textbox', { name: 'Out point' })).toHaveValue('2.033 s');
});

test('a click on the Sweep goes there and looks there, and changes nothing until a keyframe is set', async ({
  page,
}) => {
  const sweep = (await page.getByTestId('sweep').boundingBox())!;
  await page.mouse.click(sweep.x + sweep.width * 0.75, sweep.y + sweep.height * 0.5);
  await expect(page.getByTestId('glance')).toContainText('Glancing at 90°');
  expect(parseFloat(await time(page).inputValue())).toBeCloseTo(1.5, 0);
  const there = join(scratch, 'glance.png');
  await frameShot(page, there);
  await page.getByRole('button', { name: 'Back to the path' }).click();
  const back = join(scratch, 'path.png');
  await frameShot(page, back);
  expect(psnr(there, back)).toBeLessThan(20);
  await expect(page.getByRole('textbox', { name: /^Time of keyframe/ })).toHaveCount(0);

  await page.mouse.click(sweep.x + sweep.width * 0.75, sweep.y + sweep.height * 0.5);
  await page.getByTestId('frame').focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('textbox', { name: /^Time of keyframe/ })).toHaveCount(1);
  expect(await dialValue(page, 'Pan')).toBeCloseTo(90, 0);
  await expect(page.getByTestId('glance')).toHaveCount(0);
});

test('the look round shows four directions at once, each as the Frame would show it', async ({ page }) => {
  await still(page);
  const before = join(scratch, 'one.png');
  await frameShot(page, before);
  await page.getByRole('button', { name: 'Look all round' }).click();
  await expect(page.getByTestId('look-round').getByRole('button')).toHaveCount(4);
  const round = join(scratch, 'round.png');
  await frameShot(page, round);
  // Four different pictures: no quarter is like another.
  const quarter = (x: number, y: number) =>
    ffmpeg(
      '-i',
      round,
      '-vf',
      `crop=iw/2:ih/2:${x}*iw/2:${y}*ih/2,scale=32:16`,
      '-f',
      'rawvideo',
      '-pix_fmt',
      'gray',
      '-',
    );
  const quarters = [quarter(0, 0), quarter(1, 0), quarter(0, 1), quarter(1, 1)];
  for (let i = 0; i < 4; i++)
    for (let j = 0; j < i; j++) {
      const difference = quarters[i]!.reduce((sum, v, k) => sum + Math.abs(v - quarters[j]![k]!), 0) / 512;
      expect(difference).toBeGreaterThan(8);
    }
  await page.getByTitle('Look back in the Frame').click();
  await expect(page.getByTestId('glance')).toContainText('180°');
});

test('the Sweep is crisp down to single frames, and shows what moves', async ({ page }) => {
  const sweep = page.getByTestId('sweep');
  await sweep.hover();
  await page.keyboard.down('Control');
  for (let i = 0; i < 24; i++) await page.mouse.wheel(0, -100);
  await page.keyboard.up('Control');
  const canvas = page.getByTestId('sweep-picture');
  /** How many different rows one column of the drawn Sweep has. */
  const rows = () =>
    canvas.evaluate((c: HTMLCanvasElement) => {
      const { data } = c.getContext('2d')!.getImageData(0, 0, c.width, c.height);
      let bands = 1;
      for (let y = 1; y < c.height; y++) {
        let differs = 0;
        for (let x = 0; x < c.width; x++)
          if (Math.abs(data[(y * c.width + x) * 4]! - data[((y - 1) * c.width + x) * 4]!) > 2) differs++;
        if (differs > 3) bands++;
      }
      return { bands, height: c.height };
    });
  await expect.poll(async () => (await rows()).bands).toBeGreaterThan(3);
  // Some eight frames are in sight, each a band of its own with a sharp edge.
  expect((await rows()).bands).toBeLessThan(16);

  await page.getByRole('radio', { name: 'Activity' }).click();
  await expect(canvas).toHaveAttribute('data-reading', 'activity');
  await page.getByRole('group', { name: 'Lanes' }).getByRole('button', { name: 'Sound' }).click();
  await expect(page.getByTestId('sound-shape')).toHaveAttribute('d', /^M/);
});

test('30 read as 24: all times follow, and nothing else changes', async ({ page }) => {
  await goTo(page, 2);
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Source' }).click();
  await page.getByRole('tab', { name: 'Range and rate' }).click();
  await page.getByRole('combobox', { name: 'Read as' }).selectOption('24');
  await expect(time(page)).toHaveValue('2.500 s');
  await expect(page.getByRole('textbox', { name: 'Out point' })).toHaveValue('3.750 s');
  await expect(page.getByText('speed 80 %')).toBeVisible();
  await page.getByRole('button', { name: 'Export', exact: true }).click();
  await expect(page.getByRole('textbox', { name: 'Frame rate' })).toHaveValue('24.00 fps');
  await expect(page.getByText('0:03.75, 90 frames')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).first().click();
  await expect(time(page)).toHaveValue('2.000 s');
  await saved(page);
});

/** Chooses what the Frame is drawn from, or how finely. */
async function choosePicture(page: Page, name: string) {
  await page.getByRole('button', { name: 'Picture', exact: true }).click();
  await page.getByRole('menuitemradio', { name }).click();
}

test('the original shows the same frame as the proxy', async ({ page }) => {
  await goTo(page, 1.2);
  const proxy = join(scratch, 'proxy.png');
  await frameShot(page, proxy);
  const answered = page.waitForResponse((r) => r.url().includes('/media/stills/'));
  await choosePicture(page, 'The original');
  await answered;
  const original = join(scratch, 'original.png');
  await expect.poll(async () => (await frameShot(page, original), psnr(proxy, original))).toBeGreaterThan(30);
  await goTo(page, 1.2 + 1 / 30);
  await still(page);
  await choosePicture(page, 'Quarter');
  await choosePicture(page, 'The proxy');
});
