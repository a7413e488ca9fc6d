/** When a pan is drawn from narrowed pictures, and from how few. */
import { expect, test } from '@jest/globals';
import { IDENTITY, rotationOf } from '../src/geometry/rotation.js';
import { DEFAULT_VIEW, type View } from '../src/lens/view.js';
import { NARROWED, viewShot } from '../src/plan/shot.js';
import { smearedLooks } from '../src/plan/smear.js';

const WIDTH = 3840;
const size = { width: 1920, height: 1080 };

/** The shots at the beginning, in the middle and at the end of a movement. */
function looksFor(views: [Partial<View>, Partial<View>, Partial<View>], correction = IDENTITY, width = WIDTH) {
  const seen = { source: { kind: 'sphere' } as const, time: 0, ...size };
  const [a, b, c] = views.map((view) => viewShot({ ...DEFAULT_VIEW, ...view }, correction, seen));
  return smearedLooks([a!, b!, c!], width);
}

const panBy = (degrees: number, more: Partial<View> = {}): [Partial<View>, Partial<View>, Partial<View>] => [
  { ...more, pan: 170 },
  { ...more, pan: 170 + degrees / 2 },
  { ...more, pan: 170 + degrees },
];

test('a pan is as many looks as it passes stretches, over the seam as well', () => {
  expect(looksFor(panBy(6))).toBe((6 / 360) * (WIDTH / NARROWED));
  expect(looksFor(panBy(-20, { tilt: -30 }))).toBe(Math.ceil((20 / 360) * (WIDTH / NARROWED)));
});

test('what is short, turns back, tilts, zooms or leaves the rows is no such pan', () => {
  expect(looksFor(panBy(1))).toBeNull();
  expect(looksFor([{ pan: 0 }, { pan: 12 }, { pan: 6 }])).toBeNull();
  expect(looksFor([{ tilt: 0 }, { tilt: 4 }, { tilt: 8 }])).toBeNull();
  expect(looksFor([{ fov: 50 }, { fov: 55 }, { fov: 60 }])).toBeNull();
  expect(looksFor(panBy(6), rotationOf({ pan: 0, tilt: 0, roll: 40 }))).toBeNull();
});

test('where the footage is finer than the frame, or its width has no quarters, whole pictures are drawn from', () => {
  expect(looksFor(panBy(6, { fov: 120 }), IDENTITY, 2 * WIDTH)).toBeNull();
  expect(looksFor(panBy(6), IDENTITY, WIDTH + 4)).toBeNull();
});
