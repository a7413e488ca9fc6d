/** Playing in the Studio, in a real browser without a graphics card: how many pictures a second are seen, and where time goes. */
import type { Page } from '@playwright/test';
import { median } from './measure.js';
import { inStudio, openPage } from './studio.js';

const SECONDS = 8;

/** What takes the main thread's time while a picture is drawn. */
const TIMED = ['texImage2D', 'drawArrays', 'readPixels'] as const;

/** Counts pictures for some seconds; times in milliseconds of the main thread. */
const count = (page: Page) =>
  page.evaluate(
    async ([seconds, timed]) => {
      const spent = Object.fromEntries(timed.map((name) => [name, 0]));
      const gl = WebGL2RenderingContext.prototype as unknown as Record<string, (...a: unknown[]) => unknown>;
      let pictures = 0;
      for (const name of timed) {
        const call = gl[name]!;
        gl[name] = function (this: unknown, ...a: unknown[]) {
          const began = performance.now();
          const answer = call.apply(this, a);
          spent[name]! += performance.now() - began;
          if (name === 'readPixels') pictures++;
          return answer;
        };
      }
      const began = performance.now();
      await new Promise((resolve) => setTimeout(resolve, seconds * 1000));
      const took = (performance.now() - began) / 1000;
      return { rate: pictures / took, spent: timed.map((name) => `${name} ${(spent[name]! / pictures).toFixed(1)}`) };
    },
    [SECONDS, TIMED] as const,
  );

/** Notes how far the sound is ahead of the picture whenever one is drawn, in seconds. */
function noteLag() {
  const lags: number[] = [];
  Object.assign(window, { lags });
  let video: HTMLVideoElement | null = null;
  let shown = 0;
  const hold = (playing: HTMLVideoElement) => void (video = playing);
  const { requestVideoFrameCallback: ask } = HTMLVideoElement.prototype;
  HTMLVideoElement.prototype.requestVideoFrameCallback = function (told) {
    const note = (now: number, frame: VideoFrameCallbackMetadata) => {
      shown = frame.mediaTime;
      told(now, frame);
    };
    hold(this);
    return ask.call(this, note);
  };
  const { drawArrays: draw } = WebGL2RenderingContext.prototype;
  WebGL2RenderingContext.prototype.drawArrays = function (...a) {
    draw.apply(this, a);
    if (video && !video.paused) lags.push(video.currentTime - shown);
  };
}

async function play(how: 'plain' | 'lanes' | 'look' | 'grid', rounds: number) {
  const rates: number[] = [];
  const lags: number[] = [];
  await inStudio(async (browser, take) => {
    for (let round = 0; round < rounds; round++) {
      const page = await openPage(browser, take, noteLag);
      if (how === 'look') {
        await page.getByRole('navigation', { name: 'Stations' }).getByRole('button', { name: 'Look' }).click();
        const exposure = page.getByRole('textbox', { name: 'Exposure value' });
        await exposure.fill('0.4');
        await exposure.press('Enter');
        await page.locator('[data-testid=frame][data-still=yes]').waitFor();
      }
      if (how === 'grid') {
        await page.getByRole('navigation', { name: 'Stations' }).getByRole('button', { name: 'Path' }).click();
        await page.getByRole('tab', { name: 'Lookouts' }).click();
        const begin = page.getByRole('button', { name: 'Front, right, back and left' });
        if (await begin.count()) await begin.click();
        else await page.getByRole('radio', { name: 'Grid' }).click();
        await page.locator('[data-testid=frame][data-still=yes]').waitFor();
      }
      if (how === 'lanes') {
        const closed = page.getByRole('group', { name: 'Lanes' }).locator('button[aria-pressed=false]');
        while (await closed.count()) await closed.first().click();
      }
      await page.keyboard.press('Space');
      // The resolution needs a moment to suit the machine.
      await page.waitForTimeout(3000);
      const { rate, spent } = await count(page);
      const share = await page.getByTestId('frame').getAttribute('data-share');
      process.stderr.write(`round ${round + 1}: ${rate.toFixed(1)} a second; ms a picture: ${spent.join(', ')}\n`);
      process.stderr.write(`  at ${share} of the Frame's width\n`);
      rates.push(rate);
      lags.push(median(await page.evaluate(() => (window as unknown as { lags: number[] }).lags)));
      await page.close();
    }
  });
  return { rate: median(rates), lag: median(lags) * 1000 };
}

export async function benchPlay(rounds: number) {
  const { rate, lag } = await play('plain', rounds);
  console.log(
    `playing at 1280 × 800 without a graphics card: ${rate.toFixed(1)} pictures a second (≥ 15), ${lag.toFixed(0)} ms behind the sound (≤ 60)`,
  );
  const all = await play('lanes', rounds);
  console.log(
    `the same with all lanes open: ${all.rate.toFixed(1)} pictures a second (≥ 15), ${all.lag.toFixed(0)} ms behind the sound`,
  );
  const look = await play('look', rounds);
  console.log(`the same with a look, at its station: ${look.rate.toFixed(1)} pictures a second (≥ 15)`);
  const grid = await play('grid', rounds);
  console.log(
    `four Lookouts as a grid: ${grid.rate.toFixed(1)} pictures a second (≥ 10), ${grid.lag.toFixed(0)} ms behind the sound (≤ 60)`,
  );
}
