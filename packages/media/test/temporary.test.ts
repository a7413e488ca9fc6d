/** What is killed leaves nothing: no process, no temporary folder, and an early cancel is heard. */
import { afterAll, describe, expect, jest, test } from '@jest/globals';
import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { newTake } from '@glimbo/core/take/take';
import { writeFileSync } from 'node:fs';
import { wholeSphere } from '../src/recording.js';
import { exportClip } from '../src/render/clip.js';
import { clearAbandoned, removeTemporary, temporaryFolder } from '../src/temporary.js';

// It waits for ffmpeg, on any machine.
jest.setTimeout(120_000);

process.env.GLIMBO_ENGINE = resolve('build/engine');
const folder = mkdtempSync(join(tmpdir(), 'glimbo-killed-'));
const work = join(folder, 'work');
mkdirSync(work);
const clip = resolve('packages/demo/clips/turntable.mp4');
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** Numbers of running processes whose command line has a text in it. */
const running = (text: string) =>
  readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .filter((pid) => {
      try {
        return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(text);
      } catch {
        return false;
      }
    });

async function until(condition: () => boolean, seconds = 20) {
  const end = Date.now() + seconds * 1000;
  while (!condition()) {
    if (Date.now() > end) throw new Error('It did not come about.');
    await new Promise((r) => setTimeout(r, 30));
  }
}

const document = join(folder, 'take.json');
writeFileSync(document, JSON.stringify({ ...newTake(clip, 15), path: { pan: 0, fov: 80 } }));
/** Starts a long export on the command line. */
function startExport(out: string): ChildProcess {
  return spawn('node', ['build/engine/cli.mjs', 'export', document, '--out', out, '--size', '3840x2160'], {
    env: { ...process.env, GLIMBO_WORK: work },
    stdio: 'ignore',
  });
}
const exited = (child: ChildProcess) => new Promise<number | null>((done) => child.once('exit', (code) => done(code)));

describe('an export on the command line', () => {
  test.each(['SIGTERM', 'SIGINT'] as const)(
    'that gets %s ends soon, with another exit code, and leaves nothing',
    async (signal) => {
      const out = join(folder, `${signal}.mp4`);
      const child = startExport(out);
      await until(() => existsSync(`${out}.part`));
      const ended = exited(child);
      child.kill(signal);
      expect(await ended).toBe(130);
      expect(readdirSync(folder).filter((f) => f.startsWith(signal))).toEqual([]);
      expect(readdirSync(work)).toEqual([]);
      await until(() => running(`${out}.part`).length === 0);
    },
    60_000,
  );

  test('that is killed takes its ffmpegs with it; the next command clears its temporary folder', async () => {
    const out = join(folder, 'killed.mp4');
    const child = startExport(out);
    await until(() => existsSync(`${out}.part`));
    const ended = exited(child);
    child.kill('SIGKILL');
    await ended;
    await until(() => running(`${out}.part`).length === 0, 5);
    expect(readdirSync(work)).toHaveLength(1);
    execFileSync('node', ['build/engine/cli.mjs', 'probe', clip], {
      env: { ...process.env, GLIMBO_WORK: work },
      stdio: 'ignore',
    });
    expect(readdirSync(work)).toEqual([]);
  }, 60_000);
});

test('a cancel is heard whenever it comes: before the start, in its first moments, later', async () => {
  process.env.GLIMBO_WORK = work;
  for (const after of [0, 5, 40, 150, 400, 900]) {
    const stop = new AbortController();
    const timer = setTimeout(() => stop.abort(), after);
    if (!after) stop.abort();
    const began = performance.now();
    const out = join(folder, `after-${after}.mp4`);
    await expect(
      exportClip(
        newTake(clip, 15),
        wholeSphere(clip),
        out,
        { width: 1920, height: 1080, codec: 'h264' },
        { signal: stop.signal },
      ),
    ).rejects.toThrow();
    clearTimeout(timer);
    expect(performance.now() - began).toBeLessThan(after + 3000);
    expect(readdirSync(work)).toEqual([]);
    expect(existsSync(`${out}.part`)).toBe(false);
    await until(() => running(`${out}.part`).length === 0, 5);
  }
  delete process.env.GLIMBO_WORK;
}, 60_000);

test('temporary folders of processes that live are left alone', () => {
  process.env.GLIMBO_WORK = work;
  const mine = temporaryFolder('test');
  mkdirSync(join(work, 'glimbo-4194000-render-x'));
  mkdirSync(join(work, 'of-somebody-else'));
  expect(clearAbandoned(work)).toBe(1);
  expect(readdirSync(work).sort()).toEqual([mine.split('/').at(-1), 'of-somebody-else'].sort());
  removeTemporary(mine);
  rmSync(join(work, 'of-somebody-else'), { recursive: true });
  expect(readdirSync(work)).toEqual([]);
  delete process.env.GLIMBO_WORK;
});
