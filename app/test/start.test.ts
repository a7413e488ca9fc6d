/** Starting and ending, with the built server: what cannot be is said, and changes nothing. */
import { afterAll, describe, expect, jest, test } from '@jest/globals';
import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

// It waits for processes, on any machine.
jest.setTimeout(120_000);

const root = mkdtempSync(join(tmpdir(), 'glimbo-start-'));
const running = new Set<ChildProcess>();
afterAll(() => {
  for (const child of running) child.kill('SIGKILL');
  rmSync(root, { recursive: true, force: true });
});
const folder = (name: string) => join(root, name);

/** A port that nobody listens on. */
async function freePort(): Promise<number> {
  const server = createServer();
  server.listen(0, '127.0.0.1');
  await once(server, 'listening');
  const { port } = server.address() as { port: number };
  server.close();
  return port;
}

/** Starts Glimbo; resolves when it is there, or with how it ended and what it said. */
async function start(data: string, port: number | string) {
  const env = { ...process.env, NODE_ENV: 'production', GLIMBO_DATA: data, GLIMBO_PORT: String(port) };
  const child = spawn('node', ['app/start.mjs'], { env, stdio: ['ignore', 'pipe', 'pipe'] });
  running.add(child);
  let said = '';
  const ended = once(child, 'exit').then(([code]) => (running.delete(child), code as number | null));
  child.stderr.on('data', (text: Buffer) => (said += text.toString()));
  const there = new Promise<'there'>((resolve) => child.stdout.once('data', () => resolve('there')));
  const first = await Promise.race([there, ended]);
  return { child, ended, code: first === 'there' ? null : first, said: () => said };
}

/** All files below a folder with what is in them. */
function contents(path: string): Record<string, string> {
  const found: Record<string, string> = {};
  for (const entry of readdirSync(path, { recursive: true, withFileTypes: true }))
    if (entry.isFile()) {
      const file = join(entry.parentPath, entry.name);
      found[file] = readFileSync(file, 'latin1');
    }
  return found;
}

describe('a start that cannot be', () => {
  test('on a folder of one’s own says so and leaves every file as it was', async () => {
    const own = folder('own');
    for (const name of ['footage', 'exports', 'work', 'stills', 'takes', 'motions', 'subjects', 'originals']) {
      mkdirSync(join(own, name), { recursive: true });
      writeFileSync(join(own, name, 'mine.mp4'), name);
    }
    const before = contents(own);
    const { code, said } = await start(own, await freePort());
    expect(code).toBe(1);
    expect(said()).toMatch(/has files in it and is no data folder of Glimbo's/);
    expect(contents(own)).toEqual(before);
  });

  test.each(['abc', 99999, -1])('at port %s is a sentence', async (port) => {
    const { code, said } = await start(folder('port'), port);
    expect([code, said()]).toEqual([1, 'glimbo: a port is a whole number from 0 to 65535.\n']);
    expect(existsSync(folder('port'))).toBe(false);
  });

  test('on a database that is damaged says so at once, and leaves it as it is', async () => {
    const damaged = folder('damaged');
    mkdirSync(damaged, { recursive: true });
    writeFileSync(join(damaged, 'glimbo.sqlite'), 'SQLite was here once');
    const { code, said } = await start(damaged, await freePort());
    expect(code).toBe(1);
    expect(said()).toMatch(/glimbo\.sqlite is damaged, or no database\. Nothing was changed/);
    expect(readFileSync(join(damaged, 'glimbo.sqlite'), 'utf8')).toBe('SQLite was here once');
  });

  test('with a file for its data folder is a sentence', async () => {
    writeFileSync(folder('file'), 'x');
    const { code, said } = await start(folder('file'), await freePort());
    expect([code, said()]).toEqual([1, expect.stringMatching(/is a file\. Name a folder/)]);
    expect(said()).not.toMatch(/ at /);
  });
});

test('a second start changes nothing, whether the port is taken or the folder; a kill leaves the folder free', async () => {
  const data = folder('twice');
  const port = await freePort();
  const one = await start(data, port);
  expect(one.code).toBeNull();
  const work = join(data, 'work', '00000000-0000-4000-8000-000000000000');
  mkdirSync(work);
  for (const [at, words] of [
    [port, /port \d+ is taken/],
    [await freePort(), /Another Glimbo works on the data folder/],
  ] as const) {
    const second = await start(data, at);
    expect([second.code, second.said()]).toEqual([1, expect.stringMatching(words)]);
    expect(existsSync(work)).toBe(true);
  }
  one.child.kill('SIGKILL');
  await one.ended;
  const again = await start(data, port);
  expect(again.code).toBeNull();
  expect(existsSync(work)).toBe(false);
  again.child.kill('SIGKILL');
  await again.ended;
});

test('an upload whose length nobody knows is refused before anything is written; one that is gone is told in words', async () => {
  const port = await freePort();
  const { child, ended } = await start(folder('uploads'), port);
  const at = (path: string) => `http://127.0.0.1:${port}${path}`;
  const headers = { 'tus-resumable': '1.0.0', 'upload-defer-length': '1' };
  const refused = await fetch(at('/uploads'), { method: 'POST', headers });
  expect([refused.status, await refused.text()]).toEqual([400, expect.stringContaining('how large the file is')]);
  expect(readdirSync(join(folder('uploads'), 'uploads'))).toEqual([]);
  const body = new URLSearchParams({ intent: 'upload', uploads: 'thrown-away-1', names: '["a.mp4"]', name: 'a' });
  const gone = await fetch(at('/gather'), { method: 'POST', body });
  expect([gone.status, await gone.json()]).toEqual([200, { problem: expect.stringContaining('not known any more') }]);
  child.kill('SIGKILL');
  await ended;
});

test.each(['SIGTERM', 'SIGINT'] as const)('%s after the first page ends it cleanly', async (signal) => {
  const port = await freePort();
  const { child, ended, code } = await start(folder(signal), port);
  expect(code).toBeNull();
  expect((await fetch(`http://127.0.0.1:${port}/`)).status).toBe(200);
  // The uploads' package listens for the same signals from its first request on.
  await fetch(`http://127.0.0.1:${port}/uploads`, { method: 'OPTIONS' });
  child.kill(signal);
  expect(await ended).toBe(0);
  // The database was closed: what was written ahead of it is in it.
  expect(existsSync(join(folder(signal), 'glimbo.sqlite-wal'))).toBe(false);
});
