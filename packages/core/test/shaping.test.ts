/** Many keyframes edited at once, keyframes set in between, even speed, simplifying, moves: what must hold for any path. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { bezierOfSegment, evaluate, slopeAt, type Keyframe } from '../src/curve/channel.js';
import { clippingOf, lengthOf, pasteClipping } from '../src/path/clipping.js';
import { easeAt, easeIntegral, easeSlope, EASES, type Ease } from '../src/curve/ease.js';
import { setChannelKey, setViewKey } from '../src/path/edit.js';
import { evenChannel, evenSpeed, spanOfKeys } from '../src/path/even.js';
import { backToFirst, otherWayRound, spin, turnAcross } from '../src/path/gestures.js';
import { easeEnds, mirrorKeys, reverseKeys, scaleKeys, shiftKeys } from '../src/path/group.js';
import { keyId, NOTHING, type Selection } from '../src/path/keys.js';
import { CHANNELS, emptyPath, keysOf, speedAt, turnAfter, viewAt, type Path } from '../src/path/path.js';
import { simplify, smoothed, type Sample } from '../src/path/simplify.js';
import { insertBetween } from '../src/path/split.js';
import { clippingOfMove, MOVES, putMove, usualValues } from '../src/moves/moves.js';
import { shapeOfMove } from '../src/moves/shape.js';
import { clampLens } from '../src/lens/projection.js';
import type { View } from '../src/lens/view.js';
import { COMFORT, movement, tooFast } from '../src/view/comfort.js';

// A counterexample is told as it is found: shrinking whole paths takes minutes.
fc.configureGlobal({ ...fc.readConfigureGlobal(), numRuns: 40, endOnFailure: true });
/** Thousandths, which hands and files know; what is true of 1e-300 is of no use to anybody. */
const share = (min: number, max: number) =>
  fc.integer({ min: Math.ceil(min * 1000), max: Math.floor(max * 1000) }).map((n) => n / 1000);
const ease: fc.Arbitrary<Ease> = fc.oneof(
  fc.constantFrom(...EASES),
  // A handle of no length, or two that cross over all of the time, make a slope without bounds: nothing can be summed there.
  fc.tuple(share(0.02, 0.98), share(-1, 2), share(0.02, 0.98), share(-1, 2)),
);
const curved = ease.filter((e) => e !== 'smooth') as fc.Arbitrary<Exclude<Ease, 'smooth'>>;
const channel = (least: number, most: number): fc.Arbitrary<Keyframe[]> =>
  fc
    .uniqueArray(fc.integer({ min: 0, max: 300 }), { minLength: 2, maxLength: 6 })
    .chain((frames) =>
      fc.tuple(
        ...frames
          .sort((a, b) => a - b)
          .map((f) => fc.record({ time: fc.constant(f / 30), value: share(least, most), ease })),
      ),
    );
const path: fc.Arbitrary<Path> = fc
  .record({ pan: channel(-400, 400), tilt: channel(-80, 80), roll: channel(-90, 90), fov: channel(30, 120) })
  .map((p) => ({ ...emptyPath(), ...p }));
const all = (p: Path): Selection =>
  new Set(CHANNELS.flatMap((channel) => keysOf(p, channel).map(({ time }) => keyId({ channel, time }))));
const times = (from: number, to: number, n = 80) =>
  Array.from({ length: n + 1 }, (_, i) => from + ((to - from) * i) / n);

/** The largest difference of two paths' views over a time. */
function apart(a: Path, b: Path, at = times(-1, 12)): number {
  return Math.max(...at.flatMap((t) => CHANNELS.map((name) => Math.abs(viewAt(a, t)[name] - viewAt(b, t)[name]))));
}

describe('value curve and speed curve', () => {
  test('an ease is the sum of its slope, and its integral the sum of it', () => {
    fc.assert(
      fc.property(curved, share(0.05, 0.95), (e, f) => {
        const steps = 4000;
        let [way, area] = [0, 0];
        for (let i = 0; i < steps; i++) {
          const x = ((i + 0.5) / steps) * f;
          way += (easeSlope(e, x) * f) / steps;
          area += (easeAt(e, x) * f) / steps;
        }
        expect(easeIntegral(e, f)).toBeCloseTo(area, 3);
        if (e !== 'hold') expect(way).toBeCloseTo(easeAt(e, f), 2);
      }),
      { numRuns: 60 },
    );
  });

  test("a channel's slope is what its value grows by, for every ease", () => {
    fc.assert(
      fc.property(channel(-300, 300), share(0.02, 0.98), (keys, f) => {
        const [a, b] = [keys[0]!, keys[1]!];
        const t = a.time + (b.time - a.time) * f;
        const h = 1e-6;
        const grown = (evaluate(keys, t + h, 0) - evaluate(keys, t - h, 0)) / (2 * h);
        const scale = 1 + Math.abs(b.value - a.value) / (b.time - a.time);
        // Steep Béziers bend within the step.
        if (Math.abs(grown) < 30 * scale) expect(Math.abs(slopeAt(keys, t) - grown) / scale).toBeLessThan(0.05);
      }),
    );
  });

  test('every segment is a Bézier, the same to rounding', () => {
    fc.assert(
      fc.property(channel(-300, 300), share(0, 1), (keys, f) => {
        const curve = bezierOfSegment(keys, 0);
        if (!curve) return expect(keys[0]!.ease).toBe('hold');
        const [a, b] = [keys[0]!, keys[1]!];
        const t = a.time + (b.time - a.time) * f;
        const same = evaluate([{ ...a, ease: curve }, b], t, 0);
        expect(same).toBeCloseTo(evaluate(keys, t, 0), 6);
      }),
    );
  });
});

describe('many keyframes', () => {
  test('moved there and back, mirrored twice, offset and back are what they were', () => {
    fc.assert(
      fc.property(path, (p) => {
        const chosen = all(p);
        const moved = shiftKeys(p, chosen, 2, { pan: 15 });
        keysOf(moved, 'pan').forEach((key, i) => {
          expect(key.time).toBeCloseTo(keysOf(p, 'pan')[i]!.time + 2, 9);
          expect(key.value).toBeCloseTo(keysOf(p, 'pan')[i]!.value + 15, 9);
        });
        const back = shiftKeys(moved, all(moved), -2, { pan: -15 });
        for (const name of CHANNELS)
          keysOf(back, name).forEach((key, i) => {
            expect(key.time).toBeCloseTo(keysOf(p, name)[i]!.time, 9);
            expect(key.value).toBeCloseTo(keysOf(p, name)[i]!.value, 9);
          });
        expect(apart(p, mirrorKeys(mirrorKeys(p, chosen), chosen))).toBeLessThan(1e-9);
      }),
    );
  });

  test('mirrored, what went right goes left, and the view begins where it did', () => {
    const p = setViewKey(setViewKey(emptyPath(), 0, { pan: 30, roll: 5 }), 2, { pan: 80, roll: -3 });
    const m = mirrorKeys(p, all(p));
    expect([viewAt(m, 0).pan, viewAt(m, 2).pan]).toEqual([30, -20]);
    expect([viewAt(m, 0).roll, viewAt(m, 2).roll]).toEqual([-5, 3]);
  });

  test('reversed, they are met from behind, and twice reversed as before', () => {
    const straight = path.map((p) => ({
      ...p,
      // A hold has nothing that it could be backwards.
      ...Object.fromEntries(
        CHANNELS.map((n) => [n, keysOf(p, n).map((k) => ({ ...k, ease: k.ease === 'hold' ? 'linear' : k.ease! }))]),
      ),
    }));
    fc.assert(
      fc.property(straight, share(0, 1), (p: Path, f) => {
        const back = reverseKeys(p, all(p));
        const { from, to } = spanOfKeys(p)!;
        for (const name of ['pan', 'fov'] as const) {
          const keys = keysOf(p, name);
          const time = keys[0]!.time + (keys.at(-1)!.time - keys[0]!.time) * f;
          expect(viewAt(back, from + to - time)[name]).toBeCloseTo(viewAt(p, time)[name], 5);
        }
        expect(apart(p, reverseKeys(back, all(back)))).toBeLessThan(1e-5);
      }),
    );
  });

  test('stretched about the playhead they stay on frames, and two that meet are one', () => {
    const p = setViewKey(setViewKey(setViewKey(emptyPath(), 1, { pan: 1 }), 1.1, { pan: 2 }), 3, { pan: 3 });
    expect(keysOf(scaleKeys(p, all(p), 1, 2, 30), 'pan').map((k) => k.time)).toEqual([1, 1.2, 5]);
    const tight = keysOf(scaleKeys(p, all(p), 1, 0.1, 30), 'pan');
    expect(tight.map((k) => [k.time, k.value])).toEqual([
      [1, 2],
      [1.2, 3],
    ]);
  });

  test('none goes before the start, and values stay where they may be', () => {
    const p = setViewKey(setViewKey(emptyPath(), 1, {}), 3, {});
    expect(keysOf(shiftKeys(p, all(p), -5), 'pan').map((k) => k.time)).toEqual([0, 2]);
    expect(viewAt(shiftKeys(p, all(p), 0, { fov: 900 }), 1).fov).toBe(360);
  });

  test('ends are eased where they are, and what lies between is left alone', () => {
    let p = emptyPath();
    for (const t of [0, 1, 2, 3]) p = setViewKey(p, t, { pan: t * 10 }, 'linear');
    const eased = keysOf(easeEnds(p, all(p)), 'pan').map((k) => k.ease);
    expect(eased).toEqual(['ease-in', 'linear', 'ease-out', 'linear']);
  });

  test('are copied with their shape, and pasted over what is there', () => {
    fc.assert(
      fc.property(path, fc.integer({ min: 0, max: 200 }), (p, frame) => {
        const clipping = clippingOf(p, all(p))!;
        const at = frame / 30;
        const { path: pasted, selection } = pasteClipping(p, clipping, at, { rate: 30 });
        const { from, to } = spanOfKeys(p)!;
        expect(lengthOf(clipping)).toBeCloseTo(to - from, 9);
        expect(selection.size).toBe(all(p).size);
        for (const name of ['pan', 'tilt'] as const) {
          const keys = keysOf(p, name);
          for (const k of keys) {
            const there = keysOf(pasted, name).find((o) => Math.abs(o.time - (k.time - from + at)) < 1e-6);
            expect(there).toMatchObject({ value: k.value, ease: k.ease });
          }
        }
      }),
    );
    expect(clippingOf(emptyPath(), NOTHING)).toBeNull();
  });

  test('of one channel leave the others alone', () => {
    const p = setChannelKey(setViewKey(emptyPath(), 0, { pan: 5 }), 'fov', 2, 40);
    expect(keysOf(p, 'pan')).toHaveLength(1);
    expect(keysOf(p, 'fov').map((k) => [k.time, k.value])).toEqual([
      [0, 75],
      [2, 40],
    ]);
  });
});

describe('in between', () => {
  test('a keyframe keeps the curve', () => {
    fc.assert(
      fc.property(path, share(0.01, 0.99), (p, f) => {
        const { from, to } = spanOfKeys(p)!;
        const time = Math.round((from + (to - from) * f) * 30) / 30;
        // Where a curve comes back to the value it left, no share of the way can be told.
        const flat = CHANNELS.some((n) =>
          keysOf(p, n).some((k) => Math.abs(k.value - viewAt(p, time)[n]) < 1e-2 && k.time !== time),
        );
        if (!flat) expect(apart(p, insertBetween(p, time))).toBeLessThan(1e-6);
      }),
    );
  });

  test('on an arc it lies on the arc', () => {
    const two = setViewKey(setViewKey(emptyPath(), 0, { pan: -80, tilt: 60 }, 'linear'), 3, { pan: 80, tilt: 10 });
    const arc = { ...two, turn: 'arc' as const };
    const put = insertBetween(arc, 1);
    expect(Math.abs(viewAt(put, 1).tilt - viewAt(two, 1).tilt)).toBeGreaterThan(0.3);
    for (const t of times(0, 3, 30)) expect(viewAt(put, t).tilt).toBeCloseTo(viewAt(arc, t).tilt, 2);
  });

  test('one segment may turn by an arc and the next along its dials', () => {
    let p = setViewKey(setViewKey(emptyPath(), 0, { pan: 170 }, 'linear'), 2, { pan: -170 }, 'linear');
    p = setViewKey(p, 4, { pan: 170 });
    p = { ...p, pan: keysOf(p, 'pan').map((k, i) => (i === 0 ? { ...k, turn: 'arc' as const } : k)) };
    expect([turnAfter(p, 1), turnAfter(p, 3)]).toEqual(['arc', 'dials']);
    expect(Math.abs(Math.abs(viewAt(p, 1).pan) - 180)).toBeLessThan(1e-6);
    expect(viewAt(p, 3).pan).toBeCloseTo(0, 6);
  });
});

describe('turns', () => {
  test('a spin goes round so many times and looks the same before and after', () => {
    const p = setViewKey(setViewKey(emptyPath(), 0, { pan: 10, tilt: -5 }, 'linear'), 6, { pan: 40 }, 'linear');
    for (const [axis, name] of [
      ['vertical', 'pan'],
      ['view', 'roll'],
      ['across', 'tilt'],
    ] as const) {
      const s = spin(p, axis, 2, 4, -2, 'linear');
      expect(viewAt(s, 4)[name] - viewAt(s, 2)[name]).toBeCloseTo(-720 + (viewAt(p, 4)[name] - viewAt(p, 2)[name]), 6);
      for (const t of [0, 1, 2, 4, 5, 6]) {
        const turn = (viewAt(s, t)[name] - viewAt(p, t)[name]) / 360;
        expect(turn).toBeCloseTo(Math.round(turn), 6);
      }
    }
  });

  test('a turn of more than half a circle goes the other way round when asked', () => {
    const p = setViewKey(setViewKey(setViewKey(emptyPath(), 0, { pan: -100 }), 2, { pan: 100 }), 4, { pan: 120 });
    expect(turnAcross(p, 1)).toBe(200);
    const other = otherWayRound(p, 1);
    expect(turnAcross(other, 1)).toBe(-160);
    expect(turnAcross(other, 3)).toBe(20);
    expect(turnAcross(p, 5)).toBeNull();
  });

  test('a loop ends as it begins, the short way', () => {
    const p = setViewKey(setViewKey(emptyPath(), 1, { pan: 170, fov: 50 }), 3, { pan: 520, fov: 90 });
    const loop = backToFirst(p, 6, 30);
    expect(viewAt(loop, 6)).toMatchObject({ pan: 530, fov: 50 });
  });
});

describe('speed', () => {
  test('is even within a hundredth along the whole way', () => {
    const wild: fc.Arbitrary<Path> = fc
      .array(fc.record({ pan: share(-200, 200), tilt: share(-60, 60) }), { minLength: 3, maxLength: 3 })
      .filter((v) => v.every((k, i) => i === 0 || Math.abs(k.pan - v[i - 1]!.pan) > 20))
      .map((views) => views.reduce((p, view, i) => setViewKey(p, i * 1.5, view), emptyPath()));
    fc.assert(
      fc.property(wild, (p) => {
        const { from, to } = spanOfKeys(p)!;
        const even = evenSpeed(p, from, to);
        const speeds = times(from + 0.05, to - 0.05, 60).map((t) => speedAt(even, t, 2000));
        const usual = [...speeds].sort((a, b) => a - b)[speeds.length >> 1]!;
        const off = speeds.map((s) => Math.abs(s / usual - 1)).sort((a, b) => a - b);
        // A turning point of the pan is a corner: one moment there may stand still.
        expect(off[Math.floor(off.length * 0.97)]).toBeLessThan(0.01);
        expect(viewAt(even, to).pan).toBeCloseTo(viewAt(p, to).pan, 6);
      }),
      { numRuns: 6, endOnFailure: true },
    );
    expect(evenSpeed(emptyPath(), 0, 3)).toEqual(emptyPath());
  });

  test('of one channel is even from its first keyframe to its last', () => {
    let p = emptyPath();
    for (const [t, v] of [
      [0, 0],
      [1, 60],
      [4, 90],
    ] as const)
      p = setChannelKey(p, 'pan', t, v);
    const keys = keysOf(evenChannel(p, 'pan'), 'pan');
    expect(keys.map((k) => Number(k.time.toFixed(6)))).toEqual([0, 2.666667, 4]);
    expect([0.5, 3.5].map((t) => slopeAt(keys as Keyframe[], t))).toEqual([22.5, expect.closeTo(22.5, 9)]);
  });

  test('too fast is where a seventh of the picture goes by in a frame', () => {
    const view = (pan: number): View => ({ pan, tilt: 0, roll: 0, fov: 60, bend: 0, shiftX: 0, shiftY: 0 });
    // 16:9 at 60° across the height is 91.5° wide: a seventh is about 16° in the middle.
    expect(movement(view(0), view(16), 16 / 9)).toBeGreaterThan(COMFORT);
    expect(movement(view(0), view(12), 16 / 9)).toBeLessThan(COMFORT);
    const at = (t: number) => view(t > 2 && t < 3 ? 600 * (t - 2) : t >= 3 ? 600 : 0);
    const [found, ...more] = tooFast(at, { from: 0, to: 5, rate: 30, ratio: 16 / 9 });
    expect([more.length, found!.from, found!.to]).toEqual([0, expect.closeTo(2, 1), expect.closeTo(3, 1)]);
  });
});

describe('samples', () => {
  const steered: Sample[] = times(0, 10, 300).map((time) => ({
    time,
    values: { pan: 60 * Math.sin(time) + 8 * time, tilt: 20 * Math.cos(time / 2), fov: 75 },
  }));

  test.each([0.3, 1, 4])('are simplified to a curve within %p°, as it says', (tolerance) => {
    const { clipping, deviation } = simplify(steered, tolerance);
    expect(deviation).toBeLessThanOrEqual(tolerance);
    const off = steered.map(({ time, values }) =>
      Math.max(...(['pan', 'tilt', 'fov'] as const).map((n) => Math.abs(evaluate(clipping[n]!, time, 0) - values[n]!))),
    );
    expect(Math.max(...off)).toBeCloseTo(deviation, 9);
    expect(clipping.pan!.length).toBeLessThan(tolerance < 1 ? 60 : 30);
  });

  test('are smoothed without being drawn in at the ends, and a straight way stays', () => {
    const shaky = steered.map((s, i) => ({ ...s, values: { pan: s.time * 10 + (i % 2 ? 1 : -1) } }));
    const calm = smoothed(shaky, 0.3);
    expect(calm[0]).toEqual(shaky[0]);
    expect(calm.at(-1)).toEqual(shaky.at(-1));
    for (const { time, values } of calm.slice(30, -30)) expect(values.pan).toBeCloseTo(time * 10, 1);
    expect(smoothed(steered, 0)).toEqual(steered);
  });
});

describe('moves', () => {
  const view: fc.Arbitrary<View> = fc.record({
    pan: share(-720, 720), tilt: share(-90, 90), roll: share(-180, 180), fov: share(10, 140), bend: share(0, 1),
    shiftX: fc.constant(0), shiftY: fc.constant(0),
  }); // prettier-ignore

  test.each(MOVES.map((m) => [m.name, m] as const))(
    '%s begins or ends with what is framed, whatever that is',
    (_, move) => {
      fc.assert(
        fc.property(view, share(0.2, 8), (framed, length) => {
          const { path: p, selection } = putMove(emptyPath(), move, 2, { view: framed, values: { length }, rate: 30 });
          const last = lengthOf(clippingOfMove(move, framed, { length }));
          expect(last).toBeCloseTo(Math.max(length, 0), 6);
          const end = 2 + Math.round(last * 30) / 30;
          const met = viewAt(p, move.framed === 'first' ? 2 : end);
          for (const name of ['pan', 'tilt', 'roll', 'fov', 'bend'] as const)
            expect(met[name]).toBeCloseTo(framed[name], 6);
          expect(selection.size).toBeGreaterThan(0);
          let before = viewAt(p, 2);
          for (const t of times(2, end, 120)) {
            const now = viewAt(p, t);
            for (const name of CHANNELS) expect(Number.isFinite(now[name])).toBe(true);
            // No pole is gone over, no lens leaves its range, nothing leaps.
            expect(Math.abs(now.tilt)).toBeLessThanOrEqual(90 + 1e-9);
            expect(Number.isFinite(clampLens(now.fov, now.bend).fov)).toBe(true);
            if (length > 2 && move.id !== 'whip') expect(Math.abs(now.tilt - before.tilt)).toBeLessThan(12);
            before = now;
          }
        }),
        { numRuns: 6 },
      );
    },
  );

  test.each(MOVES.map((m) => [m.id, m] as const))(
    '%s has a shape that can be drawn and tells it from standing still',
    (_, move) => {
      const shape = shapeOfMove(move);
      expect([shape[0]!.at, shape.at(-1)!.at]).toEqual([0, 1]);
      for (const { left, middle, right } of shape) expect(left < middle && middle < right).toBe(true);
      const widths = shape.map((m) => m.right - m.left);
      const changes = (list: number[]) => Math.max(...list) - Math.min(...list);
      expect(changes(widths) + changes(shape.map((m) => m.middle))).toBeGreaterThan(5);
    },
  );

  test('the shape of a whip turns as far as it goes, that of a push gets narrower', () => {
    const shape = (id: string) => shapeOfMove(MOVES.find((m) => m.id === id)!);
    const whip = shape('whip');
    expect(whip.at(-1)!.middle - whip[0]!.middle).toBeCloseTo(120, 6);
    const [first, last] = [shape('push')[0]!, shape('push').at(-1)!];
    expect(last.right - last.left).toBeLessThan(first.right - first.left);
    expect(last.middle).toBeCloseTo(first.middle, 6);
  });

  test('can be given other numbers', () => {
    const whip = MOVES.find((m) => m.id === 'whip')!;
    const framed = { pan: 10, tilt: 0, roll: 0, fov: 60, bend: 0, shiftX: 0, shiftY: 0 };
    expect(usualValues(whip)).toMatchObject({ turn: 120 });
    const { path: p } = putMove(emptyPath(), whip, 1, { view: framed, values: { turn: -90, length: 0.5 }, rate: 30 });
    expect(viewAt(p, 1.5).pan).toBe(-80);
    // Most of the way lies in the middle.
    expect(Math.abs(viewAt(p, 1.1).pan - 10)).toBeLessThan(5);
  });
});
