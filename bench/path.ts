/** The camera's path: how long a view takes to be found, and how soon a drag in the Frame is seen. */
import { CHANNELS, emptyPath, viewAt, type Path } from '@glimbo/core/path/path';
import { median } from './measure.js';
import { inStudio, openPage } from './studio.js';

const KEYS = 1000;
const SECONDS = 600;
const FRAMES = 20_000;

/** A long path: every channel keyed at the same thousand moments, by dials or by arcs. */
function longPath(turn: Path['turn']): Path {
  const keys = (size: number) =>
    Array.from({ length: KEYS }, (_, i) => ({ time: (i / KEYS) * SECONDS, value: size * Math.sin(i * 1.7) }));
  const path = { ...emptyPath(), turn };
  for (const name of CHANNELS)
    path[name] = keys(name === 'fov' ? 0.5 : 40).map((k) => ({ ...k, value: k.value + (name === 'fov' ? 70 : 0) }));
  return path;
}

/** Milliseconds that a view of a path takes, one frame after the other. */
function evaluation(turn: Path['turn']): number {
  const path = longPath(turn);
  let sum = viewAt(path, 0).pan;
  const began = performance.now();
  for (let n = 0; n < FRAMES; n++) sum += viewAt(path, (n / FRAMES) * SECONDS).pan;
  const took = performance.now() - began;
  if (!Number.isFinite(sum)) throw new Error('The path was not finite.');
  return took / FRAMES;
}

/** Notes how long after the pointer moved the Frame was drawn anew, in milliseconds. */
function noteDraws() {
  const waits: number[] = [];
  Object.assign(window, { waits });
  let moved: number | null = null;
  window.addEventListener('pointermove', (e) => (moved ??= e.timeStamp), true);
  const { drawArrays: draw } = WebGL2RenderingContext.prototype;
  WebGL2RenderingContext.prototype.drawArrays = function (...a) {
    draw.apply(this, a);
    if (moved === null || !(this.canvas as HTMLCanvasElement).matches?.('[data-testid=frame]')) return;
    this.finish();
    waits.push(performance.now() - moved);
    moved = null;
  };
}

export async function benchPath(rounds: number) {
  const runs = Array.from({ length: rounds }, () => [evaluation('dials'), evaluation('arc')] as const);
  const [dials, arc] = [0, 1].map((i) => median(runs.map((r) => r[i]!)));
  console.log(
    `a view of a path of ${KEYS} keyframes: ${dials!.toFixed(4)} ms by dials, ${arc!.toFixed(4)} by arcs (≤ 0.05)`,
  );
  const medians: number[] = [];
  await inStudio(async (browser, take) => {
    for (let round = 0; round < rounds; round++) {
      const page = await openPage(browser, take, noteDraws);
      const { x, y, width, height } = (await page.getByTestId('frame').boundingBox())!;
      await page.mouse.move(x + width / 2, y + height / 2);
      await page.mouse.down();
      for (let i = 0; i < 60; i++) await page.mouse.move(x + width / 2 - i * 3, y + height / 2 + Math.sin(i / 5) * 20);
      await page.mouse.up();
      medians.push(median(await page.evaluate(() => (window as unknown as { waits: number[] }).waits)));
      await page.close();
    }
  });
  console.log(
    `a drag in the Frame at 1280 × 800 without a graphics card is drawn after ${median(medians).toFixed(0)} ms (≤ 50)`,
  );
}
