/** What stitching adds to an export: the same take from a two-lens recording, and from a stitched master of it. */
import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setViewKey } from '@glimbo/core/path/edit';
import { twoLenses } from '@glimbo/core/stitch/source';
import { newTake } from '@glimbo/core/take/take';
import { inOnePicture, LENS_SIDE, TRUE } from '@glimbo/demo/lenses';
import { engineFolder } from '@glimbo/media/ffmpeg';
import { compete, folder, measure, root } from './measure.js';

const SECONDS = 4;
const cli = join(engineFolder(), 'cli.mjs');

export async function benchStitch(rounds: number) {
  const [a, b] = ['a', 'b'].map((lens) => join(root, `packages/demo/clips/signal-corner-${lens}.mp4`)) as [
    string,
    string,
  ];
  const source = join(folder, 'pair.source.json');
  const lenses = twoLenses(2 * LENS_SIDE, LENS_SIDE, 204, inOnePicture(TRUE));
  writeFileSync(
    source,
    JSON.stringify({
      format: 'glimbo-source',
      version: 1,
      second: b,
      source: { ...lenses, join: 'files', track: flatTrack() },
    }),
  );
  const take = (footage: string, name: string) => {
    const t = newTake(footage, SECONDS);
    t.path = setViewKey(t.path, 0, { pan: -150, tilt: -12, fov: 70 }, 'linear');
    t.path = setViewKey(t.path, SECONDS, { pan: 210, tilt: 8, fov: 85 }, 'linear');
    const file = join(folder, `${name}.json`);
    writeFileSync(file, JSON.stringify(t));
    return file;
  };
  process.stderr.write('writing the stitched master\n');
  const pair = take(a, 'pair');
  const master = join(folder, 'master.mp4');
  execFileSync(
    'node',
    [cli, 'export', pair, '--source', source, '--sphere', '--codec', 'h265', '--bitrate', '3500k', '--out', master],
    { stdio: 'ignore' },
  );
  const out = ['--out', join(folder, 'out.mp4'), '--size', '1920x1080'];
  console.log(
    `${SECONDS * 30} frames, two lenses of ${LENS_SIDE} × ${LENS_SIDE} H.265 to 1920 × 1080 H.264, medians of ${rounds}`,
  );
  const { ratio } = await compete(
    {
      'from two lenses': () => measure('node', [cli, 'export', pair, '--source', source, ...out]),
      'from the stitched master': () => measure('node', [cli, 'export', take(master, 'master'), ...out]),
    },
    rounds,
  );
  ratio('from two lenses', 'from the stitched master', 1.4);
}

/** A track as a real one is long, so that matching and a moving seam are part of what is measured. */
function flatTrack() {
  const moments = Math.ceil(SECONDS / 0.2) + 1;
  return {
    every: 0.2,
    ratios: Array.from({ length: moments }, () => new Array<number>(48).fill(0.1)),
    seam: Array.from({ length: moments }, (_, n) => Array.from({ length: 72 }, (_, i) => 2 * Math.sin(i / 6 + n))),
  };
}
