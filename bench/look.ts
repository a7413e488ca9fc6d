/** What a look costs: exports of the same moving camera with and without. */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { USUAL_METER } from '@glimbo/core/look/meter';
import { USUAL_PATCH } from '@glimbo/core/look/patch';
import { USUAL_SECTOR, USUAL_TWIN } from '@glimbo/core/look/sector';
import { withDetail, withLook, withShutter } from '@glimbo/core/edit/look';
import type { Look } from '@glimbo/core/look/look';
import { exporting, moving, prepareFootage, takeOf } from './exports.js';
import { compete, folder, measure } from './measure.js';

const GRADE: Look['grade'] = { exposure: 0.3, contrast: 15, temperature: 12, shadows: 20, saturation: 10 };
const KEYED: Look['grade'] = {
  ...GRADE,
  exposure: [
    { time: 0, value: 0 },
    { time: 3, value: 1 },
  ],
};

const PATCH = { ...USUAL_PATCH, kind: 'fill' } as const;
const SECTOR: Look['sector'] = { ...USUAL_SECTOR, from: -60, to: 100, twin: { ...USUAL_TWIN, time: 1, match: false } };

const PLAIN = 'no look';
const TABLE = 'a table';
const FULL = 'a table, clarity, sharpening';
const CHANGING = 'a table that changes each frame';
const STILL = 'no look, camera stands still';
const STILL_BLURRED = 'shutter 180°, camera stands still';
const BLURRED = 'shutter 180°, fast pan';
const CUBE = 'a .cube';
const METERED = 'a Meter, its light known';
const TWIN = 'a sector with a twin';
const PATCHED = 'a patch out of sight';
const DOWN = 'no look, looking down';
const PATCHED_DOWN = 'a patch in sight';

/** A table of 33 points a side beside the takes; gives its name. */
function cubeFile(): string {
  const points = Array.from({ length: 33 ** 3 }, (_, i) => [i % 33, Math.floor(i / 33) % 33, Math.floor(i / 33 ** 2)]);
  const rows = points.map(([r, g, b]) => `${(r! / 32) ** 0.9} ${g! / 32} ${(b! / 32) ** 1.1}`);
  writeFileSync(join(folder, 'bench.cube'), ['LUT_3D_SIZE 33', ...rows].join('\n'));
  return 'bench.cube';
}

export async function benchLook(rounds: number) {
  prepareFootage();
  const plain = moving(0);
  const standing = { ...plain, path: { ...plain.path, pan: 20, tilt: 0, fov: 75 } };
  const down = { ...plain, path: { ...plain.path, tilt: -60 } };
  const table = withLook(plain, { grade: GRADE });
  const full = withDetail(table, { clarity: 40, sharpen: { amount: 80, radius: 1, threshold: 2 } });
  const takes = {
    [PLAIN]: plain,
    [TABLE]: table,
    [FULL]: full,
    [CHANGING]: withLook(plain, { grade: KEYED }),
    [STILL]: standing,
    [STILL_BLURRED]: withShutter(standing, 180),
    [BLURRED]: withShutter(plain, 180),
    [CUBE]: withLook(plain, { lut: { file: cubeFile(), amount: 100 } }),
    [METERED]: withLook(plain, { meter: { ...USUAL_METER, target: 0 } }),
    [TWIN]: withLook(plain, { sector: SECTOR }),
    [PATCHED]: withLook(plain, { patch: PATCH }),
    [DOWN]: down,
    [PATCHED_DOWN]: withLook(down, { patch: PATCH }),
  };
  const contestants = Object.fromEntries(
    Object.entries(takes).map(([name, take], i) => {
      const document = takeOf(`look-${i}`, take);
      return [name, () => measure('node', exporting(document))];
    }),
  );
  // The light of a footage is measured once.
  await contestants[METERED]!();
  const { ratio } = await compete(contestants, rounds);
  ratio(TABLE, PLAIN, 1.06);
  ratio(FULL, PLAIN, 1.25);
  ratio(CHANGING, PLAIN, 1.06);
  ratio(CUBE, PLAIN, 1.06);
  ratio(METERED, PLAIN, 1.05);
  ratio(TWIN, PLAIN, 1.15);
  ratio(PATCHED, PLAIN, 1);
  ratio(PATCHED_DOWN, DOWN, 1.05);
  ratio(BLURRED, PLAIN, 1.6);
  ratio(STILL_BLURRED, STILL, 1.02);
}
