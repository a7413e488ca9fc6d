/** Which rows of a picture are needed: never too few. */
import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { apply, IDENTITY, rotationOf } from '../src/geometry/rotation.js';
import { cameraDirection, type Camera } from '../src/lens/view.js';
import { latitudesSeen, rowsOfBand, WHOLE } from '../src/plan/rows.js';
import { viewShot } from '../src/plan/shot.js';

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const view = fc.record({
  pan: number(-180, 180),
  tilt: number(-90, 90),
  roll: number(-180, 180),
  fov: number(8, 200),
  bend: number(0, 1),
  shiftX: number(-0.5, 0.5),
  shiftY: number(-0.5, 0.5),
});
const source = { kind: 'sphere' } as const;

test('the band of latitudes holds everything that any pixel of the frame sees', () => {
  fc.assert(
    fc.property(
      view,
      number(-30, 30),
      fc.constantFrom([320, 180], [180, 320], [240, 240]),
      (v, lean, [width, height]) => {
        const correction = rotationOf({ pan: 20, tilt: lean, roll: lean });
        const shot = viewShot(v, correction, { source, time: 0, width: width!, height: height! });
        const { south, north } = latitudesSeen(shot);
        for (let y = 0.5; y < height!; y += 6)
          for (let x = 0.5; x < width!; x += 6) {
            const d = cameraDirection(shot.picture as Camera, x, y);
            if (!d) continue;
            const latitude = Math.asin(Math.max(-1, Math.min(1, apply(shot.toSource, d)[1])));
            if (latitude < south - 1e-9 || latitude > north + 1e-9) throw new Error(`${latitude} at ${x}, ${y}`);
          }
      },
    ),
    { numRuns: 300 },
  );
});

test('a level view of 60° needs less than half of the picture, one of a pole reaches it', () => {
  const shot = (tilt: number) =>
    viewShot({ pan: 0, tilt, roll: 0, fov: 60, bend: 0, shiftX: 0, shiftY: 0 }, IDENTITY, {
      source,
      time: 0,
      width: 1920,
      height: 1080,
    });
  const level = rowsOfBand(latitudesSeen(shot(0)), 1920);
  expect(level.rows).toBeLessThan(0.45 * 1920);
  expect([level.top % 2, level.rows % 2]).toEqual([0, 0]);
  expect(latitudesSeen(shot(80)).north).toBe(WHOLE.north);
  expect(rowsOfBand(WHOLE, 1920)).toEqual({ top: 0, rows: 1920 });
});
