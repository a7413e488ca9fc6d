/**
 * The server with a large Library: how long an edit takes to be saved, and the Library's page to be made. Measured at the
 * application as it is built, over HTTP.
 */
import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { mkdirSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import knex from 'knex';
import { setViewKey } from '@glimbo/core/path/edit';
import { newTake, type Take } from '@glimbo/core/take/take';
import { folder, median, root } from './measure.js';

const FOOTAGES = 200;
const TAKES = 1000;
const STEPS = 500;
const ROUNDS = 30;

const data = join(folder, 'library');
const clip = join(root, 'packages/demo/clips/ridge-loop.mp4');
const FACTS = {
  ...{ container: 'mov', codec: 'h264', pixelFormat: 'yuv420p', width: 2880, height: 1440, rate: 30, duration: 15 },
  ...{ frames: 450, bitRate: 2e7, size: 4e7, spherical: 'equirectangular', videoStreams: 1, stereo: null, part: null },
  sound: { codec: 'aac', channels: 2, sampleRate: 48_000 },
};

/** A take of some keyframes, its first one turned by some degrees. */
function takeOf(keys: number, turn: number): Take {
  const take = newTake(clip, 15);
  for (let i = 0; i < keys; i++)
    take.path = setViewKey(take.path, (i * 14) / keys, { pan: i ? 25 * i : turn, tilt: -i, fov: 70 + (i % 9) });
  return take;
}

/** What a large Library has in its database: the last take with a long history. */
async function populate() {
  const db = knex({
    client: 'better-sqlite3',
    connection: join(data, 'glimbo.sqlite'),
    useNullAsDefault: true,
  });
  const now = Date.now();
  await db('projects').insert({ id: 'project', name: 'Brindle Halt', created: now });
  const gathered = {
    ...{ proxy: { width: 1920, height: 960, frames: 450 }, thumbnails: { count: 45, interval: 1 / 3 } },
    ...{ sweep: { rows: 450, framesPerRow: 1, tiles: 1 }, sound: true },
  };
  for (let f = 0; f < FOOTAGES; f++)
    await db('footage').insert({
      ...{ id: `footage-${f}`, name: `Loop ${f}`, file: clip, in_place: true, created: now + f },
      ...{ facts: JSON.stringify(FACTS), gathered: JSON.stringify(gathered), source: '{"kind":"sphere"}' },
    });
  const document = JSON.stringify(takeOf(20, 0));
  for (let t = 0; t < TAKES; t++) {
    const id = `take-${t}`;
    const at = t === TAKES - 1 ? STEPS - 1 : 0;
    await db('takes').insert({
      ...{ id, project_id: 'project', footage_id: `footage-${t % FOOTAGES}`, name: `Take ${t}` },
      ...{ revision: 1, at, changed: now + t },
    });
    await db('take_steps').insert({ take_id: id, position: 0, document, whole: true });
    for (let n = 1; n <= at; n++)
      await db('take_steps').insert({
        ...{ take_id: id, position: n, whole: false },
        document: JSON.stringify([{ op: 'replace', path: '/path/pan/0/value', value: n }]),
      });
  }
  await db.destroy();
}

async function freePort(): Promise<number> {
  const server = createServer().listen(0, '127.0.0.1');
  await once(server, 'listening');
  const { port } = server.address() as { port: number };
  server.close();
  await once(server, 'close');
  return port;
}

async function serve(port: number): Promise<ChildProcess> {
  const env = { ...process.env, GLIMBO_ROOT: root, GLIMBO_DATA: data, GLIMBO_PORT: String(port), GLIMBO_FOLDERS: root };
  const server = spawn('node', [join(root, 'app/start.mjs')], { env, stdio: 'ignore' });
  for (;;) {
    const answered = await fetch(`http://127.0.0.1:${port}/`).then(
      (r) => r.ok,
      () => false,
    );
    if (answered) return server;
    if (server.exitCode !== null) throw new Error('The server did not start.');
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
}

async function end(server: ChildProcess) {
  server.kill('SIGTERM');
  await once(server, 'exit');
}

/** Milliseconds that requests take, one after the other: their median. */
async function timed(request: (n: number) => Promise<Response>): Promise<number> {
  const times: number[] = [];
  for (let n = 0; n < ROUNDS; n++) {
    const began = performance.now();
    const answer = await request(n);
    const text = await answer.text();
    if (!answer.ok) throw new Error(`The server answered ${answer.status}: ${text.slice(0, 200)}`);
    times.push(performance.now() - began);
  }
  return median(times);
}

export async function benchLibrary() {
  mkdirSync(data, { recursive: true });
  const port = await freePort();
  await end(await serve(port));
  await populate();
  const server = await serve(port);
  const address = `http://127.0.0.1:${port}`;
  try {
    let revision = 1;
    const save = async (n: number) => {
      const at = STEPS + n;
      const patches = [[{ op: 'replace', path: '/path/pan/0/value', value: at }]];
      const change = { first: Math.max(0, at - STEPS), keep: at, at, patches };
      const body = JSON.stringify({ intent: 'save', id: `library-save-${n}`, revision: revision++, change });
      return fetch(`${address}/takes/take-${TAKES - 1}`, {
        ...{ method: 'POST', body },
        headers: { 'content-type': 'application/json', origin: address },
      });
    };
    const saved = await timed(save);
    const page = await timed(() => fetch(`${address}/`));
    const bytes = (await (await fetch(`${address}/`)).arrayBuffer()).byteLength;
    console.log(`${FOOTAGES} footages, ${TAKES} takes, one of them with ${STEPS} steps; medians of ${ROUNDS}`);
    console.log(`an edit is saved in ${saved.toFixed(1)} ms (goal 15), the request included`);
    console.log(`the Library's page is there after ${page.toFixed(0)} ms (goal 150), ${(bytes / 1e6).toFixed(2)} MB`);
  } finally {
    await end(server);
  }
}
