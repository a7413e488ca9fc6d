/** How the value moves along the segment that leaves a keyframe. */
export const EASES = ['smooth', 'linear', 'hold', 'ease-in', 'ease-out', 'ease-in-out', 'whip', 'jolt'] as const;
export type NamedEase = (typeof EASES)[number];
export type Bezier = readonly [x1: number, y1: number, x2: number, y2: number];
export type Ease = NamedEase | Bezier;

const CURVES: Partial<Record<NamedEase, Bezier>> = {
  'ease-in': [0.42, 0, 1, 1],
  'ease-out': [0, 0, 0.58, 1],
  'ease-in-out': [0.42, 0, 0.58, 1],
  whip: [0.86, 0, 0.14, 1],
  jolt: [0.05, 0.86, 0.2, 1],
};

/** Share of the way done, for a share f (0…1) of a segment's time. `smooth` depends on its neighbours and is not known here. */
export function easeAt(ease: Exclude<Ease, 'smooth'>, f: number): number {
  if (ease === 'linear') return f;
  if (ease === 'hold') return f < 1 ? 0 : 1;
  return bezierAt(typeof ease === 'string' ? CURVES[ease]! : ease, f);
}

/** An ease other than `hold` and `smooth` as a Bézier. */
export function bezierOf(ease: Exclude<Ease, 'smooth' | 'hold'>): Bezier {
  if (typeof ease !== 'string') return ease;
  return ease === 'linear' ? [1 / 3, 1 / 3, 2 / 3, 2 / 3] : CURVES[ease]!;
}

/** Slope of `easeAt` at a share f of a segment's time; at an end with a handle of no length, that of the nearest point beside it. */
export function easeSlope(ease: Exclude<Ease, 'smooth'>, f: number): number {
  if (ease === 'linear') return 1;
  if (ease === 'hold') return 0;
  const [x1, y1, x2, y2] = bezierOf(ease);
  const t = parameterAt(x1, x2, Math.max(1e-6, Math.min(1 - 1e-6, f)));
  return slope(y1, y2, t) / Math.max(1e-9, slope(x1, x2, t));
}

/** The share of the way done, summed up over the time until a share f of it: the integral of `easeAt` from 0 to f, exactly. */
export function easeIntegral(ease: Exclude<Ease, 'smooth'>, f: number): number {
  if (ease === 'linear') return (f * f) / 2;
  if (ease === 'hold' || f <= 0) return 0;
  const [x1, y1, x2, y2] = bezierOf(ease);
  const t = parameterAt(x1, x2, Math.min(1, f));
  // y(t)·x′(t) is a polynomial of degree 5: three points of Gauss and Legendre sum it up exactly.
  const at = (s: number) => cubic(y1, y2, s) * slope(x1, x2, s);
  const [middle, reach] = [t / 2, (t / 2) * Math.sqrt(0.6)];
  return (t / 18) * (5 * at(middle - reach) + 8 * at(middle) + 5 * at(middle + reach));
}

/** y at x = f on a cubic Bézier from (0, 0) to (1, 1), as in W3C CSS Easing Functions Level 1. */
export const bezierAt = ([x1, y1, x2, y2]: Bezier, f: number): number =>
  f <= 0 ? 0 : f >= 1 ? 1 : cubic(y1, y2, parameterAt(x1, x2, f));

/** The curve's parameter at x = f, 0…1. */
export function parameterAt(x1: number, x2: number, f: number): number {
  if (f <= 0) return 0;
  if (f >= 1) return 1;
  let low = 0;
  let high = 1;
  let t = f;
  // Newton's steps, kept inside a bracket that bisection narrows: x(t) is monotone since x1, x2 lie in 0…1.
  for (let i = 0; i < 40; i++) {
    const error = cubic(x1, x2, t) - f;
    if (Math.abs(error) < 1e-12) break;
    if (error > 0) high = t;
    else low = t;
    const next = t - error / slope(x1, x2, t);
    t = next > low && next < high ? next : (low + high) / 2;
  }
  return t;
}

const cubic = (a: number, b: number, t: number) => t * (3 * (1 - t) * ((1 - t) * a + t * b) + t * t);
const slope = (a: number, b: number, t: number) =>
  3 * (1 - t) * (1 - t) * a + 6 * t * (1 - t) * (b - a) + 3 * t * t * (1 - b);

/** Whether a segment with this ease starts, or ends, at rest. Decides the tangents of smooth neighbours. */
export function restsAt(ease: Ease, end: 'start' | 'end'): boolean {
  if (ease === 'hold') return true;
  if (ease === 'smooth' || ease === 'linear') return false;
  const [x1, y1, x2, y2] = typeof ease === 'string' ? CURVES[ease]! : ease;
  return end === 'start' ? Math.abs(y1) < 1e-9 && x1 > 0 : Math.abs(1 - y2) < 1e-9 && x2 < 1;
}
