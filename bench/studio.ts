/** The application served for benchmarks, and a real browser without a graphics card to open it in. */
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync } from 'node:fs';
import { join } from 'node:path';
import { chromium, type Browser, type Page } from '@playwright/test';
import { folder, root } from './measure.js';

const PORT = 4387;
const ADDRESS = `http://127.0.0.1:${PORT}`;
const CLIP = 'packages/demo/clips/turntable.mp4';
const FLAGS = ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking'];

async function serve() {
  const env = {
    ...process.env,
    NODE_ENV: 'production',
    GLIMBO_ROOT: root,
    // A new one each time: footage that is known already is not gathered again.
    GLIMBO_DATA: mkdtempSync(join(folder, 'studio-')),
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

/** Does something with a browser and the address of a take whose footage is gathered. */
export async function inStudio(measure: (browser: Browser, take: string) => Promise<void>) {
  const server = await serve();
  const executablePath = process.env.GLIMBO_CHROMIUM ?? '/usr/bin/chromium';
  const browser = await chromium.launch({ executablePath, args: FLAGS });
  try {
    await measure(browser, await openTake());
  } finally {
    await browser.close();
    // It would wait for what it still does.
    server.kill('SIGKILL');
    await once(server, 'exit');
  }
}

/** A take opened at 1280 × 800, its Frame drawn. `before` runs in the page before anything else. */
export async function openPage(browser: Browser, take: string, before?: () => void): Promise<Page> {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  if (before) await page.addInitScript(before);
  await page.goto(take);
  await page.locator('[data-testid=frame][data-still=yes]').waitFor();
  return page;
}
