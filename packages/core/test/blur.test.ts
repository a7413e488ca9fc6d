/** Motion blur: what is looked at while the shutter is open. */
import { describe, expect, test } from '@jest/globals';
import { cameraDirection, cameraOf, pixelOf, type View } from '../src/lens/view.js';
import { apply } from '../src/geometry/rotation.js';
import { mendsOf } from '../src/path/mends.js';
import { setViewKey, viewKeysOf } from '../src/path/edit.js';
import { looksOf, MOST_LOOKS, SPACING } from '../src/plan/blur.js';
import { shotsIn } from './planned-shots.js';
import { clipPlan } from '../src/plan/clip-plan.js';
import type { PlanFootage } from '../src/plan/footage.js';
import { stillPlan } from '../src/plan/still-plan.js';
import type { PlannedShot } from '../src/plan/plan.js';
import { withShutter } from '../src/edit/look.js';
import { newTake, type Take } from '../src/take/take.js';
import { readTake } from '../src/take/validate.js';
import { viewAt as stillView } from '../src/path/path.js';
import { tooFast } from '../src/view/comfort.js';

const footage: PlanFootage = { source: { kind: 'sphere' }, rate: 30, frames: 300, motion: null };
const size = { width: 1280, height: 720 };
const still: View = { pan: 0, tilt: 0, roll: 0, fov: 75, bend: 0, shiftX: 0, shiftY: 0 };

/** A take that pans by 60° in each of two seconds, evenly. */
function panning(): Take {
  const take = { ...newTake('a.mp4', 10), range: { in: 0, out: 4 } };
  take.path = setViewKey(take.path, 0, { pan: 0 }, 'linear');
  take.path = setViewKey(take.path, 2, { pan: 120 }, 'hold');
  return take;
}

const headingOf = ({ toSource }: Pick<PlannedShot, 'toSource'>) => {
  const [x, , z] = apply(toSource, [0, 0, 1]);
  return (Math.atan2(x, z) * 180) / Math.PI;
};

describe('motion blur', () => {
  test('looks so often that nothing moves far in between', () => {
    const viewAt = (f: number) => ({ ...still, pan: 1.5 * f, roll: f });
    const looks = looksOf({ shutter: 360, viewAt, ...size });
    expect(looks.length).toBeGreaterThan(8);
    const corner = (f: number) => {
      const camera = cameraOf(viewAt(f), size.width, size.height);
      const seen = apply(cameraOf(viewAt(looks[0]!), size.width, size.height).rotation, cameraDirection(camera, 1, 1)!);
      return pixelOf(camera, seen)!;
    };
    for (let i = 1; i < looks.length; i++) {
      const [a, b] = [corner(looks[i - 1]!), corner(looks[i]!)];
      expect(Math.hypot(a.x - b.x, a.y - b.y)).toBeLessThan(SPACING * 1.1);
    }
    expect(looks.reduce((a, b) => a + b, 0)).toBeCloseTo(0, 9);
    // As if each look stood for its share of the time that the shutter is open.
    expect(looks.at(-1)! - looks[0]! + 1 / looks.length).toBeCloseTo(1, 9);
  });

  test('looks less often where the footage is coarser than the frame: as far apart in its own pixels', () => {
    const turn = 3;
    const viewAt = (f: number) => ({ ...still, pan: turn * f });
    const sphereWidth = 1920;
    const looks = looksOf({ shutter: 360, viewAt, ...size, sphereWidth });
    expect(looks.length).toBeLessThan(looksOf({ shutter: 360, viewAt, ...size }).length / 2);
    expect(looks.length).toBe(Math.ceil((turn / 360) * (sphereWidth / SPACING)));
  });

  test('looks once where nothing moves or the shutter is shut, and never more than it may', () => {
    const swinging = (f: number) => ({ ...still, tilt: 60 * f * f });
    expect(looksOf({ shutter: 360, viewAt: () => still, ...size })).toEqual([0]);
    expect(looksOf({ shutter: 0, viewAt: swinging, ...size })).toEqual([0]);
    // There and back within the time: where it begins and ends says nothing.
    expect(looksOf({ shutter: 720, viewAt: swinging, ...size })).toHaveLength(MOST_LOOKS);
    expect(looksOf({ shutter: 720, viewAt: swinging, ...size, most: 8 })).toHaveLength(8);
  });

  test('of a clip lies round each frame, from that frame’s picture, and holds stay sharp', () => {
    const plan = clipPlan(withShutter(panning(), 180), footage, size)!;
    const [shots] = shotsIn(plan, 30);
    expect(shots!.length).toBeGreaterThan(5);
    expect(shots!.reduce((sum, s) => sum + s.weight, 0)).toBeCloseTo(1, 9);
    expect(new Set(shots!.map((s) => s.frame))).toEqual(new Set([30]));
    const headings = shots!.map(headingOf);
    // 2° a frame, open for half of it.
    expect(headings.at(-1)! - headings[0]!).toBeCloseTo(1 - 1 / shots!.length, 6);
    expect((headings.at(-1)! + headings[0]!) / 2).toBeCloseTo(60, 6);
    expect(shotsIn(plan, 90)[0]).toHaveLength(1);
    expect(shotsIn(clipPlan(panning(), footage, size)!, 30)[0]).toHaveLength(1);
  });

  test('follows the clip’s time: at half the speed it is half as long, mixed frames share it', () => {
    const slow = { ...withShutter(panning(), 360), pace: { keys: [{ time: 0, speed: 0.5 }], blend: 'mean' as const } };
    const plan = clipPlan(slow, footage, size)!;
    const [shots] = shotsIn(plan, 61);
    const first = shots!.filter((s) => s.frame === 30).map(headingOf);
    expect(first.at(-1)! - first[0]!).toBeCloseTo(1 - 1 / first.length, 6);
    expect(shots!.filter((s) => s.frame === 31)).toHaveLength(first.length);
    expect(shots!.reduce((sum, s) => sum + s.weight, 0)).toBeCloseTo(1, 9);
    const seen = shotsIn(stillPlan(slow, footage, 1, size))[0]!.map(headingOf);
    const exported = shotsIn(plan, 60)[0]!.map(headingOf);
    seen.forEach((h, i) => expect(h).toBeCloseTo(exported[i]!, 9));
  });

  test('is read, kept within its range, and taken away without a trace', () => {
    const take = withShutter(panning(), 90);
    expect(readTake(JSON.parse(JSON.stringify(take))).look).toEqual({ shutter: 90 });
    expect(() => readTake({ ...take, look: { shutter: 721 } })).toThrow('shutter');
    expect(withShutter(take, 0)).not.toHaveProperty('look');
  });
});

describe('what is too fast', () => {
  const quick = () => {
    const path = setViewKey(setViewKey(panning().path, 2, { pan: 120 }, 'whip'), 2.2, { pan: 300 });
    return setViewKey(path, 4, { pan: 300 });
  };

  test('is mended by coming later as far as there is room, or by going evenly', () => {
    const path = quick();
    const seen = { from: 0, to: 4, rate: 30, ratio: 16 / 9 };
    const viewOfPath = (p: typeof path) => (t: number) => stillView(p, t);
    const [stretch] = tooFast(viewOfPath(path), seen);
    const { longer, slower } = mendsOf(path, stretch!, 30)!;
    expect(viewKeysOf(longer!).map((k) => +k.time.toFixed(3))).toEqual([0, 2, 2.3, 4]);
    const length = (s: { from: number; to: number }[]) => s.reduce((sum, { from, to }) => sum + to - from, 0);
    expect(length(tooFast(viewOfPath(slower), seen))).toBeGreaterThan(0);
    const fastest = (p: typeof path) =>
      Math.max(...Array.from({ length: 120 }, (_, i) => stillView(p, (i + 1) / 30).pan - stillView(p, i / 30).pan));
    expect(fastest(slower)).toBeLessThan(fastest(path) / 1.5);
  });

  test('is not mended where there is nothing to mend', () => {
    expect(mendsOf(newTake('a.mp4', 4).path, { from: 0, to: 1 }, 30)).toBeNull();
    const tight = setViewKey(quick(), 2.2 + 1 / 30, { pan: 300 });
    expect(mendsOf(tight, { from: 2, to: 2.2 }, 30)!.longer).toBeNull();
  });
});
