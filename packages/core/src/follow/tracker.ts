/**
 * Finds one subject from frame to frame: a correlation filter and a model of its colours say where it is in a small look round the
 * predicted direction, a second filter how large. Where it is not to be trusted it coasts on, learns nothing, and searches wider and
 * wider for what looks alike.
 */
import { apply, multiply, turnTo, type Matrix3, type Vec3 } from '../geometry/rotation.js';
import { boxMeans, ColourModel } from './colours.js';
import { CorrelationFilter, peakOf } from './correlation.js';
import { CHANNELS, featuresOf, hann } from './features.js';
import { ScaleFilter } from './scale.js';
import { glimpse, type Glimpse, type SphereFrame } from './sphere-frame.js';

/** Cells of a look from side to side, and how many subjects wide it is. */
const SIDE = 64;
const PADDING = 2.4;
/** How much of what is known gives way in each frame that is trusted. */
const LEARN = 0.025;
/** From which trust on. */
const LEARNS_FROM = 0.6;
const LEARN_COLOURS = 0.04;
const LEARN_SIZE = 0.008;
/** Changes of size below this (natural logarithm) are taken for noise. */
const STEADY = 0.005;
/** Share that colours have in where the subject is. */
const BY_COLOUR = 0.3;
/** Below this trust the subject is not taken to be where the filter says. */
export const TRUSTED = 0.35;
/** And from this on it is found again. */
const FOUND = 0.55;

/** A subject as it is pointed out: unit direction in the picture, degrees across and up. */
export interface Box {
  direction: Vec3;
  width: number;
  height: number;
}

/** Where a subject was found: its size is that of the longer side, in degrees; trust 0 to 1. */
export interface Found {
  direction: Vec3;
  size: number;
  trust: number;
}

const RAD = Math.PI / 180;

/** A look's axes upright in the picture, its z axis towards a direction. */
export function uprightTo(direction: Vec3): Matrix3 {
  const [x, y, z] = direction;
  const across = Math.hypot(x, z);
  if (across < 1e-6) return [1, 0, 0, 0, 0, y, 0, -y, 0];
  const [rx, rz] = [z / across, -x / across];
  // Up is ahead × right.
  const up: Vec3 = [y * rz - z * 0, z * rx - x * rz, x * 0 - y * rx];
  return [rx, up[0], x, 0, up[1], y, rz, up[2], z];
}

const ahead = (m: Matrix3): Vec3 => [m[2], m[5], m[8]];

export class SubjectTracker {
  private toPicture: Matrix3;
  private size: number;
  private readonly half: { x: number; y: number };
  private readonly filter: CorrelationFilter;
  private readonly scale = new ScaleFilter();
  private readonly colours = new ColourModel();
  private readonly window = hann(SIDE);
  private readonly look: Glimpse = {
    side: SIDE,
    planes: [new Float32Array(SIDE * SIDE), new Float32Array(SIDE * SIDE), new Float32Array(SIDE * SIDE)],
  };
  private readonly features = Array.from({ length: CHANNELS }, () => new Float32Array(SIDE * SIDE));
  private readonly likely = new Float32Array(SIDE * SIDE);
  /** Running means of what a trusted frame comes to. */
  private usual: { peak: number; colour: number } | null = null;
  /** Radians a frame, right and up in the look, without the rig's own turning. */
  private velocity = { x: 0, y: 0 };
  /** Frames since it was trusted last. */
  missing = 0;

  constructor(frame: SphereFrame, box: Box) {
    this.size = Math.max(box.width, box.height) * RAD;
    const cells = SIDE / PADDING / 2;
    const most = Math.max(box.width, box.height);
    this.half = { x: (cells * box.width) / most, y: (cells * box.height) / most };
    this.filter = new CorrelationFilter(SIDE, 2 * Math.sqrt(this.half.x * this.half.y), CHANNELS);
    this.toPicture = uprightTo(box.direction);
    this.see(frame);
    this.filter.learn(this.features, 1);
    this.colours.learn(this.look, this.half, 1);
    this.scale.learn(frame, this.toPicture, this.scaleAcross, 1);
  }

  private get across() {
    return this.size * PADDING;
  }

  private get scaleAcross() {
    return this.size * 1.3;
  }

  get found(): Found {
    return { direction: ahead(this.toPicture), size: this.size / RAD, trust: 1 };
  }

  private see(frame: SphereFrame) {
    glimpse(frame, this.toPicture, this.across, this.look);
    featuresOf(this.look, this.window, this.features);
  }

  /** What the present look answers: place in cells, and how far it is to be trusted. */
  private answer() {
    const map = this.filter.respond(this.features);
    const shape = peakOf(map, SIDE);
    this.colours.likely(this.look, this.likely);
    const means = boxMeans(this.likely, SIDE, { x: this.half.x * 0.7, y: this.half.y * 0.7 });
    const usual = this.usual?.peak ?? Math.max(0.2, shape.peak);
    const joined = new Float64Array(SIDE * SIDE);
    for (let y = 0; y < SIDE; y++)
      for (let x = 0; x < SIDE; x++) {
        const [cx, cy] = [(x + SIDE / 2) % SIDE, (y + SIDE / 2) % SIDE];
        joined[y * SIDE + x] = ((1 - BY_COLOUR) * map[y * SIDE + x]!) / usual + BY_COLOUR * means[cy * SIDE + cx]!;
      }
    const place = peakOf(joined, SIDE);
    const at = ((Math.round(place.y) + SIDE) % SIDE) * SIDE + ((Math.round(place.x) + SIDE) % SIDE);
    const [mx, my] = [Math.round(place.x) + SIDE / 2, Math.round(place.y) + SIDE / 2];
    const inside = (v: number) => Math.max(0, Math.min(SIDE - 1, v));
    const colour = means[inside(my) * SIDE + inside(mx)]!;
    const peak = map[at]!;
    return { ...place, peak, colour, shape };
  }

  private trustOf({ peak, colour, shape }: { peak: number; colour: number; shape: { ratio: number } }): number {
    if (!this.usual) return 1;
    const byPeak = Math.min(1, peak / this.usual.peak / 0.8);
    const byColour = Math.min(1, colour / this.usual.colour / 0.85);
    const byRatio = Math.max(0, Math.min(1, (shape.ratio - 3) / 6));
    return Math.max(0, Math.min(byPeak, byColour)) * (0.4 + 0.6 * byRatio);
  }

  /** Looks for the subject in the next frame; `turn`: from directions of the last picture to those of this one, where it is known. */
  step(frame: SphereFrame, turn: Matrix3 | null): Found {
    if (turn) this.toPicture = multiply(turn, this.toPicture);
    const before = this.toPicture;
    const coasting = this.missing > 0 ? Math.max(0, 1 - this.missing / 45) : 1;
    this.turnBy(this.velocity.x * coasting, this.velocity.y * coasting);
    this.straighten();
    this.see(frame);
    let answer = this.answer();
    let trust = this.trustOf(answer);
    if (trust < TRUSTED && this.missing > 8) {
      const again = this.search(frame);
      if (again) ({ answer, trust } = again);
    }
    const needed = this.missing > 8 ? FOUND : TRUSTED;
    if (trust < needed) {
      this.missing++;
      return { direction: ahead(this.toPicture), size: this.size / RAD, trust: Math.min(trust, TRUSTED / 2) };
    }
    const cell = this.cellRadians(answer);
    this.turnBy(cell.x, cell.y);
    this.grow(frame);
    this.see(frame);
    if (trust > LEARNS_FROM) {
      this.filter.learn(this.features, LEARN);
      this.colours.learn(this.look, this.half, LEARN_COLOURS);
    }
    const usual = this.usual ?? { peak: answer.peak, colour: answer.colour };
    const k = this.usual ? (trust > LEARNS_FROM ? 0.03 : 0) : 1;
    this.usual = {
      peak: usual.peak + k * (answer.peak - usual.peak),
      colour: usual.colour + k * (answer.colour - usual.colour),
    };
    this.remember(before);
    this.missing = 0;
    return { direction: ahead(this.toPicture), size: this.size / RAD, trust };
  }

  /** The size in this frame. */
  private grow(frame: SphereFrame) {
    const factor = this.scale.find(frame, this.toPicture, this.scaleAcross);
    if (Math.abs(Math.log(factor)) > STEADY) this.size = Math.max(0.5 * RAD, Math.min(110 * RAD, this.size * factor));
    this.scale.learn(frame, this.toPicture, this.scaleAcross, LEARN_SIZE);
  }

  /** How a place in cells lies from the middle, in radians to the right and up. */
  private cellRadians({ x, y }: { x: number; y: number }) {
    const step = (2 * Math.tan(Math.min(this.across, 5.8) / 4)) / SIDE;
    const r = Math.hypot(x, y) * step;
    const angle = 2 * Math.atan(r / 2);
    const k = r > 0 ? (angle * step) / r : 0;
    return { x: x * k, y: -y * k };
  }

  private turnBy(right: number, up: number) {
    const angle = Math.hypot(right, up);
    if (angle < 1e-9) return;
    const s = Math.sin(angle) / angle;
    const to = apply(this.toPicture, [right * s, up * s, Math.cos(angle)]);
    this.toPicture = multiply(turnTo(ahead(this.toPicture), to), this.toPicture);
  }

  /** Brings the look upright, slowly, and not near the poles, where no way is. */
  private straighten() {
    const direction = ahead(this.toPicture);
    const level = Math.hypot(direction[0], direction[2]);
    const share = 0.15 * Math.max(0, Math.min(1, (level - 0.35) / 0.4));
    if (share === 0) return;
    const upright = uprightTo(direction);
    const m = this.toPicture;
    // The angle between the two ways to the right, about the axis ahead.
    const dot = (a: number, b: number) =>
      m[a]! * upright[b]! + m[a + 3]! * upright[b + 3]! + m[a + 6]! * upright[b + 6]!;
    const roll = Math.atan2(dot(0, 1), dot(0, 0)) * share;
    const [c, s] = [Math.cos(roll), Math.sin(roll)];
    this.toPicture = multiply(m, [c, s, 0, -s, c, 0, 0, 0, 1]);
  }

  private remember(before: Matrix3) {
    const d = ahead(this.toPicture);
    const dot = (k: number) => before[k]! * d[0] + before[k + 3]! * d[1] + before[k + 6]! * d[2];
    const [x, y, z] = [dot(0), dot(1), dot(2)];
    const across = Math.hypot(x, y);
    const k = across > 0 ? Math.atan2(across, z) / across : 0;
    this.velocity.x += 0.4 * (x * k - this.velocity.x);
    this.velocity.y += 0.4 * (y * k - this.velocity.y);
  }

  /** Looks round about, wider the longer it is missing; keeps the best place if it is like the subject. */
  private search(frame: SphereFrame) {
    const from = this.toPicture;
    const ring = 1 + ((this.missing - 9) % 4);
    const around = 6 * ring;
    let best: { answer: ReturnType<SubjectTracker['answer']>; trust: number; at: Matrix3 } | null = null;
    for (let k = 0; k < around; k++) {
      const azimuth = (2 * Math.PI * k) / around;
      const angle = Math.min(Math.PI, 0.45 * this.across * ring);
      this.toPicture = from;
      this.turnBy(Math.cos(azimuth) * angle, Math.sin(azimuth) * angle);
      this.see(frame);
      const answer = this.answer();
      const trust = this.trustOf(answer);
      if (!best || trust > best.trust) best = { answer, trust, at: this.toPicture };
    }
    this.toPicture = best && best.trust >= FOUND ? best.at : from;
    if (!best || best.trust < FOUND) return null;
    this.velocity = { x: 0, y: 0 };
    return best;
  }
}
