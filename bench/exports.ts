/** Exports of a moving camera against ffmpeg's scaling of the same footage, and against its own moving camera. */
import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setMoment } from '@glimbo/core/path/edit';
import { viewAt } from '@glimbo/core/path/path';
import { DEFAULT_QUALITY } from '@glimbo/core/take/clip';
import { newTake, type Take } from '@glimbo/core/take/take';
import { engineFolder } from '@glimbo/media/ffmpeg';
import { encoderArguments } from '@glimbo/media/render/clip';
import { compete, folder, measure, root, type Contestants } from './measure.js';

const FRAMES = 120;
const RATE = 30;
const SECONDS = FRAMES / RATE;
const footage = join(folder, 'footage-4k.mp4');

function takeOf(name: string, take: Take): string {
  const file = join(folder, `${name}.json`);
  writeFileSync(file, JSON.stringify(take));
  return file;
}

/** A camera that moves all the time: once round in the whole clip, nodding and zooming. */
function moving(bend: 0 | 1): Take {
  const take = newTake(footage, FRAMES / RATE);
  const planet = bend === 1;
  take.path = setMoment(take.path, 0, { pan: -150, tilt: planet ? -90 : -12, fov: planet ? 270 : 70, bend }, 'linear');
  take.path = setMoment(take.path, SECONDS / 2, { pan: 20, tilt: planet ? -80 : 10, fov: planet ? 250 : 85 }, 'linear');
  take.path = setMoment(take.path, SECONDS, { pan: 210, tilt: planet ? -90 : -5, fov: planet ? 270 : 70 }, 'linear');
  return take;
}

/** The same move as commands for v360, one set a frame: its own way of moving the camera. */
function v360Commands(take: Take): string {
  const lines: string[] = [];
  for (let n = 0; n < FRAMES; n++) {
    const view = viewAt(take.path, n / RATE);
    const wide = (2 * Math.atan((Math.tan((view.fov * Math.PI) / 360) * 16) / 9) * 180) / Math.PI;
    const pan = ((((view.pan + 180) % 360) + 360) % 360) - 180;
    const set = [
      ['yaw', pan],
      ['pitch', view.tilt],
      ['h_fov', wide],
      ['v_fov', view.fov],
    ] as const;
    lines.push(`${(n / RATE).toFixed(4)} ${set.map(([key, v]) => `v360 ${key} ${v.toFixed(4)}`).join(', ')};`);
  }
  const file = join(folder, 'v360.cmd');
  writeFileSync(file, lines.join('\n'));
  return file;
}

/** `quick` leaves out v360, which takes minutes a round. */
export async function benchExports(rounds: number, quick: boolean) {
  process.stderr.write('preparing 4K footage\n');
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-t',
    String(FRAMES / RATE),
    '-i',
    join(root, 'packages/demo/clips/ridge-loop.mp4'),
    '-vf',
    'scale=3840:1920:flags=lanczos',
    '-c:v',
    'libx265',
    '-preset',
    'fast',
    '-x265-params',
    'log-level=error',
    '-b:v',
    '20M',
    '-colorspace',
    'bt709',
    '-color_primaries',
    'bt709',
    '-color_trc',
    'bt709',
    '-c:a',
    'copy',
    footage,
  ]);

  const encode = encoderArguments({ codec: 'h264', quality: DEFAULT_QUALITY });
  const ff = (filter: string) => [
    '-v',
    'error',
    '-nostdin',
    '-y',
    '-i',
    footage,
    '-vf',
    filter,
    ...encode,
    '-c:a',
    'aac',
    '-b:a',
    '192k',
    join(folder, 'ff.mp4'),
  ];
  const cli = (take: string) => [
    join(engineFolder(), 'cli.mjs'),
    'export',
    take,
    '--out',
    join(folder, 'own.mp4'),
    '--size',
    '1920x1080',
  ];
  const flat = moving(0);
  const contestants: Contestants = {
    'glimbo, moving camera': () => measure('node', cli(takeOf('flat', flat))),
    'glimbo, moving planet': () => measure('node', cli(takeOf('planet', moving(1)))),
    'ffmpeg decode + scale + encode': () => measure('ffmpeg', ff('scale=1920:1080')),
    'ffmpeg v360, moving camera': () =>
      measure('ffmpeg', ff(`sendcmd=f=${v360Commands(flat)},v360=e:flat:w=1920:h=1080:interp=cubic`)),
  };

  if (quick) delete contestants['ffmpeg v360, moving camera'];

  console.log(`${FRAMES} frames, 3840 × 1920 H.265 to 1920 × 1080 H.264 with sound, medians of ${rounds}`);
  const { ratio } = await compete(contestants, rounds);
  for (const own of ['glimbo, moving camera', 'glimbo, moving planet'])
    ratio(own, 'ffmpeg decode + scale + encode', 1.25);
  if (!quick) ratio('glimbo, moving camera', 'ffmpeg v360, moving camera', 0.25);
}
