import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  angleBetween,
  anglesOf,
  apply,
  matrixOf,
  multiply,
  quaternionOf,
  rotationOf,
  slerp,
  transpose,
  turnBetween,
  unwrapNear,
  wrapHeading,
} from '../src/geometry/rotation.js';
import { directionOf, equirectangularOf, lonLatOf } from '../src/geometry/sphere.js';
import { maxFov } from '../src/lens/projection.js';
import { cameraOf, DEFAULT_VIEW, directionAt, outline, pixelOf, readOut, type View } from '../src/lens/view.js';

const angle = (limit: number) => fc.double({ min: -limit, max: limit, noNaN: true });
const views: fc.Arbitrary<View> = fc
  .record({
    pan: angle(180),
    tilt: angle(89),
    roll: angle(180),
    bend: fc.double({ min: 0, max: 3, noNaN: true }),
    share: fc.double({ min: 0.1, max: 0.95, noNaN: true }),
  })
  .map(({ share, ...v }) => ({ ...DEFAULT_VIEW, ...v, fov: 5 + share * (maxFov(v.bend) - 5) }));

describe('directions and rotations', () => {
  test('have the signs of the conventions', () => {
    const ahead = (pan: number, tilt: number) => apply(rotationOf({ pan, tilt, roll: 0 }), [0, 0, 1]);
    expect(ahead(30, 0)[0]).toBeCloseTo(0.5, 12);
    expect(ahead(0, 30)[1]).toBeCloseTo(0.5, 12);
    // Rolled clockwise as seen from behind, the camera's up leans to the right.
    expect(apply(rotationOf({ pan: 0, tilt: 0, roll: 30 }), [0, 1, 0])[0]).toBeCloseTo(0.5, 12);
    expect(equirectangularOf([0, 0, 1], 3840, 1920)).toEqual({ u: 1920, v: 960 });
    expect(equirectangularOf([1, 0, 0], 3840, 1920).u).toBeCloseTo(2880, 9);
    expect(equirectangularOf([0, 1, 0], 3840, 1920).v).toBeCloseTo(0, 9);
  });

  test('go to angles, quaternions and back', () => {
    fc.assert(
      fc.property(angle(180), angle(89), angle(180), (pan, tilt, roll) => {
        const m = rotationOf({ pan, tilt, roll });
        for (const back of [rotationOf(anglesOf(m)), matrixOf(quaternionOf(m))])
          m.forEach((v, i) => expect(back[i]).toBeCloseTo(v, 9));
        multiply(m, transpose(m)).forEach((v, i) => expect(v).toBeCloseTo(i % 4 === 0 ? 1 : 0, 9));
      }),
    );
  });

  test('slerp goes evenly along the shortest turn', () => {
    const a = quaternionOf(rotationOf({ pan: 170, tilt: 0, roll: 0 }));
    const b = quaternionOf(rotationOf({ pan: -170, tilt: 0, roll: 0 }));
    expect(turnBetween(a, b)).toBeCloseTo(20, 6);
    expect(Math.abs(anglesOf(matrixOf(slerp(a, b, 0.5))).pan)).toBeCloseTo(180, 6);
    expect(turnBetween(a, slerp(a, b, 0.25))).toBeCloseTo(5, 6);
  });

  test('unwrap to the nearest equivalent and wrap for reading', () => {
    expect(unwrapNear(-170, 190)).toBe(190);
    expect(unwrapNear(10, 725)).toBe(730);
    expect(wrapHeading(370)).toBe(10);
    expect(wrapHeading(-190)).toBe(170);
  });

  test('longitude and latitude are the inverse of a direction', () => {
    fc.assert(
      fc.property(angle(180), angle(89.9), (lon, lat) => {
        const back = lonLatOf(directionOf(lon, lat));
        expect(angleBetween(directionOf(lon, lat), directionOf(back.longitude, back.latitude))).toBeLessThan(1e-6);
      }),
    );
  });
});

describe('the camera', () => {
  test('pixel to direction to pixel is the identity for every bend', () => {
    fc.assert(
      fc.property(
        views,
        fc.double({ min: 0, max: 1920, noNaN: true }),
        fc.double({ min: 0, max: 1080, noNaN: true }),
        (view, px, py) => {
          const camera = cameraOf(view, 1920, 1080);
          const direction = directionAt(camera, px, py);
          // Beyond a marble's edge there is nothing to be seen.
          fc.pre(direction !== null);
          expect(Math.hypot(...direction!)).toBeCloseTo(1, 9);
          const back = pixelOf(camera, direction!);
          expect(back).not.toBeNull();
          expect(Math.hypot(back!.x - px, back!.y - py)).toBeLessThan(0.02);
        },
      ),
    );
  });

  test('shows the field of view across the shorter side, wide or tall', () => {
    const view = { ...DEFAULT_VIEW, fov: 60 };
    expect(readOut(view, 1920, 1080).vertical).toBeCloseTo(60, 9);
    expect(readOut(view, 1080, 1920).horizontal).toBeCloseTo(60, 9);
    // A 36 × 24 frame with the angle of a 50 mm lens reads 50 mm.
    const fifty = (2 * Math.atan(12 / 50) * 180) / Math.PI;
    expect(readOut({ ...DEFAULT_VIEW, fov: fifty }, 3600, 2400).focalLength).toBeCloseTo(50, 6);
  });

  test('its outline is a closed line of finite directions, round a planet and a marble too', () => {
    for (const bend of [0, 0.5, 1, 2.4]) {
      const line = outline(cameraOf({ ...DEFAULT_VIEW, bend, fov: bend < 1 ? 100 : 300 }, 1080, 1920), 8);
      expect(line).toHaveLength(33);
      expect(line[0]).toEqual(line.at(-1));
      expect(line.flat().every(Number.isFinite)).toBe(true);
    }
  });
});
