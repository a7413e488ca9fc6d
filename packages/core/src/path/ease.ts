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

/** y at x = f on a cubic Bézier from (0, 0) to (1, 1), as in W3C CSS Easing Functions Level 1. */
export function bezierAt([x1, y1, x2, y2]: Bezier, f: number): number {
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
  return cubic(y1, y2, t);
}

const cubic = (a: number, b: number, t: number) => t * (3 * (1 - t) * ((1 - t) * a + t * b) + t * t);
const slope = (a: number, b: number, t: number) =>
  3 * (1 - t) * (1 - t) * a + 6 * t * (1 - t) * (b - a) + 3 * t * t * (1 - b);

/** Whether a segment with this ease starts, or ends, at rest. Decides the tangents of smooth neighbours. */
export function restsAt(ease: Ease, end: 'start' | 'end'): boolean {
  if (ease === 'hold') return true;
  if (ease === 'smooth' || ease === 'linear') return false;
  const [x1, y1, x2, y2] = typeof ease === 'string' ? CURVES[ease]! : ease;
  return end === 'start' ? y1 === 0 && x1 > 0 : y2 === 1 && x2 < 1;
}
