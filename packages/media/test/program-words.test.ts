/** What is told where ffmpeg fails: sentences for the user, never its own words. */
import { afterAll, expect, jest, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { finished, MediaError, output, start } from '../src/ffmpeg.js';
import { whyItEnded } from '../src/program-words.js';
import { readRecording } from '../src/recording.js';

// It waits for ffmpeg, on any machine.
jest.setTimeout(120_000);

const folder = mkdtempSync(join(tmpdir(), 'glimbo-words-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** What is told of a command that fails, and ffmpeg's own words. */
async function toldOf(args: string[]): Promise<{ told: string; own: string }> {
  const error = await output('ffmpeg', ['-v', 'error', '-nostdin', '-y', ...args]).then(
    () => null,
    (e: Error) => e,
  );
  expect(error).toBeInstanceOf(MediaError);
  return { told: error!.message, own: String(error!.cause) };
}

const SENTENCE = /^[A-Z][^@{}[]*\.$/;

test('a missing file, a broken one and impossible settings are told in sentences', async () => {
  const broken = join(folder, 'broken.mp4');
  writeFileSync(broken, 'no video at all');
  for (const [args, words] of [
    [['-i', join(folder, 'gone.mp4'), '-f', 'null', '-'], /not in its place/],
    [['-i', broken, '-f', 'null', '-'], /damaged or cut short/],
    [
      ['-f', 'lavfi', '-i', 'color=s=64x32:d=1', '-c:v', 'libx264', '-s', '63x33', join(folder, 'x.mp4')],
      /another codec/,
    ],
  ] as const) {
    const { told, own } = await toldOf([...args]);
    expect(told).toMatch(words);
    expect(told).toMatch(SENTENCE);
    expect(own.length).toBeGreaterThan(10);
  }
});

test('a program that is killed says so, whatever it wrote', async () => {
  const child = start(
    'ffmpeg',
    ['-f', 'lavfi', '-re', '-i', 'color=s=64x32:d=100', '-f', 'null', '-'],
    ['ignore', 'ignore', 'pipe'],
  );
  const ended = finished(child);
  child.stderr!.once('data', () => child.kill('SIGKILL'));
  await expect(ended).rejects.toThrow(/ended from outside/);
  await expect(ended).rejects.not.toThrow(/SIGKILL/);
  expect(
    whyItEnded(1, null, '[mp4 @ 0x1] Application provided invalid, non monotonically increasing dts to muxer'),
  ).toMatch(SENTENCE);
  expect(whyItEnded(1, null, 'something that nobody has seen yet [graph 0 @ 0x2]')).toMatch(SENTENCE);
});

test('a source that is said to be joined of more than there is is refused', async () => {
  const file = join(folder, 'one.mp4');
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'color=s=128x64:d=1', file]);
  expect(readFileSync(file).length).toBeGreaterThan(100);
  const joined = (join: 'files' | 'streams') => ({ files: [file], source: { kind: 'sphere' as const, join } });
  await expect(readRecording(joined('files'))).rejects.toThrow(/is one file/);
  await expect(readRecording(joined('streams'))).rejects.toThrow(/has one picture/);
});
