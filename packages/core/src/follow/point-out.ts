/** How large what was pointed at is: the box whose colours differ most from those on every side of it. */
import { apply, DEGREES, RADIANS, transpose, unit, type Matrix3, type Vec3 } from '../geometry/rotation.js';
import { boxAbout, boxAngles, NotWorld, type Beside } from './not-world.js';
import { cellOf, glimpse, glimpseOf, type Glimpse, type SphereFrame } from '../frame/sphere-frame.js';
import { standing } from './standing.js';
import { uprightIn, uprightTo } from './aim.js';
import type { Box } from './box.js';

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

const LEVELS = 6;
const BINS = LEVELS ** 3;

/** Degrees that what is pointed out is across and up. */
const [LEAST, MOST] = [0.5, 100];

/**
 * The box about a line that was drawn round something, in degrees along the axes in which the line's directions are; null where one of
 * them is null (beyond a projection), or they go more than half round the sphere.
 */
export function boxDrawn(line: readonly (Vec3 | null)[]): Box | null {
  const sum: [number, number, number] = [0, 0, 0];
  for (const d of line) {
    if (!d) return null;
    d.forEach((v, k) => (sum[k]! += v));
  }
  const away = Math.hypot(...sum);
  if (away < 1e-6) return null;
  const upright = uprightTo([sum[0] / away, sum[1] / away, sum[2] / away]);
  const toUpright = transpose(upright);
  const [across, up]: [number[], number[]] = [[], []];
  for (const d of line) {
    const [x, y, z] = apply(toUpright, d!);
    if (z <= 0) return null;
    across.push(Math.atan2(x, z));
    up.push(Math.atan2(y, z));
  }
  const [left, right, low, high] = [Math.min(...across), Math.max(...across), Math.min(...up), Math.max(...up)];
  const [x, y] = [Math.tan((left + right) / 2), Math.tan((low + high) / 2)];
  const length = Math.hypot(x, y, 1);
  const within = (angle: number) => Math.max(LEAST, Math.min(MOST, angle * DEGREES));
  return {
    direction: apply(upright, [x / length, y / length, 1 / length]),
    width: within(right - left),
    height: within(high - low),
  };
}

/** Degrees from side to side of the looks in which something that moves is looked for, and cells of each. */
const MOVING = { across: [16, 36, 80, 150], side: 96 } as const;
/** Degrees about the middle of a press in which what moves may be. */
const PRESSED = 1.2;

/**
 * The box of what is not the still world at a direction of the picture; null where all there is the world. Of several looks it is the
 * closest that has all of it.
 */
export function boxMoving(frame: SphereFrame, direction: Vec3, beside: Beside): Box | null {
  const { side } = MOVING;
  const look = glimpseOf(side);
  const apart = new Float32Array(side * side);
  const notWorld = new NotWorld(side);
  // Upright as the world is, not as the rig happens to lie.
  const toPicture = uprightIn(beside.toWorld, direction);
  for (const degrees of MOVING.across) {
    const across = degrees * RADIANS;
    glimpse(frame, toPicture, across, look);
    notWorld.of(look, beside, toPicture, across, apart);
    const cell = cellOf(across, side);
    const half = Math.max(1.5, (PRESSED * RADIANS) / cell);
    const found = boxAbout(apart, side, { x: 0, y: 0, halfX: half, halfY: half });
    if (!found) continue;
    const { right, up, width, height } = boxAngles(found, cell);
    const [x, y] = [Math.tan(right), Math.tan(up)];
    return { direction: apply(toPicture, unit([x, y, 1])), width: width * DEGREES, height: height * DEGREES };
  }
  return null;
}

/** How much what is found stands out at least: most open ground is below it, few things are. */
const STANDS_OUT = 0.6;

/** Finds the box round a direction of the picture: what stands out there, and all of it if it stands; null where nothing does. */
export function boxAround(frame: SphereFrame, direction: Vec3): Box | null {
  const search = new BoxSearch(frame, direction);
  let best = search.best(SMALLEST, OFF);
  for (let size = SMALLEST * FACTOR; size <= LARGEST; size *= FACTOR) {
    const found = search.best(size, OFF);
    if (found.score > best.score) best = found;
  }
  if (best.score < STANDS_OUT) return null;
  const whole = standing(frame, best.box);
  // What seems to stand all over the sphere is only ground like ground.
  return whole.height > MOST ? null : whole;
}

/** The box of something whose middle and size in degrees are known: of which shape it is, is found. */
export function boxOfSize(frame: SphereFrame, direction: Vec3, size: number): Box {
  return new BoxSearch(frame, direction).best(size, [0]).box;
}

/** Tries boxes about a direction of a picture. */
class BoxSearch {
  private readonly look = glimpseOf(SIDE);
  private readonly bins = new Uint16Array(SIDE * SIDE);
  private readonly toPicture: Matrix3;

  constructor(
    private readonly frame: SphereFrame,
    direction: Vec3,
  ) {
    this.toPicture = uprightTo(direction);
  }

  /** The box of a size in degrees that stands out most, of any shape and as far off the middle as is allowed. */
  best(size: number, off: readonly number[]): { score: number; box: Box } {
    glimpse(this.frame, this.toPicture, size * PADDING * RADIANS, this.look);
    fillBins(this.look, this.bins);
    const half = SIDE / PADDING / 2;
    let best = { score: -Infinity, dx: 0, dy: 0, w: 1, h: 1 };
    for (const [w, h] of SHAPES)
      for (const dx of off)
        for (const dy of off) {
          const place = { x: dx * 2 * half * w, y: dy * 2 * half * h, w: half * w, h: half * h };
          const score = standsOut(this.bins, place) * (1 - ASIDE * (Math.abs(dx) + Math.abs(dy)));
          if (score > best.score) best = { score, dx, dy, w, h };
        }
    const { score, dx, dy, w, h } = best;
    const direction = apply(this.toPicture, unitOf(dx * w * size * RADIANS, -dy * h * size * RADIANS));
    return { score, box: { direction, width: size * w, height: size * h } };
  }
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
