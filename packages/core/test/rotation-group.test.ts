/** Properties of the rotation group's tools: vectors, means, slerps, putting spans and steps together. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { orientationsOf } from '../src/motion/assemble.js';
import {
  apply,
  DEGREES,
  dot,
  matrixOf,
  multiply,
  quaternionOf,
  rotationAbout,
  rotationVector,
  slerp,
  transpose,
  turnBetween,
  turnTo,
  unit,
  type Matrix3,
  type Vec3,
  vec3,
} from '../src/geometry/rotation.js';
import { inverseDiagonal, solveBanded, solveSymmetric } from '../src/geometry/solve.js';
import { twistOf, withTwist } from '../src/steady/heading.js';
import { meanOrientation } from '../src/steady/mean.js';

const part = fc.double({ min: -1, max: 1, noNaN: true });
const vector = (most: number) =>
  fc
    .tuple(part, part, part)
    .filter((v) => Math.hypot(...v) > 1e-3)
    .map((v) => {
      const k = most / Math.max(1, Math.hypot(...v));
      return vec3(v.map((x) => x * k));
    });
const rotation = vector(3.1).map(rotationAbout);
const expectClose = (a: ArrayLike<number>, b: ArrayLike<number>, digits = 9) => {
  expect(a.length).toBe(b.length);
  for (let i = 0; i < a.length; i++) expect(a[i]).toBeCloseTo(b[i]!, digits);
};

test('a rotation about a vector gives the vector back', () => {
  fc.assert(fc.property(vector(3.1), (v) => expectClose(rotationVector(rotationAbout(v)), v, 7)));
  // About y, positive turns ahead to the right.
  expectClose(apply(rotationAbout([0, Math.PI / 2, 0]), [0, 0, 1]), [1, 0, 0]);
});

test('the shortest turn takes one direction to another, opposite ones too', () => {
  fc.assert(
    fc.property(vector(1), vector(1), (a, b) => expectClose(apply(turnTo(unit(a), unit(b)), unit(a)), unit(b), 7)),
  );
  expectClose(apply(turnTo([0, 1, 0], [0, -1, 0]), [0, 1, 0]), [0, -1, 0]);
});

describe('means', () => {
  test('of orientations around one are that one', () => {
    fc.assert(
      fc.property(rotation, vector(0.6), vector(0.6), (centre, a, b) => {
        const around = [a, a.map((v) => -v), b, b.map((v) => -v)].map((v) =>
          quaternionOf(multiply(centre, rotationAbout(vec3(v)))),
        );
        const mean = meanOrientation(around, [1, 1, 2, 2], around[0]!);
        expect(turnBetween(mean, quaternionOf(centre))).toBeLessThan(1e-4);
      }),
    );
  });

  test('do not depend on which way all are turned', () => {
    fc.assert(
      fc.property(rotation, fc.array(vector(0.5), { minLength: 2, maxLength: 6 }), (turn, vectors) => {
        const list = vectors.map((v) => quaternionOf(rotationAbout(v)));
        const weights = list.map((_, i) => 1 + i);
        const turned = list.map((q) => quaternionOf(multiply(turn, matrixOf(q))));
        const a = multiply(turn, matrixOf(meanOrientation(list, weights, list[0]!)));
        expect(turnBetween(quaternionOf(a), meanOrientation(turned, weights, turned[0]!))).toBeLessThan(1e-4);
      }),
    );
  });
});

test('slerp goes evenly', () => {
  fc.assert(
    fc.property(rotation, rotation, fc.double({ min: 0, max: 1, noNaN: true }), (a, b, f) => {
      const [p, q] = [quaternionOf(a), quaternionOf(b)];
      expect(turnBetween(p, slerp(p, q, f))).toBeCloseTo(f * turnBetween(p, q), 4);
    }),
  );
});

test('a twist about the vertical can be set and leaves the lean alone', () => {
  fc.assert(
    fc.property(vector(1.2), vector(1), part, (v, up, to) => {
      const q = quaternionOf(rotationAbout(v));
      const vertical = unit(up);
      const turned = withTwist(q, vertical, to * 3);
      expect(Math.cos(twistOf(turned, vertical) - to * 3)).toBeCloseTo(1, 6);
      const lean = (o: typeof q) => dot(apply(transpose(matrixOf(o)), vertical), vertical);
      expect(lean(turned)).toBeCloseTo(lean(q), 8);
    }),
  );
});

describe('steps and spans', () => {
  const steps = (list: Vec3[]) => [[0, 0, 0] as Vec3, ...list].map((v) => ({ turn: rotationAbout(v) }));

  test('without spans the steps add up', () => {
    const found = orientationsOf(
      steps([
        [0, 0.1, 0],
        [0, 0.2, 0],
      ]),
      [],
    );
    expectClose(rotationVector(found[2]!), [0, 0.3, 0]);
  });

  const chained = (parts: { turn: Matrix3 }[]) =>
    parts.slice(1).reduce((m, s) => multiply(m, s.turn), rotationAbout([0, 0, 0]));

  test('what a span says otherwise is shared out evenly over its steps', () => {
    fc.assert(
      fc.property(fc.array(vector(0.05), { minLength: 4, maxLength: 9 }), vector(0.02), (list, error) => {
        const parts = steps(list);
        const span = { from: 0, to: list.length, turn: multiply(chained(parts), rotationAbout(error)), weight: 0.3 };
        const found = orientationsOf(parts, [span]);
        const changes = found.slice(1).map((o, n) => {
          const step = multiply(transpose(found[n]!), o);
          return turnBetween(quaternionOf(step), quaternionOf(parts[n + 1]!.turn));
        });
        // Steps in a row give way by as much as there are of them; the span by what its weight leaves.
        const whole = (Math.hypot(...error) * DEGREES) / (list.length + 1 / 0.3);
        for (const change of changes) expect(Math.abs(change - whole)).toBeLessThan(0.02 * whole + 1e-3);
      }),
    );
  });

  test('overlapping spans take away most of an error that every step makes', () => {
    const truth = steps(Array.from({ length: 600 }, (_, n) => [0.03 * Math.sin(n / 9), 0.01, 0.02 * Math.cos(n / 5)]));
    const wrong = truth.map(({ turn }) => ({ turn: multiply(turn, rotationAbout([0, 3e-4, 0])) }));
    const spans = Array.from({ length: 197 }, (_, k) => ({
      from: 3 * k,
      to: 3 * k + 12,
      turn: chained(truth.slice(3 * k, 3 * k + 13)),
      weight: 0.3,
    }));
    const off = (m: Matrix3) => turnBetween(quaternionOf(m), quaternionOf(chained(truth)));
    expect(off(chained(wrong))).toBeGreaterThan(4);
    expect(off(orientationsOf(wrong, spans).at(-1)!)).toBeLessThan(0.15 * off(chained(wrong)));
  });
});

test('banded systems are solved like whole ones', () => {
  fc.assert(
    fc.property(fc.array(vector(1), { minLength: 6, maxLength: 12 }), (list) => {
      const [n, reach] = [list.length, 2];
      const whole = new Float64Array(n * n);
      const band = new Float64Array(n * (reach + 1));
      list.forEach((v, i) => {
        for (let k = 0; k <= Math.min(reach, i); k++) {
          const value = k === 0 ? 5 + v[0] : v[k]!;
          band[i * (reach + 1) + k] = whole[i * n + i - k] = whole[(i - k) * n + i] = value;
        }
      });
      const right = Float64Array.from(list, (v) => v[2]);
      expectClose(solveBanded(band, reach, [right.slice()])[0]!, solveSymmetric(whole, right, n)!);
    }),
  );
});

test('small symmetric systems are solved, others refused', () => {
  expectClose(solveSymmetric([4, 1, 1, 3], [1, 2], 2)!, [1 / 11, 7 / 11]);
  expectClose(inverseDiagonal([4, 1, 1, 3], 2)!, [3 / 11, 4 / 11]);
  expect(solveSymmetric([1, 2, 2, 1], [1, 1], 2)).toBeNull();
});
