/** Pictures that are turned, lines that are seen, rows of charts, colours. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { toRgb, TO_RGB } from '../src/colour/convert.js';
import { shrinkToRgba, type Planes } from '../src/colour/shrink.js';
import { IDENTITY, rotationOf, type Vec3 } from '../src/geometry/rotation.js';
import { directionOf } from '../src/geometry/sphere.js';
import { isIdentity, quickAtan2, turnRows, turnSphere, type Pixels } from '../src/geometry/turn-pictures.js';
import { projectedLine } from '../src/lens/polyline.js';
import { cameraOf, DEFAULT_VIEW } from '../src/lens/view.js';
import { extremes, framesOfRow } from '../src/sweep/rows.js';

/** A picture whose pixels are their own columns. */
const columns = (width: number, height: number): Pixels => ({
  data: Uint32Array.from({ length: width * height }, (_, i) => i % width),
  width,
  height,
});
const blank = (width: number, height: number): Pixels => ({ data: new Uint32Array(width * height), width, height });

describe('turning', () => {
  test('by nothing changes nothing', () => {
    const [from, to] = [columns(64, 32), blank(64, 32)];
    turnSphere(from, to, IDENTITY);
    expect(to.data).toEqual(from.data);
    expect([isIdentity(IDENTITY), isIdentity(rotationOf({ pan: 1, tilt: 0, roll: 0 }))]).toEqual([true, false]);
  });

  test('a quarter round moves every column by a quarter', () => {
    const [from, to] = [columns(64, 32), blank(64, 32)];
    turnSphere(from, to, rotationOf({ pan: 90, tilt: 0, roll: 0 }));
    for (let x = 0; x < 64; x++) expect(to.data[10 * 64 + x]).toBe((x + 64 - 16) % 64);
    const rows = columns(72, 4);
    turnRows(rows, () => rotationOf({ pan: 90, tilt: 0, roll: 0 }));
    for (let x = 0; x < 72; x++)
      expect(Math.abs(((rows.data[x]! - (x + 72 - 18) + 108) % 72) - 36)).toBeLessThanOrEqual(1);
  });

  test('upside down is upside down', () => {
    const from: Pixels = { data: Uint32Array.from({ length: 64 * 32 }, (_, i) => i >> 6), width: 64, height: 32 };
    const to = blank(64, 32);
    turnSphere(from, to, rotationOf({ pan: 0, tilt: 0, roll: 180 }));
    expect(to.data[5 * 64 + 7]).toBe(31 - 5);
  });

  test('each row by its own', () => {
    const rows = columns(72, 2);
    turnRows(rows, (share) => (share < 0.5 ? IDENTITY : rotationOf({ pan: 180, tilt: 0, roll: 0 })));
    expect([rows.data[3], Math.abs(rows.data[72 + 3]! - 39) <= 1]).toEqual([3, true]);
  });
});

test('the quick angle is the angle, to a hundred-thousandth', () => {
  const length = fc.double({ min: -10, max: 10, noNaN: true });
  fc.assert(
    fc.property(length, length, (y, x) => {
      const miss = Math.abs(quickAtan2(y, x) - Math.atan2(y, x));
      // Exactly behind, −π and π are the same.
      return Math.min(miss, Math.abs(miss - 2 * Math.PI)) < 1.3e-5;
    }),
    {
      numRuns: 2000,
      examples: [
        [0, 0],
        [0, -1],
        [1, 0],
        [-1, 0],
        [1, 1],
      ],
    },
  );
});

describe('a small picture out of planes', () => {
  const planes = (width: number, height: number, y: (x: number, row: number) => number, u = 128, v = 128): Planes => ({
    width,
    height,
    y: Uint8Array.from({ length: width * height }, (_, i) => y(i % width, Math.floor(i / width))),
    u: new Uint8Array((width * height) / 4).fill(u),
    v: new Uint8Array((width * height) / 4).fill(v),
  });

  test('has the colours that the exact conversion gives', () => {
    fc.assert(
      fc.property(fc.nat(255), fc.nat(255), fc.nat(255), (y, u, v) => {
        const [r, g, b] = toRgb(Uint8Array.of(y, u, v), 1);
        const [pixel] = shrinkToRgba(
          planes(8, 4, () => y, u, v),
          2,
          1,
        );
        return pixel === ((255 << 24) | (b! << 16) | (g! << 8) | r!) >>> 0;
      }),
    );
  });

  test('is lit as its parts are, each where it belongs', () => {
    const ramp = planes(64, 32, (x, row) => 16 + 2 * x + row);
    const small = shrinkToRgba(ramp, 8, 4);
    const grey = (i: number) => (small[i]! & 255) * (219 / 255) + 16;
    for (let row = 0; row < 4; row++)
      for (let x = 0; x < 8; x++)
        expect(Math.abs(grey(row * 8 + x) - (16 + 2 * (8 * x + 3.5) + 8 * row + 3.5))).toBeLessThanOrEqual(2);
  });

  test('can be larger than the picture', () => {
    const two = shrinkToRgba(
      planes(2, 2, (x) => (x ? 235 : 16)),
      8,
      4,
    );
    expect([two[0], two[3], two[4], two[7]].map((p) => p! & 255)).toEqual([0, 0, 255, 255]);
  });
});

describe('a line of directions', () => {
  const camera = cameraOf({ ...DEFAULT_VIEW, fov: 60 }, 320, 180);
  test('all in sight is one piece, and one that goes out of sight is broken', () => {
    const level = Array.from({ length: 21 }, (_, i) => directionOf(-20 + 2 * i, 0));
    expect(projectedLine(camera, level)).toHaveLength(1);
    expect(projectedLine(camera, level)[0]!.every(([, y]) => Math.abs(y - 90) < 1e-9)).toBe(true);
    const round = Array.from({ length: 73 }, (_, i) => directionOf(5 * i - 180, 0));
    expect(projectedLine(camera, round).length).toBeGreaterThanOrEqual(1);
    expect(projectedLine(camera, [])).toEqual([]);
  });
  test('never joins points that are further apart than the frame', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: -180, max: 180 }), fc.integer({ min: -89, max: 89 }))),
        (list) => {
          const points = list.map(([a, b]): Vec3 => directionOf(a, b));
          for (const piece of projectedLine(camera, points))
            piece.forEach(([x, y], i) => {
              if (i) expect(Math.hypot(x - piece[i - 1]![0], y - piece[i - 1]![1])).toBeLessThan(camera.width);
            });
        },
      ),
    );
  });
});

describe('rows of a chart', () => {
  const scale = { rate: 30, timeAt: (py: number) => py / 10 };
  test('have the frames that fall on them, at least one', () => {
    expect(framesOfRow(scale, 300, 0)).toEqual([0, 3]);
    expect(framesOfRow({ ...scale, timeAt: (py) => py / 1000 }, 300, 500)).toEqual([15, 16]);
    expect(framesOfRow(scale, 300, 99, 3)).toEqual([297, 300]);
    const [from, to] = framesOfRow(scale, 300, 200);
    expect(to - from).toBeLessThanOrEqual(0);
  });
  test('the least and the most of interleaved values', () => {
    const values = [1, -5, 2, 9, 3, 0];
    expect(extremes(values, [0, 3], 2, 0)).toEqual([0, 3]);
    expect(extremes(values, [0, 3], 2, 1)).toEqual([-5, 9]);
    expect(extremes(values, [2, 2])).toEqual([0, 0]);
  });
});

describe('colours', () => {
  test('black, white and grey are so, and the primaries are where BT.709 has them', () => {
    const one = (y: number, u: number, v: number) => [...toRgb(Uint8Array.of(y, u, v), 1)];
    expect(one(16, 128, 128)).toEqual([0, 0, 0]);
    expect(one(235, 128, 128)).toEqual([255, 255, 255]);
    expect(one(126, 128, 128)[0]).toBe(128);
    expect(one(63, 102, 240)[0]).toBeGreaterThan(253);
    expect(one(32, 240, 118)[2]).toBeGreaterThan(253);
    expect(TO_RGB.red.cr).toBeCloseTo(1.79274, 5);
    expect(TO_RGB.blue.cb).toBeCloseTo(2.1124, 4);
  });
});
