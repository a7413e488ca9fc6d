/** Playing in the Studio, in a real browser without a graphics card: how many pictures a second are seen, and where time goes. */
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';
import { chromium, type Page } from '@playwright/test';
import { folder, median, root } from './measure.js';

const PORT = 4387;
const ADDRESS = `http://127.0.0.1:${PORT}`;
const CLIP = 'packages/demo/clips/turntable.mp4';
const SECONDS = 8;
const FLAGS = ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking'];

/** What takes the main thread's time while a picture is drawn. */
const TIMED = ['texImage2D', 'drawArrays', 'readPixels'] as const;

async function serve() {
  const env = {
    ...process.env,
    NODE_ENV: 'production',
    GLIMBO_ROOT: root,
    GLIMBO_DATA: join(folder, 'play'),
    GLIMBO_PORT: String(PORT),
    GLIMBO_FOLDERS: root,
    GLIMBO_LOG: 'error',
  };
  const server = spawn('node', [join(root, 'app/start.mjs')], { env, stdio: ['ignore', 'pipe', 'inherit'] });
  await once(server.stdout, 'data');
  return server;
}

const post = (path: string, fields: Record<string, string>) =>
  fetch(ADDRESS + path, { method: 'POST', body: new URLSearchParams(fields) });

/** Gathers a clip and gives the address of a take of it, once its proxy is there. */
async function openTake(): Promise<string> {
  await post('/settings', { analyseNew: 'no' });
  const added = await post('/gather', { intent: 'path', path: join(root, CLIP), accepted: 'yes' });
  const [{ footageId }] = (await added.json()) as { footageId: string }[] as [{ footageId: string }];
  for (let ready = false; !ready;) {
    await new Promise((resolve) => setTimeout(resolve, 500));
    ready = (await fetch(`${ADDRESS}/media/footage/${footageId}/proxy.mp4`, { method: 'HEAD' })).ok;
  }
  const made = await fetch(`${ADDRESS}/footage/${footageId}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ intent: 'take' }),
  });
  return `${ADDRESS}/studio/${((await made.json()) as { id: string }).id}`;
}

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

export async function benchPlay(rounds: number) {
  const server = await serve();
  const executablePath = process.env.GLIMBO_CHROMIUM ?? '/usr/bin/chromium';
  const browser = await chromium.launch({ executablePath, args: FLAGS });
  try {
    const take = await openTake();
    const rates: number[] = [];
    for (let round = 0; round < rounds; round++) {
      const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
      await page.goto(take);
      await page.locator('[data-testid=frame][data-still=yes]').waitFor();
      await page.keyboard.press('Space');
      // The resolution needs a moment to suit the machine.
      await page.waitForTimeout(3000);
      const { rate, spent } = await count(page);
      const share = await page.getByTestId('frame').getAttribute('data-share');
      process.stderr.write(`round ${round + 1}: ${rate.toFixed(1)} a second; ms a picture: ${spent.join(', ')}\n`);
      process.stderr.write(`  at ${share} of the Frame's width\n`);
      rates.push(rate);
      await page.close();
    }
    console.log(`playing at 1280 × 800 without a graphics card: ${median(rates).toFixed(1)} pictures a second (≥ 15)`);
  } finally {
    await browser.close();
    server.kill();
  }
}
