/** The sector: its weight, its edges, and the twin's time and light. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { IDENTITY, rotationOf } from '../src/geometry/rotation.js';
import { directionOf, lonLatOf } from '../src/geometry/sphere.js';
import { LIGHT, lightOf } from '../src/look/light.js';
import {
  edgeLines,
  edgesOf,
  moveEdge,
  twinFromWorld,
  USUAL_SECTOR,
  USUAL_TWIN,
  weightIn,
  widthOf,
} from '../src/look/sector.js';
import type { Sector } from '../src/look/sector.js';
import { twinGains } from '../src/look/twin-light.js';
import { shotsIn } from './planned-shots.js';
import { clipPlan } from '../src/plan/clip-plan.js';
import { withLook } from '../src/edit/look.js';
import { newTake } from '../src/take/take.js';
import { readTake } from '../src/take/validate.js';

const sector: Sector = { ...USUAL_SECTOR, from: 20, to: 80, bottom: -30, top: 40, feather: 10 };
const weight = (of: Sector, pan: number, tilt: number) => weightIn(edgesOf(of), directionOf(pan, tilt));

describe('weight', () => {
  test('is a half on the edges, 1 half a feather within, 0 half a feather without', () => {
    for (const [pan, tilt] of [
      [20, 0],
      [80, 0],
      [50, 40],
      [50, -30],
    ] as const)
      expect(weight(sector, pan, tilt)).toBeCloseTo(0.5, 9);
    expect(weight(sector, 25, 0)).toBeCloseTo(1, 9);
    expect(weight(sector, 15, 0)).toBeCloseTo(0, 9);
    expect(weight(sector, 50, 45)).toBeCloseTo(0, 9);
    expect(weight(sector, -130, 0)).toBeLessThan(0);
  });

  test('goes over the seam, round the back, to the poles, and all round', () => {
    const back = { ...sector, from: 150, to: -150 };
    expect(weight(back, 180, 0)).toBeGreaterThan(1);
    expect(weight(back, 0, 0)).toBeLessThan(0);
    const most = { ...sector, from: 30, to: -30 };
    expect(weight(most, 90, 0)).toBeGreaterThan(1);
    expect(weight(most, 180, 0)).toBeGreaterThan(1);
    expect(weight(most, 0, 0)).toBeLessThan(0);
    const half = { ...USUAL_SECTOR };
    expect(weight(half, 0, 89)).toBeGreaterThan(0.5);
    expect(weight(half, 0, -90)).toBeCloseTo(0.5, 9);
    expect(weight({ ...sector, from: 0, to: 360 }, 200, 0)).toBeGreaterThan(1);
  });

  test('is a half along every line that is drawn, where no other edge cuts it off', () => {
    fc.assert(
      fc.property(
        fc.record({
          from: fc.integer({ min: -180, max: 180 }),
          width: fc.integer({ min: 10, max: 350 }),
          bottom: fc.integer({ min: -80, max: 0 }),
          height: fc.integer({ min: 10, max: 70 }),
        }),
        ({ from, width, bottom, height }) => {
          const of = { ...sector, from, to: from + width, bottom, top: bottom + height, feather: 1 };
          for (const { edge, line } of edgeLines(of)) {
            // In the middle of an edge.
            const at = lonLatOf(line[Math.floor(line.length / 2)]!);
            expect(weight(of, at.longitude, at.latitude)).toBeCloseTo(0.5, 5);
            expect(['from', 'to', 'bottom', 'top']).toContain(edge);
          }
        },
      ),
    );
  });
});

test('edges are moved up to the one across from them', () => {
  expect(moveEdge(sector, 'top', 60)).toMatchObject({ top: 60 });
  expect(moveEdge(sector, 'top', -60)).toMatchObject({ top: -28 });
  expect(moveEdge(sector, 'bottom', 100)).toMatchObject({ bottom: 38 });
  expect(moveEdge(sector, 'to', 190)).toMatchObject({ to: -170 });
  expect(moveEdge(sector, 'to', 20)).toEqual(sector);
  expect(widthOf({ from: 170, to: -170 })).toBe(20);
});

test('a twin is turned against the take, and lies as it does without', () => {
  expect(twinFromWorld(USUAL_TWIN, IDENTITY)).toEqual(IDENTITY);
  const turned = twinFromWorld({ ...USUAL_TWIN, pan: 30 }, IDENTITY);
  turned.forEach((v, i) => expect(v).toBeCloseTo(rotationOf({ pan: -30, tilt: 0, roll: 0 })[i]!, 12));
});

describe('the plan', () => {
  const footage = { source: { kind: 'sphere' } as const, rate: 30, frames: 300, motion: null };
  const take = { ...newTake('a.mp4', 10), range: { in: 2, out: 3 } };
  const plan = (twin: Partial<typeof USUAL_TWIN>, other?: typeof footage) =>
    clipPlan(
      withLook(take, { sector: { ...sector, twin: { ...USUAL_TWIN, match: false, ...twin } } }),
      { ...footage, ...(other ? { twin: other } : {}) },
      {
        width: 64,
        height: 36,
      },
    )!;
  const twinAt = (p: ReturnType<typeof plan>, n: number) => shotsIn(p, n)[0]![0]!.parted!.twin!;

  test('lists the twin as a source of its own, whole frames away', () => {
    const p = plan({ time: 1.01 });
    expect(p.sources).toHaveLength(2);
    expect(twinAt(p, 0)).toMatchObject({ source: 1, frame: 90, gain: 1 });
    expect(twinAt(plan({ time: -9 }), 5).frame).toBe(0);
    expect(twinAt(plan({ time: 9 }), 5).frame).toBe(299);
    expect([
      twinAt(plan({ runs: 'still', time: 4 }), 0).frame,
      twinAt(plan({ runs: 'still', time: 4 }), 29).frame,
    ]).toEqual([120, 120]);
  });

  test('takes another footage at its own rate, and says when it is not there', () => {
    const p = plan({ footage: 'b.mp4', time: 1 }, { ...footage, rate: 60, frames: 600 });
    expect(twinAt(p, 3).frame).toBe(186);
    expect(() => shotsIn(plan({ footage: 'b.mp4' }))).toThrow(RangeError);
  });
});

test('light is matched by the middle of the ratios along the edges', () => {
  const bytes = LIGHT.width * LIGHT.height;
  const even = (code: number) => lightOf(new Uint8Array(30 * bytes).fill(code));
  const twin = { ...USUAL_TWIN, footage: 'b.mp4' };
  const gains = (kept: number, other: number) =>
    twinGains({ sector: { ...sector, twin }, kept: even(kept), twin: even(other), correctionAt: () => IDENTITY });
  expect(gains(100, 100)(1.3)).toBe(1);
  // Half as bright a signal, but for what is added to both.
  expect(gains(116, 66)(2)).toBeCloseTo((100 + 12) / (50 + 12), 6);
  expect(gains(235, 17)(100)).toBe(2.5);
  // Somebody dark in front of less than half of the edges changes nothing.
  const walked = even(116);
  for (let i = 0; i < walked.bytes.length; i++) if (i % LIGHT.width > 50) walked.bytes[i] = 20;
  const beside = twinGains({ sector: { ...sector, twin }, kept: walked, twin: even(66), correctionAt: () => IDENTITY });
  expect(beside(2)).toBeCloseTo((100 + 12) / (50 + 12), 6);
});

test('a sector is checked at the boundary', () => {
  const read = (change: object) => () =>
    readTake({ ...newTake('a.mp4', 3), look: { sector: { ...sector, ...change } } });
  expect(read({ twin: USUAL_TWIN })().look!.sector!.twin).toEqual(USUAL_TWIN);
  for (const wrong of [
    { bottom: 50 },
    { feather: 50 },
    { colour: 'red' },
    { twin: { ...USUAL_TWIN, runs: 'back' } },
    { twin: { ...USUAL_TWIN, match: 1 } },
  ])
    expect(read(wrong)).toThrow();
});
