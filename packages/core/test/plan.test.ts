/** Where the camera looks, and what a clip is frame by frame. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { apply, multiply, rotationOf, transpose, type Vec3 } from '../src/geometry/rotation.js';
import { cameraOf, directionAt } from '../src/lens/view.js';
import { setViewKey } from '../src/path/edit.js';
import { panesIn, shotsIn } from './planned-shots.js';
import { clipPlan } from '../src/plan/clip-plan.js';
import type { PlanFootage } from '../src/plan/footage.js';
import { laidFlatPlan } from '../src/plan/laid-flat.js';
import { stillPlan } from '../src/plan/still-plan.js';
import type { Pane } from '../src/plan/plan.js';
import { COMPARISONS } from '../src/export/settings.js';
import { newTake, type Take } from '../src/take/take.js';
import { glanceOver, sightOf, TAKE_ALONE, viewOf } from '../src/view/view-of.js';

const footage: PlanFootage = { source: { kind: 'sphere' }, rate: 30, frames: 300, motion: null };
const size = { width: 1280, height: 720 };

function moving(): Take {
  const take = { ...newTake('a.mp4', 10), range: { in: 1, out: 3 } };
  take.path = setViewKey(take.path, 1, { pan: -40, tilt: 10 });
  take.path = setViewKey(take.path, 3, { pan: 100, tilt: -20, fov: 60 });
  return take;
}

describe('a view', () => {
  test('is the path’s, unless one glances elsewhere or tries a lens', () => {
    const take = moving();
    expect(viewOf(take, TAKE_ALONE, 1)).toMatchObject({ pan: -40, tilt: 10, fov: 75 });
    expect(viewOf(take, { glance: { pan: 7, tilt: 8 } }, 1)).toMatchObject({ pan: 7, tilt: 8, fov: 75 });
    expect(viewOf(take, { glance: { pan: 7, tilt: 8 }, tryOut: { fov: 20, tilt: 1 } }, 1)).toMatchObject({
      pan: 7,
      tilt: 1,
      fov: 20,
    });
  });

  test('taken over from a glance goes the short way round', () => {
    const view = { ...viewOf(moving(), TAKE_ALONE, 1), pan: 350 };
    expect(glanceOver({ pan: -5, tilt: 3 }, view)).toEqual({ pan: 355, tilt: 3 });
    expect(glanceOver(null, view)).toEqual({});
  });

  test('has its sight in the middle of its frame', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -180, max: 180, noNaN: true }),
        fc.double({ min: -90, max: 90, noNaN: true }),
        fc.double({ min: -180, max: 180, noNaN: true }),
        (pan, tilt, roll) => {
          const view = { pan, tilt, roll, fov: 70, bend: 0.3, shiftX: 0, shiftY: 0 };
          const seen = directionAt(cameraOf(view, 400, 300), 200, 150)!;
          sightOf(view).forEach((v, i) => expect(v).toBeCloseTo(seen[i]!, 9));
        },
      ),
    );
  });
});

/** One piece of the footage's sound, from the clip's start on. */
const heard = (piece: object) => ({ tracks: [{ pieces: [{ recording: 0, at: 0, pace: null, ...piece }] }] });

describe('the plan of a clip', () => {
  test('shows each frame of the range once at the footage’s rate, with its sound', () => {
    const plan = clipPlan(moving(), footage, size)!;
    expect(plan).toMatchObject({ ...size, rate: 30, frames: 60, sound: heard({ from: 1, to: 3, speed: 1 }) });
    for (const n of [0, 17, 59]) {
      const shot = shotsIn(plan, n)[0]![0];
      expect(shot).toMatchObject({ source: 0, frame: 30 + n, weight: 1 });
      expect(shot!.time).toBeCloseTo(1 + n / 30, 9);
    }
  });

  test('read slower it takes as many frames and slows the sound', () => {
    const plan = clipPlan({ ...moving(), reading: 15 }, footage, size)!;
    expect(plan).toMatchObject({ rate: 15, frames: 60, sound: heard({ from: 1, to: 3, speed: 0.5 }) });
  });

  test('begins after the footage’s end nowhere', () => {
    expect(clipPlan({ ...moving(), range: { in: 11, out: 12 } }, footage, size)).toBeNull();
  });

  test('turns from the camera through the world into the footage’s picture', () => {
    const mount = { pan: 30, tilt: 5, roll: 180 };
    const take = { ...moving(), orientation: { mount } };
    const shot = shotsIn(clipPlan(take, footage, size)!, 0)[0]![0]!;
    const camera = rotationOf({ pan: -40, tilt: 10, roll: 0 });
    const wanted = multiply(transpose(rotationOf(mount)), camera);
    const at = (m: typeof wanted) => apply(m, [0.1, 0.2, 0.97] as Vec3);
    at(shot.toSource).forEach((v, i) => expect(v).toBeCloseTo(at(wanted)[i]!, 9));
    const [still] = shotsIn(stillPlan(take, footage, 1, size))[0]!;
    expect(still!.toSource).toEqual(shot.toSource);
    expect(still!.picture).toEqual(shot.picture);
  });

  test('of the whole sphere looks nowhere', () => {
    const sphere = { width: 1024, height: 512 };
    const plan = clipPlan(moving(), footage, { ...sphere, sphere: true })!;
    const [a, b] = [0, 30].map((n) => shotsIn(plan, n)[0]![0]!);
    expect(a!.picture).toEqual({ sphere: true, ...sphere });
    expect(a!.toSource).toEqual(b!.toSource);
    const flat = laidFlatPlan(footage, sphere);
    expect(flat.frames).toBe(300);
    expect(shotsIn(flat, 299)[0]![0]).toMatchObject({ frame: 299, source: 0 });
  });
});

describe('a comparison', () => {
  const steadied = { ...moving(), level: { keys: [{ time: 1, up: [0.2, 0.9797959, 0] as Vec3 }] } };
  const meets = (a: Pane, b: Pane) =>
    a.left < b.left + b.width && b.left < a.left + a.width && a.top < b.top + b.height && b.top < a.top + a.height;

  test.each(COMPARISONS)('%s: before and after fill the frame, at the same moments', (compare) => {
    fc.assert(
      fc.property(fc.integer({ min: 20, max: 1000 }), fc.integer({ min: 20, max: 1000 }), (w, h) => {
        const frame = { width: 2 * w, height: 2 * h };
        const plan = clipPlan(steadied, footage, { ...frame, compare })!;
        for (const p of panesIn(plan)) {
          for (const side of [p.left, p.top, p.width, p.height]) expect(side % 2).toBe(0);
          expect(p.left >= 0 && p.top >= 0 && p.left + p.width <= 2 * w && p.top + p.height <= 2 * h).toBe(true);
        }
        const [a, b] = panesIn(plan) as [Pane, Pane];
        const covered = compare === 'inset' ? a.width * a.height : a.width * a.height + b.width * b.height;
        expect([covered, meets(a, b)]).toEqual([4 * w * h, compare === 'inset']);
        const [before, after] = shotsIn(plan, 12).map((shots) => shots[0]!);
        expect(before!.frame).toBe(after!.frame);
        expect(before!.toSource).not.toEqual(after!.toSource);
      }),
      { numRuns: 30 },
    );
  });
});
