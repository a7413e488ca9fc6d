/** How large what was pointed at is: the box whose colours differ most from those on every side of it. */
import { angleBetween, apply, type Vec3 } from '../geometry/rotation.js';
import { directionAt, type Camera } from '../lens/view.js';
import { glimpse, type Glimpse, type SphereFrame } from './sphere-frame.js';
import { uprightTo } from './aim.js';
import type { Box } from './tracker.js';

const RAD = Math.PI / 180;
const SIDE = 48;
/** Cells from side to side over the size that is tried. */
const PADDING = 2.6;
/** Sizes in degrees, smallest first, and the factor from one to the next. */
const [SMALLEST, LARGEST, FACTOR] = [2.5, 75, 1.22];
/** Widths over heights that things have: upright, round, lying. */
const SHAPES: readonly (readonly [number, number])[] = [
  [0.42, 1],
  [0.8, 1],
  [1, 0.55],
];
/** Shares of the size by which the middle may be off from where was pressed. */
const OFF = [-0.22, 0, 0.22];
/** What a middle that is off costs. */
const ASIDE = 0.15;
/** From where on, in half sizes, something counts as round about, and up to where. */
const [NEAR, FAR] = [1.15, 1.75];
/** How much a larger box is preferred: parts of a thing stand out too. */
const LARGER = 0.06;

const LEVELS = 6;
const BINS = LEVELS ** 3;

/**
 * The box that a rectangle drawn from one pixel to another stands for, in the axes that the camera aims in; null where it reaches
 * beyond the projection.
 */
export function boxDrawn(camera: Camera, from: { x: number; y: number }, to: { x: number; y: number }): Box | null {
  const [x, y] = [(from.x + to.x) / 2, (from.y + to.y) / 2];
  const [direction, left, right, top, bottom] = [
    directionAt(camera, x, y),
    directionAt(camera, Math.min(from.x, to.x), y),
    directionAt(camera, Math.max(from.x, to.x), y),
    directionAt(camera, x, Math.min(from.y, to.y)),
    directionAt(camera, x, Math.max(from.y, to.y)),
  ];
  if (!direction || !left || !right || !top || !bottom) return null;
  const within = (angle: number) => Math.max(0.5, Math.min(100, angle));
  return { direction, width: within(angleBetween(left, right)), height: within(angleBetween(top, bottom)) };
}

/** Finds the box round a direction of the picture. */
export function boxAround(frame: SphereFrame, direction: Vec3): Box {
  const look: Glimpse = {
    side: SIDE,
    planes: [new Float32Array(SIDE * SIDE), new Float32Array(SIDE * SIDE), new Float32Array(SIDE * SIDE)],
  };
  const bins = new Uint16Array(SIDE * SIDE);
  const toPicture = uprightTo(direction);
  let best = { score: -Infinity, box: { direction, width: 10, height: 10 } };
  for (let size = SMALLEST; size <= LARGEST; size *= FACTOR) {
    glimpse(frame, toPicture, size * PADDING * RAD, look);
    fillBins(look, bins);
    const half = SIDE / PADDING / 2;
    for (const [w, h] of SHAPES)
      for (const dx of OFF)
        for (const dy of OFF) {
          const place = { x: dx * 2 * half * w, y: dy * 2 * half * h, w: half * w, h: half * h };
          const score = standsOut(bins, place) * size ** LARGER * (1 - ASIDE * (Math.abs(dx) + Math.abs(dy)));
          if (score <= best.score) continue;
          const at = [dx * w * size * RAD, -dy * h * size * RAD] as const;
          const to = apply(toPicture, unitOf(at[0], at[1]));
          best = { score, box: { direction: to, width: size * w, height: size * h } };
        }
  }
  return best.box;
}

const unitOf = (right: number, up: number): Vec3 => {
  const angle = Math.hypot(right, up);
  const s = angle > 0 ? Math.sin(angle) / angle : 0;
  return [right * s, up * s, Math.cos(angle)];
};

function fillBins({ planes }: Glimpse, bins: Uint16Array) {
  const level = (v: number, low: number, high: number) =>
    Math.max(0, Math.min(LEVELS - 1, Math.floor(((v - low) / (high - low)) * LEVELS)));
  for (let i = 0; i < bins.length; i++)
    bins[i] =
      (level(planes[0][i]!, 0, 256) * LEVELS + level(planes[1][i]!, 80, 176)) * LEVELS + level(planes[2][i]!, 80, 176);
}

/** Sides of an ellipse on which its surroundings are looked at by themselves: right, up, left, down. */
const SIDES = 4;

/**
 * Half the sum of differences between the shares of colours within an ellipse and beside it, on the side where they are most alike: 0
 * alike, 1 nothing in common. What is cut out of something larger is like it on one side at least.
 */
function standsOut(bins: Uint16Array, { x, y, w, h }: { x: number; y: number; w: number; h: number }): number {
  const own = new Float64Array(BINS);
  const about = new Float64Array(BINS * SIDES);
  const without = new Float64Array(SIDES);
  let within = 0;
  for (let j = 0; j < SIDE; j++)
    for (let i = 0; i < SIDE; i++) {
      const [dx, dy] = [(i + 0.5 - SIDE / 2 - x) / w, (j + 0.5 - SIDE / 2 - y) / h];
      const r = Math.hypot(dx, dy);
      const bin = bins[j * SIDE + i]!;
      if (r < 1) {
        own[bin]!++;
        within++;
      } else if (r > NEAR && r < FAR) {
        const side = Math.abs(dx) > Math.abs(dy) ? (dx > 0 ? 0 : 2) : dy < 0 ? 1 : 3;
        about[side * BINS + bin]!++;
        without[side]!++;
      }
    }
  if (within < 8) return 0;
  const apart = Array.from({ length: SIDES }, (_, side) => {
    if (without[side]! < 4) return 0;
    let sum = 0;
    for (let b = 0; b < BINS; b++) sum += Math.abs(own[b]! / within - about[side * BINS + b]! / without[side]!);
    return sum / 2;
  }).sort((a, b) => a - b);
  return 0.6 * apart[0]! + 0.4 * apart[1]!;
}
