/**
 * Kills at random moments while edits, uploads, analyses, exports and copies run. Afterwards no acknowledged edit is lost,
 * none that was made in the browser either; every file has an owner; no temporary folder and no process is left.
 */
import { randomUUID } from 'node:crypto';
import { existsSync, readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { chromium } from '@playwright/test';
import { sleep, World } from './world.mjs';

const BROWSER = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];

export async function kills(count, dice) {
  const world = new World(4396);
  const problems = [];
  const begun = { saves: 0, acknowledged: 0, uploads: 0, exports: 0, analyses: 0, copies: 0, typed: 0 };
  for (let i = 0; i < 3; i++) world.clip(`card-${i}.mp4`, i, 0.4, 150e6);
  const long = world.clip('long.mp4', 0, 4);
  await world.start();
  await world.form('/settings', { analyseNew: 'no' });
  const { json: added } = await world.form('/gather', { intent: 'path', path: long, accepted: 'yes' });
  const footage = added[0].footageId;
  const takeOf = async () => (await world.json(`/footage/${footage}`, { intent: 'take' })).json.id;
  const [scripted, typed] = [await takeOf(), await takeOf()];
  for (let i = 0; i < 120 && !existsSync(join(world.data, 'footage', footage)); i++) await sleep(250);

  const browser = await chromium.launch({
    executablePath: process.env.GLIMBO_CHROMIUM ?? '/usr/bin/chromium',
    args: BROWSER,
  });
  const context = await browser.newContext();
  let page = await context.newPage();
  const pan = () => page.getByRole('textbox', { name: 'Pan value' });
  const openTake = async () => {
    await page.goto(`${world.address}/studio/${typed}`);
    await pan().waitFor({ timeout: 60_000 });
  };
  await openTake();

  const state = { stop: false, acknowledged: 0, revision: 1, last: 0 };
  const until = (work) =>
    (async () => {
      while (!state.stop) {
        await work().catch(() => sleep(100));
        await sleep(20 + dice.int(120));
      }
    })();

  /** Saves as a page would: each with an identity, the same one again until it is answered. */
  let pending = null;
  const save = async () => {
    pending ??= { id: randomUUID(), value: state.acknowledged + 1, revision: state.revision };
    begun.saves++;
    const step = {
      format: 'glimbo-take',
      version: 1,
      footage: 'long.mp4',
      range: { in: 0, out: 4 },
      frame: { aspect: '16:9' },
      path: { pan: pending.value },
    };
    const { status, json } = await world.json(`/takes/${scripted}`, {
      intent: 'save',
      id: pending.id,
      revision: pending.revision,
      change: { first: 0, keep: 1, at: 1, patches: [[{ op: 'replace', path: '', value: step }]] },
    });
    if (status !== 200) return problems.push(`a save was answered ${status}: ${json?.problem}`);
    state.acknowledged = pending.value;
    state.revision = json.revision;
    begun.acknowledged++;
    pending = null;
  };
  /** Types angles, also while the server is away. */
  const type = async () => {
    const next = (state.last + 1) % 170;
    await pan().fill(String(next), { timeout: 10_000 });
    await pan().press('Enter', { timeout: 10_000 });
    state.last = next;
    begun.typed++;
  };
  const upload = async () => {
    const bytes = readFileSync(join(world.footage, 'card-0.mp4'));
    const marked = Buffer.concat([bytes.subarray(0, 3e6 + dice.int(1000)), Buffer.from(randomUUID())]);
    const metadata = `filename ${Buffer.from(`up-${begun.uploads}.mp4`).toString('base64')}`;
    const made = await fetch(`${world.address}/uploads`, {
      method: 'POST',
      headers: { 'tus-resumable': '1.0.0', 'upload-length': String(marked.length), 'upload-metadata': metadata },
    });
    begun.uploads++;
    const place = new URL(made.headers.get('location'), world.address).pathname;
    for (let at = 0; at < marked.length; at += 1 << 20)
      await fetch(world.address + place, {
        method: 'PATCH',
        body: marked.subarray(at, at + (1 << 20)),
        headers: {
          'tus-resumable': '1.0.0',
          'upload-offset': String(at),
          'content-type': 'application/offset+octet-stream',
        },
      });
    await world.form('/gather', {
      intent: 'upload',
      uploads: place.split('/').at(-1),
      names: JSON.stringify([`up-${begun.uploads}.mp4`]),
      name: 'up',
      accepted: 'yes',
    });
    await sleep(1500);
  };
  const busy = async () => {
    const what = dice.int(3);
    if (what === 0) {
      begun.exports++;
      await world.form('/exports', {
        intent: 'export',
        takeId: scripted,
        settings: JSON.stringify({ width: 640, height: 360, codec: 'h264', rate: 30 }),
      });
    } else if (what === 1) {
      begun.analyses++;
      await world.json(`/footage/${footage}/motion`, { intent: 'analyse', method: 'quick', use: 'no' });
    } else {
      begun.copies++;
      await world.form('/card', { intent: 'copy', folder: world.footage, recording: `card-${dice.int(3)}` });
    }
    await sleep(600 + dice.int(1500));
  };
  const works = [until(save), until(type), until(upload), until(busy)];

  for (let n = 0; n < count; n++) {
    await sleep(800 + dice.int(4200));
    await world.kill();
    await sleep(dice.int(1200));
    // Now and then the tab is closed while the server is away, and opened again when it is back.
    const closes = n % 5 === 2;
    if (closes) {
      state.stop = true;
      await Promise.all(works.splice(0));
      await page.close();
    }
    await world.start();
    if (closes) {
      page = await context.newPage();
      await openTake();
      // What the server knew is there at once; what the browser had kept comes back a moment later.
      let shown = NaN;
      for (let i = 0; i < 600 && shown !== state.last; i++) {
        shown = parseFloat(await pan().inputValue());
        if (shown !== state.last) await sleep(100);
      }
      if (shown !== state.last) problems.push(`the browser came back with ${shown} and not with ${state.last}`);
      state.stop = false;
      works.push(until(save), until(type), until(upload), until(busy));
    }
    process.stdout.write(`\rkill ${n + 1} of ${count}   `);
  }
  state.stop = true;
  await Promise.all(works);
  // What broke off in the middle of typing is typed to its end.
  await type();
  process.stdout.write('\n');
  const shown = page.getByTestId('save-state');
  const saved = shown.getByText('saved', { exact: true });
  await saved.waitFor({ timeout: 60_000 }).catch(async () => {
    problems.push(`the page did not come to “saved”, but to “${await shown.innerText()}”`);
  });
  if (await page.getByTestId('conflict').count())
    problems.push(`the page was told: ${await page.getByTestId('conflict').first().innerText()}`);
  await browser.close();

  const idle = () => {
    const db = new Database(join(world.data, 'glimbo.sqlite'), { readonly: true });
    const left = db.prepare("select count(*) n from jobs where state in ('queued', 'running')").get().n;
    db.close();
    return left === 0;
  };
  for (let i = 0; i < 600 && !idle(); i++) await sleep(500);
  if (!idle()) problems.push('the queue did not come to its end');
  await world.kill('SIGTERM');
  await sleep(300);

  const db = new Database(join(world.data, 'glimbo.sqlite'), { readonly: true });
  const failed = db.prepare("select kind, error from jobs where state = 'failed'").all();
  const ends = db.prepare('select kind, state, count(*) n from jobs group by kind, state').all();
  db.close();
  process.env.GLIMBO_DATA = world.data;
  process.env.GLIMBO_ROOT = process.cwd();
  const { unowned, closeApp, presentTake } = await import('../../build/app/server/index.js');
  const presentPan = async (id) => {
    const { pan } = (await presentTake(id)).take.path;
    return typeof pan === 'number' ? pan : pan[0].value;
  };
  const [scriptedPan, typedPan] = [await presentPan(scripted), await presentPan(typed)];
  if (scriptedPan < state.acknowledged) problems.push(`acknowledged ${state.acknowledged}, kept ${scriptedPan}`);
  if (typedPan !== state.last) problems.push(`typed ${state.last}, kept ${typedPan}`);
  for (const { folder, name } of await unowned()) problems.push(`nobody has ${folder}/${name}`);
  await closeApp();
  for (const name of readdirSync(join(world.data, 'work'))) problems.push(`a temporary folder is left: ${name}`);
  for (const line of world.processes()) problems.push(`a process is left: ${line.slice(0, 120)}`);
  for (const { kind, error } of failed)
    if (!/stopped three times|card is not inserted|has other content/.test(error))
      problems.push(`a job (${kind}) failed: ${error}`);
  console.log(
    `kills: ${count}; ${Object.entries(begun)
      .map(([k, v]) => `${v} ${k}`)
      .join(', ')}`,
  );
  console.log(`jobs: ${ends.map((e) => `${e.n} ${e.kind} ${e.state}`).join(', ')}`);
  if (problems.length && world.errors) console.log(world.errors.slice(-2000));
  world.remove();
  return problems;
}
