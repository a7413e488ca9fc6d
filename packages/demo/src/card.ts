/** The simulated camera card of the demo: recordings as a two-lens camera would leave them, two of them unwell. */
import { execFile } from 'node:child_process';
import { copyFile, mkdir, open, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { promisify } from 'node:util';

const run = promisify(execFile);
const ffmpeg = (args: string[]) => run('ffmpeg', ['-v', 'error', '-nostdin', '-y', ...args]);

/**
 * Makes the card in a folder from the demo's clips:
 * HALT_0001 two lenses, with a companion · HALT_0002 a stitched sphere, the same as the demo's Turntable · HALT_0003 two lenses, short, no companion ·
 * HALT_0004 broken off while it was written · HALT_0005 without its second lens's file.
 */
export async function makeCard(clips: string, folder: string): Promise<void> {
  const part = `${folder}.part`;
  await rm(part, { recursive: true, force: true });
  const films = join(part, 'FILMS');
  await mkdir(films, { recursive: true });
  const [a, b] = ['a', 'b'].map((lens) => join(clips, `signal-corner-${lens}.mp4`)) as [string, string];
  await companion(['-i', a, '-i', b], '[0:v][1:v]hstack,scale=640:320', join(films, 'HALT_0001.LOW.MP4'));
  await copyFile(join(clips, 'turntable.mp4'), join(films, 'HALT_0002.MP4'));
  await companion(['-i', join(clips, 'turntable.mp4')], '[0:v]scale=640:320', join(films, 'HALT_0002.LOW.MP4'));
  for (const [lens, from] of [
    ['A', a],
    ['B', b],
  ] as const) {
    await ffmpeg(['-i', from, '-t', '7.5', '-c', 'copy', '-f', 'mp4', join(films, `HALT_0001_${lens}.MP4`)]);
    await ffmpeg(['-i', from, '-t', '3', '-c', 'copy', '-f', 'mp4', join(films, `HALT_0003_${lens}.MP4`)]);
  }
  await copyFile(join(clips, 'ridge-loop.mp4'), join(films, 'HALT_0004.MP4'));
  const { size } = await stat(join(films, 'HALT_0004.MP4'));
  const broken = await open(join(films, 'HALT_0004.MP4'), 'r+');
  await broken.truncate(Math.round(size * 0.6));
  await broken.close();
  await ffmpeg(['-i', a, '-ss', '4', '-c', 'copy', '-f', 'mp4', join(films, 'HALT_0005_A.MP4')]);
  await rm(folder, { recursive: true, force: true });
  await rename(part, folder);
}

const companion = (inputs: string[], filter: string, out: string) =>
  ffmpeg([
    ...inputs,
    '-filter_complex',
    `${filter},format=yuv420p[v]`,
    '-map',
    '[v]',
    '-an',
    '-c:v',
    'libx264',
    '-preset',
    'veryfast',
    '-crf',
    '28',
    '-f',
    'mp4',
    out,
  ]);
