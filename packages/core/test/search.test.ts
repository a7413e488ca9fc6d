/** What was lost is looked for by its colours through the whole sphere, and nothing else is taken for it. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { uprightTo } from '../src/follow/aim.js';
import { ColourModel } from '../src/follow/colours.js';
import { boxWindow } from '../src/follow/features.js';
import { needed, sizesFor } from '../src/follow/found-again.js';
import { NOBODY } from '../src/follow/next-frame.js';
import { placesOf } from '../src/follow/search.js';
import { glimpse, glimpseOf, SphereFrame } from '../src/frame/sphere-frame.js';
import { SubjectTracker, TRUSTED } from '../src/follow/tracker.js';
import { angleBetween, RADIANS, type Vec3 } from '../src/geometry/rotation.js';
import { directionOf } from '../src/geometry/sphere.js';

const [W, H] = [480, 240];
const SIZE = 12;
const SHAPE = { width: SIZE * RADIANS, height: SIZE * RADIANS };

interface Disc {
  at: Vec3;
  /** Cb and Cr, 0 to 255. */
  tint: readonly [number, number];
  /** How large it is against the others. */
  times?: number;
}
const RED = [100, 190] as const;
const BLUE = [180, 100] as const;

const DIRECTIONS = Array.from({ length: (W * H) / 4 }, (_, i) =>
  directionOf((((i % (W / 2)) + 0.5) / (W / 2) - 0.5) * 360, (0.5 - (Math.floor(i / (W / 2)) + 0.5) / (H / 2)) * 180),
);

/** A sphere of grey stripes with striped discs of some colours on it. */
function sphere(discs: readonly Disc[]): SphereFrame {
  const luma = new Uint8Array(W * H);
  const tints = [new Uint8Array((W * H) / 4).fill(128), new Uint8Array((W * H) / 4).fill(128)] as const;
  DIRECTIONS.forEach((direction, i) => {
    let light = 120 + 20 * Math.sin(9 * direction[0] + 7 * direction[1]) + 12 * Math.sin(23 * direction[2]);
    for (const { at, tint, times = 1 } of discs) {
      const rim = Math.cos((times * SIZE * RADIANS) / 2);
      if (direction[0] * at[0] + direction[1] * at[1] + direction[2] * at[2] < rim) continue;
      const off = angleBetween(direction, at) / times;
      light = 90 + 50 * Math.sign(Math.sin(off * 1.7));
      [tints[0][i], tints[1][i]] = tint;
    }
    const [x, y] = [2 * (i % (W / 2)), 2 * Math.floor(i / (W / 2))];
    for (const at of [y * W + x, y * W + x + 1, (y + 1) * W + x, (y + 1) * W + x + 1]) luma[at] = light;
  });
  return new SphereFrame({ width: W, height: H, planes: [luma, ...tints] });
}

/** The colours of a disc, learned where it is. */
function learned(frame: SphereFrame, at: Vec3): ColourModel {
  const colours = new ColourModel();
  const look = glimpseOf(64);
  glimpse(frame, uprightTo(at), 2.4 * SIZE * RADIANS, look);
  colours.learn(look, { x: 64 / 4.8, y: 64 / 4.8 }, 1);
  return colours;
}

describe('a search by colours', () => {
  const home = directionOf(20, 5);
  const colours = learned(sphere([{ at: home, tint: RED }]), home);

  test('finds what has them, wherever in the sphere it is', () => {
    const places = fc.tuple(fc.integer({ min: -180, max: 180 }), fc.integer({ min: -70, max: 70 }));
    fc.assert(
      fc.property(places, ([longitude, latitude]) => {
        const at = directionOf(longitude, latitude);
        const frame = sphere([
          { at, tint: RED },
          { at: directionOf(longitude + 90, 0), tint: BLUE },
        ]);
        const [best] = placesOf(frame, colours, SHAPE, { direction: home, reach: 10 }, 3);
        expect(angleBetween(best!.direction, at)).toBeLessThan(SIZE / 3);
      }),
      { numRuns: 6 },
    );
  });

  test('takes the nearer of two that are alike', () => {
    const [near, far] = [directionOf(30, 0), directionOf(175, -10)];
    const both = sphere([
      { at: far, tint: RED },
      { at: near, tint: RED },
    ]);
    const places = placesOf(both, colours, SHAPE, { direction: home, reach: 0.3 }, 5);
    expect(angleBetween(places[0]!.direction, near)).toBeLessThan(SIZE / 3);
    expect(places.some((p) => angleBetween(p.direction, far) < SIZE / 3)).toBe(true);
  });

  test('finds nothing where nothing has them', () => {
    expect(placesOf(sphere([{ at: home, tint: BLUE }]), colours, SHAPE, { direction: home, reach: 10 }, 3)).toEqual([]);
  });
});

describe('a subject that is gone', () => {
  const way = (n: number) => directionOf(-40 + 0.8 * n, 4);
  const begin = () => {
    const tracker = new SubjectTracker(sphere([{ at: way(0), tint: RED }]), {
      direction: way(0),
      width: SIZE,
      height: SIZE,
    });
    for (let n = 1; n <= 5; n++) tracker.step(sphere([{ at: way(n), tint: RED }]));
    return tracker;
  };

  test('is called lost at once, and found again within a second, also where it was not expected', () => {
    const tracker = begin();
    const empty = sphere([]);
    for (let n = 0; n < 18; n++) expect(tracker.step(empty).trust).toBeLessThan(TRUSTED);
    const back = directionOf(25, -12);
    const frame = sphere([{ at: back, tint: RED }]);
    const found = Array.from({ length: 12 }, () => tracker.step(frame));
    expect(found.findIndex((f) => f.trust >= TRUSTED)).toBeGreaterThanOrEqual(0);
    expect(angleBetween(found.at(-1)!.direction, back)).toBeLessThan(1);
    expect(found.at(-1)!.trust).toBeGreaterThan(TRUSTED);
  });

  test.each([0.65, 1.5])('is found again when it is %d times as large as before', (times) => {
    const tracker = begin();
    for (let n = 0; n < 18; n++) tracker.step(sphere([]));
    const back = way(12);
    const frame = sphere([{ at: back, tint: RED, times }]);
    const found = Array.from({ length: 20 }, () => tracker.step(frame));
    expect(found.at(-1)!.trust).toBeGreaterThan(TRUSTED);
    expect(angleBetween(found.at(-1)!.direction, back)).toBeLessThan(1);
    expect(Math.abs(found.at(-1)!.height / (times * SIZE) - 1)).toBeLessThan(0.25);
  });

  test('is looked at where something moves or was recognised, in its size', () => {
    const back = way(12);
    const frame = sphere([{ at: back, tint: RED, times: 3.2 }]);
    const found = (suggested: boolean) => {
      const tracker = begin();
      for (let n = 0; n < 18; n++) tracker.step(sphere([]));
      const mayBe = () => (suggested ? [{ direction: back, size: 3.2 * SIZE * RADIANS }] : []);
      return Array.from({ length: 12 }, () => tracker.step(frame, { who: { ...NOBODY, mayBe } })).at(-1)!;
    };
    expect(found(false).trust).toBeLessThan(TRUSTED);
    expect(found(true).trust).toBeGreaterThan(TRUSTED);
    expect(angleBetween(found(true).direction, back)).toBeLessThan(1);
    expect(Math.abs(found(true).height / (3.2 * SIZE) - 1)).toBeLessThan(0.25);
  });

  test('is never somebody who looks just like it, but was elsewhere all the while', () => {
    const tracker = begin();
    const twin = sphere([{ at: directionOf(25, -12), tint: RED }]);
    for (let n = 0; n < 40; n++)
      expect(tracker.step(twin, { who: { ...NOBODY, whose: () => 'stranger' } }).trust).toBeLessThan(TRUSTED);
    const found = Array.from({ length: 8 }, () => tracker.step(twin, { who: { ...NOBODY, whose: () => 'subject' } }));
    expect(found.at(-1)!.trust).toBeGreaterThan(TRUSTED);
  });

  test('is nobody else either where another had been there, who looks like it', () => {
    const alone = begin();
    const beside = begin();
    for (let n = 6; n <= 40; n++) {
      alone.step(sphere([{ at: way(n), tint: RED }]));
      beside.step(
        sphere([
          { at: way(n), tint: RED },
          { at: directionOf(120, -12), tint: RED },
        ]),
      );
    }
    const last = sphere([{ at: directionOf(120, -12), tint: RED }]);
    const claims = (tracker: SubjectTracker) =>
      Array.from({ length: 40 }, () => tracker.step(last)).filter((f) => f.trust >= TRUSTED).length;
    expect(claims(alone)).toBeGreaterThan(20);
    expect(claims(beside)).toBe(0);
  });

  test('is never another one of other colours', () => {
    const other = sphere([{ at: directionOf(-10, 0), tint: BLUE }]);
    const tracker = begin();
    for (let n = 0; n < 24; n++) expect(tracker.step(other).trust).toBeLessThan(TRUSTED);
  });
});

test('what is learned is the subject and a rim of what is about it', () => {
  const window = boxWindow(64, { x: 6, y: 14 }, 0.5);
  const at = (x: number, y: number) => window[(32 + y) * 64 + 32 + x]!;
  expect([at(0, 0), at(5, 0), at(0, 13)]).toEqual([1, 1, 1]);
  expect([at(9, 0), at(0, 21), at(9, 21)]).toEqual([0, 0, 0]);
  expect(at(7, 0)).toBeGreaterThan(0);
  expect(at(7, 0)).toBeLessThan(1);
});

describe('to be found again', () => {
  const at = (far: number, more: Partial<Parameters<typeof needed>[0]> = {}) =>
    needed({ far, size: 0.1, alike: 0, known: null, ...more });

  test('it must be the surer the farther away it is, within bounds', () => {
    const all = Array.from({ length: 40 }, (_, i) => at((i / 39) * Math.PI));
    for (let i = 1; i < all.length; i++) expect(all[i]!).toBeGreaterThanOrEqual(all[i - 1]!);
    expect(at(0)).toBeGreaterThan(TRUSTED);
    expect(at(Math.PI)).toBeLessThan(1);
  });

  test('elsewhere it must be surer than anything else was, and much so where it has only just come', () => {
    expect(at(1, { alike: 0.85 })).toBeGreaterThan(0.85);
    expect(at(0.05, { alike: 0.85 })).toBe(at(0.05));
    expect(at(1, { known: 'newcomer' })).toBeGreaterThan(at(1));
    expect(at(1, { known: 'subject', alike: 0.85 })).toBe(at(1));
  });

  test('it is looked at in sizes that lie the farther apart the longer it is lost', () => {
    const [soon, late] = [sizesFor(0, 10), sizesFor(0, 100)];
    expect(soon[1]).toBe(1);
    expect(soon[0]! * soon[2]!).toBeCloseTo(1, 9);
    expect(late[2]!).toBeGreaterThan(soon[2]!);
    expect(sizesFor(0, 1e6)[2]!).toBeLessThanOrEqual(2);
    expect(sizesFor(4, 10)).toEqual([1]);
  });
});
