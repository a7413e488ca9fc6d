/** Steadying, level keys, the correction they make, and the framing that is kept when it changes. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  angleBetween,
  apply,
  DEGREES,
  multiply,
  quaternionOf,
  rotationAbout,
  rotationOf,
  rotationVector,
  transpose,
  type Matrix3,
  type Vec3,
} from '../src/geometry/rotation.js';
import { keysFollowing, leanOf, levelAt, nextMiddle, setLevel, upAt, upOf } from '../src/level/level.js';
import { upDragged, upThrough } from '../src/level/horizon.js';
import type { Motion } from '../src/motion/motion.js';
import { joltsIn, jitterOf, trimsOf, turningOf } from '../src/motion/rates.js';
import { Rig } from '../src/motion/rig.js';
import { emptyPath, viewAt } from '../src/path/path.js';
import { setViewKey } from '../src/path/edit.js';
import { inMode } from '../src/steady/choose.js';
import { proposePins } from '../src/steady/propose.js';
import { noSteady, type Steady } from '../src/steady/settings.js';
import { correctionOf } from '../src/correction/correction.js';
import { upInPicture } from '../src/level/auto.js';
import { levelDocument } from '../src/level/document.js';
import { automaticLevel, levelFromPicture, levelInPicture, openStretches } from '../src/edit/levelling.js';
import { mountNamed, MOUNTS, proposedMount } from '../src/level/mounts.js';
import { asFilmed, centreOn, changeCorrection } from '../src/edit/framing.js';
import { newTake, type Take } from '../src/take/take.js';
import { readTake } from '../src/take/validate.js';

const RATE = 30;
/** A rig that turns steadily and shakes. */
const shaky = (n: number): Matrix3 =>
  multiply(
    rotationAbout([0, 0.012 * n, 0]),
    rotationAbout([0.02 * Math.sin(n * 1.7), 0.015 * Math.sin(n * 2.3), 0.02 * Math.cos(n * 1.9)]),
  );

function motionOf(pose: (n: number) => Matrix3, count = 150, change: Partial<Motion> = {}): Motion {
  const back = transpose(pose(0));
  return {
    format: 'glimbo-motion',
    version: 1,
    rate: RATE,
    method: 'quick',
    frames: Array.from({ length: count }, (_, n) => ({
      time: n / RATE,
      orientation: quaternionOf(multiply(back, pose(n))),
      travel: [0, 0, 1],
      travelConfidence: 0.9,
      trust: 1,
      residual: 0,
    })),
    cuts: [],
    bad: [],
    levels: [],
    ...change,
  };
}

const motion = motionOf(shaky);
const steadied = (steady: Partial<Steady>, of: Partial<Take> = {}): Take => ({
  ...newTake('a.mp4', 5),
  ...of,
  steady: { ...noSteady(), ...steady },
});
const jitter = (take: Take, of = motion) => jitterOf(turningOf(of, correctionOf(take, of).at), RATE);

describe('steadying', () => {
  const before = jitterOf(turningOf(motion), RATE);

  test('Off and a strength of nothing leave everything alone', () => {
    for (const steady of [{ mode: 'off' }, { mode: 'rolling', strength: 0 }] as const)
      expect(correctionOf(steadied(steady), motion).at(2)).toEqual(correctionOf(newTake('a.mp4', 5)).at(2));
  });

  test('Rolling takes the jitter away and keeps the turning', () => {
    const take = steadied({ mode: 'rolling', window: 1 });
    expect(jitter(take)).toBeLessThan(0.1 * before);
    const rates = turningOf(motion, correctionOf(take, motion).at);
    for (let n = 45; n < 105; n++) expect(rates[3 * n]).toBeCloseTo(0.012 * DEGREES * RATE, -1);
  });

  test('half the strength leaves about half of it', () => {
    const half = jitter(steadied({ mode: 'rolling', strength: 50 }));
    expect(half).toBeGreaterThan(0.4 * before);
    expect(half).toBeLessThan(0.6 * before);
  });

  test('Still takes all turning out, and its own frame stays as it was filmed', () => {
    const take = steadied({ mode: 'still', frame: 1, heading: { follows: 'world', window: 1 } });
    const { at } = correctionOf(take, motion);
    expect(rotationVector(at(1)).map((v) => Number(v.toFixed(9)))).toEqual([0, 0, 0]);
    expect(Math.max(...turningOf(motion, at).map(Math.abs))).toBeLessThan(1e-3);
  });

  test('pins stay as they were filmed, and between them it turns evenly', () => {
    const pins = [0.5, 2, 4].map((time) => ({ time, kind: 'filmed' as const }));
    const { at } = correctionOf(steadied({ mode: 'pinned', pins }), motion);
    for (const { time } of pins) expect(Math.hypot(...rotationVector(at(time)))).toBeLessThan(1e-6);
    const rates = turningOf(motion, at);
    for (let n = 20; n < 58; n++) expect(rates[3 * n]).toBeCloseTo(rates[3 * 30]!, 1);
  });

  test('a pin can switch it off or hold it from there on', () => {
    const take = (kind: 'off' | 'still') =>
      steadied({
        mode: 'pinned',
        pins: [
          { time: 1, kind },
          { time: 3, kind: 'filmed' },
        ],
      });
    expect(Math.hypot(...rotationVector(correctionOf(take('off'), motion).at(2.1)))).toBeLessThan(1e-9);
    const held = turningOf(motion, correctionOf(take('still'), motion).at);
    for (let n = 32; n < 88; n++) expect(Math.abs(held[3 * n]!)).toBeLessThan(1e-3);
  });

  test('the heading of the world takes turning about the vertical out, with the lean still smoothed', () => {
    const take = steadied({ mode: 'rolling', heading: { follows: 'world', window: 1 } });
    const rates = turningOf(motion, correctionOf(take, motion).at);
    for (let n = 40; n < 110; n++) expect(Math.abs(rates[3 * n]!)).toBeLessThan(1);
  });

  test('the heading of the travel looks the way it goes', () => {
    // It travels towards its first frame's right, while the rig turns round and round.
    const travelling = motionOf(shaky);
    travelling.frames = travelling.frames.map((f, n) => ({
      ...f,
      travel: apply(transpose(multiply(transpose(shaky(0)), shaky(n))), [1, 0, 0]),
    }));
    const { at } = correctionOf(steadied({ mode: 'rolling', heading: { follows: 'travel', window: 0.5 } }), travelling);
    for (const n of [30, 75, 120]) {
      const seen = apply(at(n / RATE), travelling.frames[n]!.travel);
      expect(Math.abs(Math.atan2(seen[0], seen[2]) * DEGREES)).toBeLessThan(6);
    }
  });

  test('a cut is not smoothed over', () => {
    const jump = (n: number) => (n < 75 ? shaky(n) : multiply(rotationAbout([0, 2, 0]), shaky(n)));
    const cut = motionOf(jump, 150, { cuts: [2.5] });
    expect(jitter(steadied({ mode: 'rolling' }), cut)).toBeLessThan(0.15 * before);
  });

  test('pins are proposed within the range, apart from each other', () => {
    const pins = proposePins(new Rig(motion, rotationOf({ pan: 0, tilt: 0, roll: 0 })), { in: 0.5, out: 4.5 });
    expect(pins.length).toBeGreaterThan(0);
    for (const [i, p] of pins.entries()) {
      expect(p.time).toBeGreaterThanOrEqual(0.5);
      expect(p.time).toBeLessThan(4.5);
      if (i) expect(p.time - pins[i - 1]!.time).toBeGreaterThan(0.4);
    }
  });
});

describe('what is read from the turning', () => {
  const calm = new Float32Array(300 * 3).map((_, i) => (i % 3 === 0 ? 5 + Math.sin(i / 90) : 0));

  test('a jolt is found where it is, once', () => {
    const jolted = calm.slice();
    jolted[3 * 140 + 1] = 40;
    expect(joltsIn(jolted, RATE)).toHaveLength(1);
    expect(joltsIn(jolted, RATE)[0]).toBeCloseTo(140 / RATE, 1);
    expect(joltsIn(calm, RATE)).toEqual([]);
  });

  test('the jerk of switching on is left out, a calm beginning is not', () => {
    const jerked = calm.slice();
    for (let n = 4; n < 12; n++) jerked[3 * n] = n % 2 ? 60 : -50;
    const { in: from, out } = trimsOf(jerked, RATE);
    expect(from).toBeGreaterThan(12 / RATE);
    expect(from).toBeLessThan(20 / RATE);
    expect(out).toBeNull();
    expect(trimsOf(calm, RATE)).toEqual({ in: null, out: null });
  });
});

describe('level keys', () => {
  const lean = fc.record({
    roll: fc.double({ min: -60, max: 60, noNaN: true }),
    pitch: fc.double({ min: -60, max: 60, noNaN: true }),
  });

  test('lean and up belong together, and the level puts up on top', () => {
    fc.assert(
      fc.property(lean, (l) => {
        const up = upOf(l);
        expect(leanOf(up).roll).toBeCloseTo(l.roll, 6);
        expect(leanOf(up).pitch).toBeCloseTo(l.pitch, 6);
        expect(angleBetween(apply(levelAt([{ time: 1, up }], 9), up), [0, 1, 0])).toBeLessThan(1e-6);
      }),
    );
  });

  test('between keys up goes evenly, outside it stays', () => {
    const keys = setLevel(setLevel([], 4, upOf({ roll: 20, pitch: 0 })), 2, upOf({ roll: 0, pitch: 0 }));
    expect(leanOf(upAt(keys, 3)).roll).toBeCloseTo(10, 9);
    expect(leanOf(upAt(keys, 0)).roll).toBeCloseTo(0, 9);
    expect(leanOf(upAt(keys, 9)).roll).toBeCloseTo(20, 9);
  });

  test('the next middle is that of the longest stretch', () => {
    const range = { in: 0, out: 8 };
    expect(nextMiddle([], range)).toBe(4);
    const at = (...times: number[]) => times.map((time) => ({ time, up: [0, 1, 0] as Vec3 }));
    expect(nextMiddle(at(4), range)).toBe(0);
    expect(nextMiddle(at(0, 4, 8), range)).toBe(0);
    expect(nextMiddle(at(1, 2, 6, 7), range)).toBe(4);
  });

  test('keys that follow a curve stay within the tolerance, and a straight one needs two', () => {
    const curve = (n: number) => upOf({ roll: 10 * Math.sin(n / 20), pitch: 4 * Math.cos(n / 31) });
    const keys = keysFollowing(curve, { first: 0, last: 140, rate: RATE }, 0.5);
    for (let n = 0; n <= 140; n++) expect(angleBetween(upAt(keys, n / RATE), curve(n))).toBeLessThan(0.51);
    expect(keys.length).toBeLessThan(40);
    expect(keysFollowing(() => [0, 1, 0], { first: 0, last: 140, rate: RATE }, 0.5)).toHaveLength(2);
  });

  test('a dragged horizon goes through where it was put', () => {
    const [a, b]: [Vec3, Vec3] = [rotationOfDirection(-30, 3), rotationOfDirection(35, -5)];
    const up = upThrough(a, b);
    expect(angleBetween(up, a)).toBeCloseTo(90, 6);
    expect(angleBetween(up, b)).toBeCloseTo(90, 6);
    expect(up[1]).toBeGreaterThan(0.9);
    const moved = upDragged(rotationOfDirection(20, 0), rotationOfDirection(20, 7));
    expect(angleBetween(moved, rotationOfDirection(20, 7))).toBeCloseTo(90, 6);
  });
});

const rotationOfDirection = (pan: number, tilt: number) => apply(rotationOf({ pan, tilt, roll: 0 }), [0, 0, 1]);

describe('framing', () => {
  const angle = (most: number) => fc.double({ min: -most, max: most, noNaN: true });
  const framed = fc.array(fc.tuple(angle(700), angle(80), angle(40)), { minLength: 1, maxLength: 5 });
  const orientation = fc.record({
    mount: fc.record({ pan: angle(180), tilt: angle(80), roll: angle(180) }),
    centre: fc.record({ pan: angle(180), tilt: angle(60) }),
  });
  const mode = fc.constantFrom('off', 'rolling', 'still', 'pinned') as fc.Arbitrary<Steady['mode']>;
  const keyed = (keys: [number, number, number][]): Take => ({
    ...newTake('a.mp4', 5),
    path: keys.reduce((path, [pan, tilt, roll], i) => setViewKey(path, i, { pan, tilt, roll }), emptyPath()),
  });
  const correction = (t: Take) => correctionOf(t, motion);
  /** Where in the footage's own picture the frame's centre lies. */
  const target = (t: Take, time: number) =>
    apply(transpose(correction(t).at(time)), rotationOfDirection(viewAt(t.path, time).pan, viewAt(t.path, time).tilt));

  test('the centre stays within 0.01° of what it framed for any change, and the roll dial keeps its value', () => {
    fc.assert(
      fc.property(framed, orientation, mode, angle(60), (keys, o, m, roll) => {
        const take = keyed(keys);
        const change = {
          orientation: o,
          steady: { ...noSteady(), mode: m, frame: 1, pins: [{ time: 2, kind: 'filmed' as const }] },
          level: { keys: [{ time: 1, up: upOf({ roll, pitch: 5 }) }] },
        };
        const changed = changeCorrection(take, change, correction, { keepFraming: true, now: 0 });
        keys.forEach((key, time) => {
          expect(angleBetween(target(changed, time), target(take, time))).toBeLessThan(0.01);
          expect(viewAt(changed.path, time).roll).toBeCloseTo(key[2], 9);
        });
      }),
      { numRuns: 60 },
    );
  });

  test('spins are kept: dials stay near what they were', () => {
    const take = keyed([
      [0, 0, 0],
      [720, 10, 0],
      [-360, 0, 0],
    ]);
    const changed = changeCorrection(take, { orientation: { centre: { pan: 30, tilt: 0 } } }, correction, {
      keepFraming: true,
      now: 0,
    });
    [-30, 690, -390].forEach((pan, time) => expect(viewAt(changed.path, time).pan).toBeCloseTo(pan, 6));
  });

  test('a fixed view is kept at the playhead, and nothing is kept when that is switched off', () => {
    const take = { ...newTake('a.mp4', 5), path: { ...emptyPath(), pan: 40, tilt: 10 } };
    const change = { orientation: { centre: { pan: 90, tilt: 0 } } };
    expect(changeCorrection(take, change, correction, { keepFraming: true, now: 1 }).path.pan).toBeCloseTo(-50, 6);
    expect(changeCorrection(take, change, correction, { keepFraming: false, now: 1 }).path).toBe(take.path);
  });

  test('level keys stay on the same horizon when the steadying changes', () => {
    const take: Take = { ...keyed([[0, 0, 0]]), level: { keys: [{ time: 1, up: upOf({ roll: 12, pitch: -3 }) }] } };
    const changed = changeCorrection(take, { steady: { ...noSteady(), mode: 'still', frame: 4 } }, correction, {
      keepFraming: true,
      now: 0,
    });
    const [before, after] = [take, changed].map((t) => levelInPicture(t, correction(t))[0]!.up);
    expect(angleBetween(after!, before!)).toBeLessThan(1e-5);
  });

  test('as filmed it looks at the same things, without steadying and level', () => {
    const take: Take = {
      ...steadied({ mode: 'still', heading: { follows: 'world', window: 1 } }),
      path: keyed([
        [0, 0, 0],
        [30, 5, 0],
        [60, 0, 0],
      ]).path,
    };
    const bare = asFilmed(take, correction);
    expect(bare.steady).toBeUndefined();
    for (const time of [0, 1, 2]) expect(angleBetween(target(bare, time), target(take, time))).toBeLessThan(0.01);
  });

  test('a new centre is found from where ahead is now', () => {
    fc.assert(
      fc.property(angle(170), angle(170), (before, pan) => {
        const take = { orientation: { centre: { pan: before, tilt: 0 } } };
        const centre = centreOn(take, rotationOfDirection(pan, 0));
        const c = correctionOf({ orientation: { centre: { pan: centre.pan, tilt: 0 } } }).at(0);
        const source = apply(transpose(correctionOf(take).at(0)), rotationOfDirection(pan, 0));
        expect(angleBetween(apply(c, source), [0, 0, 1])).toBeLessThan(1e-5);
      }),
    );
  });
});

describe('take documents', () => {
  const document = (change: object) => ({ ...newTake('a.mp4', 5), ...change });
  test('fill in what a steadying leaves out', () => {
    expect(readTake(document({ steady: { mode: 'rolling' } })).steady).toEqual({ ...noSteady(), mode: 'rolling' });
  });
  test.each([
    [{ steady: { mode: 'calm' } }, /steady/],
    [{ steady: { mode: 'rolling', window: -1 } }, /window/],
    [{ steady: { mode: 'pinned', pins: [{ time: 1, kind: 'x' }] } }, /kind/],
    [{ level: { keys: [{ time: 1, up: [0, 2, 0] }] } }, /length 1/],
    [{ level: { keys: [{ time: 2, up: [0, 1, 0] }, { time: 1, up: [0, 1, 0] }] } }, /order of time/],
  ])('%j is refused in words', (change, words) => expect(() => readTake(document(change))).toThrow(words)); // prettier-ignore
});

describe('what is chosen for somebody', () => {
  test('the mount that puts up on top, if it is not there and surely known', () => {
    const down = { up: [0, -1, 0] as Vec3, confidence: 0.8 };
    expect(proposedMount(down, MOUNTS.upright)).toBe('over');
    expect(proposedMount(down, MOUNTS.over)).toBeNull();
    // With up at the picture's right, it was filmed lying on its left side or its right one.
    for (const side of [1, -1]) {
      const name = proposedMount({ up: [side, 0, 0], confidence: 0.6 }, MOUNTS.upright)!;
      expect(apply(rotationOf(MOUNTS[name]), [side, 0, 0])[1]).toBeCloseTo(1, 6);
    }
    expect(proposedMount({ ...down, confidence: 0.4 }, MOUNTS.upright)).toBeNull();
    expect(proposedMount(undefined, MOUNTS.over)).toBeNull();
    expect(mountNamed({ pan: 0, tilt: 0, roll: 180 })).toBe('over');
    expect(mountNamed({ pan: 0, tilt: 3, roll: 180 })).toBeNull();
  });

  test('Still holds the playhead’s frame only when it is chosen first; Pinned keeps pins that are there', () => {
    const proposed = [{ time: 2, kind: 'filmed' as const }];
    const still = inMode(undefined, 'still', 1.5, proposed);
    expect(still).toMatchObject({ mode: 'still', frame: 1.5, pins: [], heading: { follows: 'world' } });
    expect(inMode({ ...still, mode: 'rolling' }, 'still', 3, proposed).frame).toBe(1.5);
    const pinned = inMode(still, 'pinned', 3, proposed);
    expect(pinned).toMatchObject({ pins: [{ time: 2 }], heading: { follows: 'rig' } });
    const own = { ...pinned, pins: [{ time: 4, kind: 'off' as const }] };
    expect(inMode(own, 'pinned', 3, proposed).pins).toEqual(own.pins);
  });

  test('level keys over a whole take put the horizon straight in every frame, whatever steadies it', () => {
    const gravity: Motion = { ...motion, up: [0.1, Math.sqrt(0.98), -0.1] };
    for (const steady of [undefined, { ...noSteady(), mode: 'rolling' as const }]) {
      const take: Take = { ...newTake('a.mp4', 5), ...(steady && { steady }), range: { in: 1, out: 4 } };
      const { keys, unsure } = automaticLevel(gravity, correctionOf(take, gravity), take.range);
      expect(unsure).toEqual([]);
      const { at } = correctionOf({ ...take, level: { keys } }, gravity);
      for (let n = 30; n < 120; n += 7) {
        const up = apply(transpose(multiply(transpose(shaky(0)), shaky(n))), gravity.up!);
        expect(angleBetween(apply(at(n / RATE), up), [0, 1, 0])).toBeLessThan(0.35);
      }
    }
    const bare = automaticLevel(motion, correctionOf(newTake('a.mp4', 5), motion), { in: 0, out: 5 });
    expect(bare).toMatchObject({ keys: [], unsure: [{ from: 0 }] });
  });

  test('levelling the whole take leaves alone what is not sure, and a key by hand closes it', () => {
    const looks = (confidence: (t: number) => number): Motion => ({
      ...motion,
      levels: Array.from({ length: 10 }, (_, i) => ({
        time: i / 2,
        up: [0, 1, 0] as Vec3,
        confidence: confidence(i / 2),
      })),
      // What lies beyond counts only where nothing is nearer: the two halves are apart.
      cuts: [2.5],
    });
    const half = looks((t) => (t < 2.5 ? 0.9 : 0.2));
    const take = newTake('a.mp4', 5);
    const found = automaticLevel(half, correctionOf(take, half), { in: 0, out: 4.9 });
    expect(found.unsure).toHaveLength(1);
    expect(found.unsure[0]!.from).toBeCloseTo(2.5, 1);
    expect(found.keys.every((k) => k.auto && k.time < 2.5)).toBe(true);
    const byHand = { time: 4, up: upOf({ roll: 5, pitch: 0 }) };
    const again = automaticLevel(half, correctionOf(take, half), { in: 0, out: 4.9 }, [byHand]);
    expect(again.unsure).toEqual([]);
    expect(again.keys).toContainEqual(byHand);
    expect(openStretches(found.unsure, [byHand])).toEqual([]);
    expect(openStretches(found.unsure, [{ ...byHand, auto: true }])).toEqual(found.unsure);
  });

  test('where up is is written down for every frame, with how sure that is', () => {
    const gravity: Motion = { ...motion, up: [0.1, Math.sqrt(0.98), -0.1] };
    const { format, rate, ups } = levelDocument(gravity);
    expect([format, rate, ups.length]).toEqual(['glimbo-level', motion.rate, motion.frames.length]);
    ups.forEach(({ up, confidence }, n) => {
      expect(confidence).toBe(1);
      expect(angleBetween(up, upInPicture(gravity, n / rate)!.up)).toBeLessThan(1e-3);
    });
    expect(levelDocument(motion).ups[5]).toMatchObject({ up: [0, 1, 0], confidence: 0 });
  });

  test('two keys by hand at the ends of a minute that drifts tell of its middle', () => {
    // The analysis turns away by 4° in a minute while the rig stands still, and no look says anything.
    const drifting: Motion = {
      ...motion,
      frames: Array.from({ length: 61 * RATE }, (_, n) => ({
        ...motion.frames[0]!,
        time: n / RATE,
        orientation: quaternionOf(rotationAbout([0, 0, ((4 / 60) * n) / RATE / DEGREES])),
      })),
      levels: [],
    };
    const up = upOf({ roll: 7, pitch: -3 });
    const keys = [0, 60].map((time) => ({ time, up }));
    const middle = upInPicture(drifting, 30, keys)!;
    expect(angleBetween(middle.up, up)).toBeLessThan(0.5);
    expect(middle.confidence).toBeGreaterThan(0.9);
    // One alone is out by half of the drift, and less sure the farther away.
    const alone = [15, 30, 60].map((t) => upInPicture(drifting, t, keys.slice(0, 1))!);
    expect(angleBetween(alone[1]!.up, up)).toBeCloseTo(2, 0);
    expect(alone[0]!.confidence).toBeGreaterThan(alone[2]!.confidence);
  });

  test('level keys carried to another take put the same thing straight there', () => {
    const from = { ...steadied({ mode: 'rolling' }), level: { keys: [{ time: 2, up: upOf({ roll: 9, pitch: 4 }) }] } };
    const picture = levelInPicture(from, correctionOf(from, motion));
    const to = steadied({ mode: 'still' }, { orientation: { mount: MOUNTS.over } });
    const level = { keys: levelFromPicture(picture, correctionOf(to, motion)) };
    expect(angleBetween(apply(correctionOf({ ...to, level }, motion).at(2), picture[0]!.up), [0, 1, 0])).toBeLessThan(
      1e-5,
    );
  });
});
