/** What a look costs: exports of the same moving camera with and without, and playing with one. */
import { withDetail, withLook, withShutter } from '@glimbo/core/take/look';
import type { Look } from '@glimbo/core/take/take';
import { exporting, moving, prepareFootage, takeOf } from './exports.js';
import { compete, measure } from './measure.js';

const GRADE: Look['grade'] = { exposure: 0.3, contrast: 15, temperature: 12, shadows: 20, saturation: 10 };
const KEYED: Look['grade'] = {
  ...GRADE,
  exposure: [
    { time: 0, value: 0 },
    { time: 3, value: 1 },
  ],
};

const PLAIN = 'no look';
const TABLE = 'a table';
const FULL = 'a table, clarity, sharpening';
const CHANGING = 'a table that changes each frame';
const STILL = 'no look, camera stands still';
const STILL_BLURRED = 'shutter 180°, camera stands still';

export async function benchLook(rounds: number) {
  prepareFootage();
  const plain = moving(0);
  const standing = { ...plain, path: { ...plain.path, pan: 20, tilt: 0, fov: 75 } };
  const table = withLook(plain, { grade: GRADE });
  const full = withDetail(table, { clarity: 40, sharpen: { amount: 80, radius: 1, threshold: 2 } });
  const takes = {
    [PLAIN]: plain,
    [TABLE]: table,
    [FULL]: full,
    [CHANGING]: withLook(plain, { grade: KEYED }),
    [STILL]: standing,
    [STILL_BLURRED]: withShutter(standing, 180),
  };
  const contestants = Object.fromEntries(
    Object.entries(takes).map(([name, take], i) => {
      const document = takeOf(`look-${i}`, take);
      return [name, () => measure('node', exporting(document))];
    }),
  );
  const { ratio } = await compete(contestants, rounds);
  ratio(TABLE, PLAIN, 1.25);
  ratio(FULL, PLAIN, 1.25);
  ratio(CHANGING, PLAIN, 1.25);
  ratio(STILL_BLURRED, STILL, 1.02);
}
