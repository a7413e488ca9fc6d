/** The application's pieces of work, done without a process of their own: what they report, and what they say when they cannot. */
import { afterAll, beforeAll, describe, expect, jest, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { newTake } from '@glimbo/core/take/take';
import { runTask } from '../src/run-task.js';
import type { Report, Task } from '../src/task.js';

// It waits for processes, on any machine.
jest.setTimeout(120_000);

process.env.GLIMBO_ENGINE = resolve('build/engine');
const folder = mkdtempSync(join(tmpdir(), 'glimbo-task-'));
const at = (name: string) => join(folder, name);
afterAll(() => rmSync(folder, { recursive: true, force: true }));
beforeAll(() => {
  execFileSync('ffmpeg', [
    ...[
      '-v',
      'error',
      '-y',
      '-f',
      'lavfi',
      '-i',
      'testsrc2=s=512x256:r=10:d=2',
      '-c:v',
      'libx264',
      '-pix_fmt',
      'yuv420p',
    ],
    at('clip.mp4'),
  ]);
  writeFileSync(at('words.csv'), 'this is\nno table\n');
  const rows = Array.from({ length: 200 }, (_, i) => `${i / 100},${Math.sin(i)},${Math.cos(i * 1.7)},0.3`);
  writeFileSync(at('another.csv'), ['time,rate_x,rate_y,rate_z', ...rows].join('\n'));
});

const recording = { files: [at('clip.mp4')], source: { kind: 'sphere' as const } };
async function run(task: Task) {
  const said: Report[] = [];
  const done = await runTask(task, (report) => void said.push(report), new AbortController().signal);
  return { done, said };
}
const motion = (sidecar: string): Task => ({
  kind: 'motion',
  proxy: at('clip.mp4'),
  rate: 10,
  frames: 20,
  method: 'quick',
  sidecar: { file: at(sidecar), use: 'replace' },
  out: at('motion.json'),
});

describe('a piece of work', () => {
  test('reports how far an export is, and what came of it', async () => {
    const settings = { width: 160, height: 90, codec: 'h264' as const };
    const task = { kind: 'export', take: newTake('clip.mp4', 2), recording, settings, picture: at('now.jpg') } as const;
    const { done, said } = await run({ ...task, out: at('out.mp4') });
    expect(done).toMatchObject({ frames: 20, width: 160, height: 90 });
    expect(said.at(-1)).toEqual({ progress: 1 });
  });

  test('looks at every recording of a folder, the bad ones too', async () => {
    writeFileSync(at('broken.mp4'), 'no video');
    const { done, said } = await run({
      kind: 'examine',
      recordings: [[at('clip.mp4')], [at('broken.mp4')]],
      known: [],
    });
    expect(done).toEqual({ examined: 2 });
    const parts = said.flatMap((r) => ('part' in r ? [r.part] : []));
    expect(parts).toMatchObject([{ facts: { width: 512 } }, { problem: expect.stringMatching(/not a video/) }]);
  });

  test.each([
    ['words.csv', /cannot be read: its first line does not name the columns/],
    ['another.csv', /does not fit: it does not belong to this footage.* Analyse without it\./],
  ])('with the sidecar %s says what is wrong and what was kept, and writes nothing', async (sidecar, words) => {
    const failed = run(motion(sidecar));
    await expect(failed).rejects.toThrow(words);
    await expect(failed).rejects.toThrow(/earlier analysis, if there is one, was kept/);
    expect(existsSync(at('motion.json'))).toBe(false);
  });

  test('whose card is gone says so, and leaves nothing half copied', async () => {
    mkdirSync(at('originals'));
    const item = { id: 'a', name: 'One', files: ['one.mp4'] };
    const task = { kind: 'copy', card: at('card'), recordings: [item], tags: [], folder: at('originals') } as const;
    await expect(run({ ...task, recordings: [item], tags: [], targets: [[at('originals/a.mp4')]] })).rejects.toThrow(
      /card is not inserted/,
    );
    expect(readdirSync(at('originals'))).toEqual([]);
  });
});
