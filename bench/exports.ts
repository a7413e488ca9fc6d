/**
 * Exports of a moving camera against ffmpeg's scaling of the same footage, against decoding it and encoding the very pictures
 * that were drawn, so that the encoder's work is the same, and against ffmpeg's own moving camera.
 */
import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setViewKey } from '@glimbo/core/path/edit';
import { TAKE_ALONE, viewOf } from '@glimbo/core/view/view-of';
import { DEFAULT_QUALITY } from '@glimbo/core/export/codecs';
import { newTake, type Take } from '@glimbo/core/take/take';
import { engineFolder } from '@glimbo/media/ffmpeg';
import { encoderArguments } from '@glimbo/media/render/encoders';
import { compete, folder, measure, root, type Contestants } from './measure.js';

const RATE = 30;
/** Seconds of what is exported against the floors, and of what is exported with one look or another. */
const LONG = 10;
const SHORT = 3;
const footage = join(folder, 'footage-4k.mp4');

export function takeOf(name: string, take: Take): string {
  const file = join(folder, `${name}.json`);
  writeFileSync(file, JSON.stringify(take));
  return file;
}

/** A camera that moves all the time: once round in so many seconds, nodding and zooming. */
export function moving(bend: 0 | 1, seconds = SHORT): Take {
  const take = newTake(footage, seconds);
  const planet = bend === 1;
  take.path = setViewKey(take.path, 0, { pan: -150, tilt: planet ? -90 : -12, fov: planet ? 270 : 70, bend }, 'linear');
  take.path = setViewKey(
    take.path,
    seconds / 2,
    { pan: 20, tilt: planet ? -80 : 10, fov: planet ? 250 : 85 },
    'linear',
  );
  take.path = setViewKey(take.path, seconds, { pan: 210, tilt: planet ? -90 : -5, fov: planet ? 270 : 70 }, 'linear');
  return take;
}

/** The same move as commands for v360, one set a frame: its own way of moving the camera. */
function v360Commands(take: Take): string {
  const lines: string[] = [];
  for (let n = 0; n < LONG * RATE; n++) {
    const view = viewOf(take, TAKE_ALONE, n / RATE);
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

/** Makes the footage that is exported, so many seconds long. */
export function prepareFootage(seconds = SHORT) {
  process.stderr.write('preparing 4K footage\n');
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-t',
    String(seconds),
    '-i',
    join(root, 'packages/demo/clips/ridge-loop.mp4'),
    '-vf',
    'scale=3840:1920:flags=lanczos',
    '-c:v',
    'libx264',
    '-preset',
    'fast',
    '-b:v',
    '25M',
    '-color_range',
    'tv',
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
}

/** Exporting a take document with the command line. */
export const exporting = (take: string) => [
  join(engineFolder(), 'cli.mjs'),
  ...['export', take, '--out', join(folder, 'own.mp4'), '--size', '1920x1080'],
];

/** `quick` leaves out v360, which takes minutes a round. */
export async function benchExports(rounds: number, quick: boolean) {
  prepareFootage(LONG);
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
  const flat = takeOf('flat', moving(0, LONG));
  const planet = takeOf('planet', moving(1, LONG));
  const commands = v360Commands(moving(0, LONG));
  const same = drawnBy(exporting(flat));
  const contestants: Contestants = {
    [OWN]: () => measure('node', exporting(flat)),
    [PLANET]: () => measure('node', exporting(planet)),
    [SCALED]: () => measure('ffmpeg', ff('scale=1920:1080')),
    [SAME]: () =>
      measure('ffmpeg', [
        ...['-v', 'error', '-nostdin', '-y', '-i', footage, '-i', same],
        ...['-map', '0:v', '-f', 'null', '-', '-map', '1:v', '-map', '0:a', ...encode, '-c:a', 'aac', '-b:a', '192k'],
        join(folder, 'same.mp4'),
      ]),
    [V360]: () => measure('ffmpeg', ff(`sendcmd=f=${commands},v360=e:flat:w=1920:h=1080:interp=cubic`)),
  };
  if (quick) delete contestants[V360];

  console.log(`${LONG * RATE} frames, 3840 × 1920 H.264 to 1920 × 1080 H.264 with sound, medians of ${rounds}`);
  const { ratio } = await compete(contestants, rounds);
  for (const own of [OWN, PLANET]) ratio(own, SCALED, 1.25);
  ratio(OWN, SAME, 1.08);
  if (!quick) ratio(OWN, V360, 0.25);
}

const OWN = 'glimbo, moving camera';
const PLANET = 'glimbo, moving planet';
const SCALED = 'ffmpeg decode + scale + encode';
const SAME = 'ffmpeg decode + encode what was drawn';
const V360 = 'ffmpeg v360, moving camera';

/** The pictures that an export truly draws, from one without loss, laid down raw. */
function drawnBy(command: string[]): string {
  const raw = join(folder, 'drawn.y4m');
  execFileSync('node', [...command, '--quality', '0'], { stdio: 'ignore' });
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', join(folder, 'own.mp4'), '-an', '-f', 'yuv4mpegpipe', raw]);
  return raw;
}
