/**
 * The ridge line of Brindle Halt: a closed loop of narrow track, as pure geometry in metres.
 * Axes as everywhere in Glimbo: x right (east), y up, z ahead (north).
 */
export type Point = [number, number, number];

const STEPS = 4096;
const shape = (phi: number): Point => {
  const r = 4.4 + 0.85 * Math.cos(2 * phi + 0.4) + 0.32 * Math.cos(3 * phi);
  return [r * Math.cos(phi) * 1.28, 0.36 + 0.2 * Math.sin(phi + 0.6) + 0.05 * Math.sin(3 * phi), r * Math.sin(phi)];
};

const lengths = new Float64Array(STEPS + 1);
for (let i = 1; i <= STEPS; i++) {
  const a = shape(((i - 1) / STEPS) * 2 * Math.PI);
  const b = shape((i / STEPS) * 2 * Math.PI);
  lengths[i] = lengths[i - 1]! + Math.hypot(b[0] - a[0], b[1] - a[1], b[2] - a[2]);
}

/** Length of the loop in metres. */
export const LOOP_LENGTH = lengths[STEPS]!;
/** Distance between rail joints in metres: each gives a jolt. */
export const JOINT_SPACING = 1.15;
/** Distance of the outer line from the inner one in metres. */
export const OUTER_OFFSET = 0.52;
/** Where the tunnel lies, in metres along the loop. */
export const TUNNEL = { from: 12.4, to: 15.2 };
/** Where the trestle bridge lies, in metres along the loop. */
export const TRESTLE = { from: 20.5, to: 24.5 };

function phiAt(s: number): number {
  const d = ((s % LOOP_LENGTH) + LOOP_LENGTH) % LOOP_LENGTH;
  let lo = 0;
  let hi = STEPS;
  while (hi - lo > 1) {
    const mid = (lo + hi) >> 1;
    if (lengths[mid]! <= d) lo = mid;
    else hi = mid;
  }
  const part = (d - lengths[lo]!) / (lengths[hi]! - lengths[lo]!);
  return ((lo + part) / STEPS) * 2 * Math.PI;
}

/** Position, heading (radians, 0 = north, positive to the right), slope and curvature (1/m, positive to the right) at s metres. */
export function trackAt(s: number, offset = 0) {
  const e = 0.02;
  const p = shape(phiAt(s));
  const a = shape(phiAt(s - e));
  const b = shape(phiAt(s + e));
  const heading = Math.atan2(b[0] - a[0], b[2] - a[2]);
  const before = Math.atan2(p[0] - a[0], p[2] - a[2]);
  const after = Math.atan2(b[0] - p[0], b[2] - p[2]);
  const turn = Math.atan2(Math.sin(after - before), Math.cos(after - before));
  const slope = Math.atan2(b[1] - a[1], Math.hypot(b[0] - a[0], b[2] - a[2]));
  // The loop runs anticlockwise seen from above, so its outside is on the right.
  const position: Point = [p[0] + offset * Math.cos(heading), p[1], p[2] - offset * Math.sin(heading)];
  return { position, heading, slope, curvature: turn / e };
}

/** Distance in metres on the ground from a place to the nearer of the two lines. */
export function distanceToLines(x: number, z: number): number {
  let nearest = Infinity;
  for (let s = 0; s < LOOP_LENGTH; s += 0.25)
    for (const line of [0, OUTER_OFFSET]) {
      const { position } = trackAt(s, line);
      nearest = Math.min(nearest, Math.hypot(position[0] - x, position[2] - z));
    }
  return nearest;
}
