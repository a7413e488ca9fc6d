import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  angleAt,
  clampLens,
  cosineAt,
  halfSideRadius,
  limbAngle,
  limbRadius,
  maxFov,
  radiusOf,
} from '../src/lens/projection.js';

const bend = fc.double({ min: 0, max: 4, noNaN: true });

describe('the general perspective projection', () => {
  test('is gnomonic at bend 0 and stereographic at bend 1', () => {
    for (const theta of [0.1, 0.7, 1.2]) {
      expect(radiusOf(theta, 0)).toBeCloseTo(Math.tan(theta), 12);
      expect(radiusOf(theta, 1)).toBeCloseTo(2 * Math.tan(theta / 2), 12);
    }
  });

  test('keeps the size of what is in the middle for every bend', () => {
    fc.assert(fc.property(bend, (d) => expect(radiusOf(1e-5, d) / 1e-5).toBeCloseTo(1, 6)));
  });

  test('forward then inverse is the identity up to the limb', () => {
    fc.assert(
      fc.property(bend, fc.double({ min: 0, max: 0.98, noNaN: true }), (d, share) => {
        const theta = share * Math.min(limbAngle(d), 3.1);
        expect(Math.abs(angleAt(radiusOf(theta, d), d) - theta)).toBeLessThan(1e-6);
      }),
    );
  });

  test('sees nothing outside the ball', () => {
    expect(cosineAt((limbRadius(2) * 1.001) ** 2, 2)).toBeNaN();
    expect(cosineAt((limbRadius(2) * 0.999) ** 2, 2)).not.toBeNaN();
  });
});

describe('the field of view', () => {
  test('reaches the limits the conventions name', () => {
    expect(maxFov(0)).toBeCloseTo(150, 9);
    expect(maxFov(1)).toBe(350);
    expect(maxFov(0.999999)).toBeCloseTo(350, 0);
    for (let d = 0.01; d < 1; d += 0.01) expect(maxFov(d)).toBeLessThan((2 * Math.acos(-d) * 180) / Math.PI);
  });

  test('inside its range is left alone, outside it settles without a jump', () => {
    expect(clampLens(75, 0)).toEqual({ fov: 75, bend: 0 });
    expect(clampLens(350, 1).fov).toBe(350);
    fc.assert(
      fc.property(
        fc.double({ min: -1e4, max: 1e4, noNaN: true }),
        fc.double({ min: -10, max: 20, noNaN: true }),
        (fov, d) => {
          const lens = clampLens(fov, d);
          expect(lens.fov).toBeGreaterThan(2.9);
          expect(lens.fov).toBeLessThanOrEqual(maxFov(lens.bend) + 6);
          const r = halfSideRadius(fov, d);
          expect(Number.isFinite(r) && r > 0).toBe(true);
          expect(Math.abs(clampLens(fov + 1e-3, d).fov - lens.fov)).toBeLessThan(2e-3);
        },
      ),
    );
  });

  test('goes on growing past the limb, so that the whole ball comes into sight', () => {
    const limb = (2 * limbAngle(2) * 180) / Math.PI;
    expect(halfSideRadius(limb, 2)).toBeCloseTo(limbRadius(2), 6);
    expect(halfSideRadius(300, 2)).toBeGreaterThan(limbRadius(2));
  });
});
