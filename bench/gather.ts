/**
 * Gathering against ffmpeg alone making the same proxy, on two lengths of 4K footage; from the two, what ten minutes
 * would take.
 */
import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { BT709, engineFolder } from '@glimbo/media/ffmpeg';
import { PROXY_ENCODER } from '@glimbo/media/gather';
import { compete, folder, measure, root } from './measure.js';

const LENGTHS = [6, 24] as const;
const TEN_MINUTES = 600;

export async function benchGather(rounds: number) {
  process.stderr.write('preparing 4K footage\n');
  const clip = join(root, 'packages/demo/clips/turntable.mp4');
  const files = LENGTHS.map((seconds) => {
    const file = join(folder, `footage-${seconds}.mp4`);
    execFileSync('ffmpeg', [
      '-v',
      'error',
      '-y',
      '-stream_loop',
      '3',
      '-i',
      clip,
      '-t',
      String(seconds),
      '-vf',
      'scale=3840:1920',
      '-c:v',
      'libx265',
      '-preset',
      'superfast',
      '-x265-params',
      'log-level=error',
      '-b:v',
      '20M',
      '-c:a',
      'copy',
      file,
    ]);
    return file;
  });
  const alone = (file: string) => [
    '-v', 'error', '-nostdin', '-y', '-i', file, '-vf', 'scale=1920:960:flags=bicubic', ...PROXY_ENCODER,
    '-pix_fmt', 'yuv420p', ...BT709, '-c:a', 'aac', '-b:a', '128k', '-ac', '2', join(folder, 'proxy.mp4'),
  ]; // prettier-ignore
  const own = (file: string) => [join(engineFolder(), 'cli.mjs'), 'sweep', file, '--out', join(folder, 'sweep.png')];
  console.log(
    `3840 × 1920 H.265 to a 1920 × 960 proxy; Glimbo makes thumbnails, Sweep, activity and sound besides; medians of ${rounds}`,
  );
  const { of, ratio } = await compete(
    Object.fromEntries(
      LENGTHS.flatMap((seconds, i) => [
        [`gathered, ${seconds} s`, () => measure('node', own(files[i]!))],
        [`ffmpeg alone, ${seconds} s`, () => measure('ffmpeg', alone(files[i]!))],
      ]),
    ),
    rounds,
  );
  for (const seconds of LENGTHS) ratio(`gathered, ${seconds} s`, `ffmpeg alone, ${seconds} s`, 1.2);
  const [short, long] = LENGTHS;
  const whole = (name: string) => {
    const slope = (of(`${name}, ${long} s`, 'wall') - of(`${name}, ${short} s`, 'wall')) / (long - short);
    return of(`${name}, ${short} s`, 'wall') + slope * (TEN_MINUTES - short);
  };
  const [mine, theirs] = [whole('gathered'), whole('ffmpeg alone')];
  console.log(
    `ten minutes, extrapolated: ${mine.toFixed(0)} s gathered, ${theirs.toFixed(0)} s ffmpeg alone: ${(mine / theirs).toFixed(2)} (goal 1.2)`,
  );
}
