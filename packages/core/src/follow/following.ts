/** Keeping subjects in frame: from where they were found, frame by frame, to where the camera looks. */
import {
  angleBetween,
  apply,
  DEGREES,
  RADIANS,
  rotationOf,
  unit,
  unwrapNear,
  vec3,
  type Matrix3,
  type Vec3,
} from '../geometry/rotation.js';
import { radiusOf, widened } from '../lens/projection.js';
import { blended, softly } from '../lens/blend.js';
import { cameraDirection, cameraOf, type View } from '../lens/view.js';
import type { Follow } from './rule.js';
import { isSeen, sizeOf, type SubjectTrack } from './subject.js';

/** What turns a direction of the footage's picture into the world's, at a time in seconds: a take's correction. */
export interface ToWorld {
  at(time: number): Matrix3;
}

/** What a Follow makes of the view that the path has at a time; its ratio is the frame's width to its height. */
export type Following = (view: View, time: number, ratio: number) => View;

/** Degrees a second at which all of the room ahead is given. */
const BRISK = 60;
/** So many standard deviations to either side are looked at. */
const REACH = 3;

/** A subject in the world, as softly as the camera follows it: per frame of the footage its direction, and its size in degrees. */
export interface FollowTrack {
  rate: number;
  directions: Vec3[];
  sizes: number[];
}

/** The same with its speed to the right, per frame. */
interface Softened extends FollowTrack {
  /** Degrees a second along the horizon. */
  speeds: number[];
}

/** A track as a rule softens it; null where the subject is never seen. */
export const softTrack = (
  track: SubjectTrack,
  { soft, dead }: Pick<Follow, 'soft' | 'dead'>,
  toWorld: ToWorld,
): FollowTrack | null => soften(track, soft, dead, toWorld);

/** How takes follow: the Follows that are blended in, the later ones over the earlier. `trackOf`: what is known of a subject. */
export function followingOf(
  follows: readonly Follow[] | undefined,
  trackOf: (subject: string) => SubjectTrack | null,
  toWorld: ToWorld,
): Following | null {
  const known = (follows ?? []).flatMap((rule) => {
    const track = trackOf(rule.subject);
    const softened = track && softenedTrack(track, rule, toWorld);
    return softened ? [{ rule, softened }] : [];
  });
  if (known.length === 0) return null;
  return (view, time, ratio) =>
    known.reduce((seen, { rule, softened }) => {
      const share = shareAt(rule, time);
      return share > 0 ? blended(seen, framed(seen, rule, softened, time, ratio), share) : seen;
    }, view);
}

/** How much of a Follow there is at a time: 0 outside, 1 in its middle, along a curve that begins and ends softly. */
export function shareAt({ in: from, out, blend }: Follow, time: number): number {
  if (time < from || time >= out) return 0;
  const length = Math.min(blend, (out - from) / 2);
  if (length <= 0) return 1;
  const f = Math.min(1, (time - from) / length, (out - time) / length);
  return softly(f);
}

/** The view that has the subject where the rule wants it. */
function framed(view: View, rule: Follow, softened: Softened, time: number, ratio: number): View {
  const place = Math.max(0, Math.min(softened.directions.length - 1, time * softened.rate));
  const n = Math.floor(place);
  const next = Math.min(softened.directions.length - 1, n + 1);
  const f = place - n;
  const mix = (list: readonly number[]) => list[n]! + (list[next]! - list[n]!) * f;
  const direction = unit(vec3([0, 1, 2].map((k) => mixed(softened.directions, n, next, f, k))));
  const fov = rule.size === undefined ? view.fov : fovFor(view, mix(softened.sizes), rule.size / 100, ratio);
  const ahead = -rule.ahead * Math.max(-1, Math.min(1, mix(softened.speeds) / BRISK));
  const x = Math.max(-0.9, Math.min(0.9, rule.x + ahead));
  return { ...view, fov, ...aimAt({ ...view, fov }, direction, x, rule.y, ratio) };
}

const mixed = (list: readonly Vec3[], n: number, next: number, f: number, k: number) =>
  list[n]![k]! + (list[next]![k]! - list[n]![k]!) * f;

const HEIGHT = 1000;

/** Pan and tilt with which a view sees a world direction at a place in the frame, near to those it has. */
export function aimAt(view: View, direction: Vec3, x: number, y: number, ratio: number): { pan: number; tilt: number } {
  const [width, height] = [HEIGHT * ratio, HEIGHT];
  const camera = cameraOf(view, width, height);
  const seen = cameraDirection(camera, (width / 2) * (1 + x), (height / 2) * (1 - y)) ?? ([0, 0, 1] as Vec3);
  const [cx, cy, cz] = apply(rotationOf({ pan: 0, tilt: 0, roll: view.roll }), seen);
  // Tilting turns height and depth: the height must become the direction's.
  const reach = Math.hypot(cy, cz);
  const up = Math.max(-1, Math.min(1, direction[1] / Math.max(1e-9, reach)));
  const tilt = Math.asin(up) - Math.atan2(cy, cz);
  const depth = cz * Math.cos(tilt) - cy * Math.sin(tilt);
  const pan = Math.atan2(direction[0], direction[2]) - Math.atan2(cx, depth);
  return { pan: unwrapNear(pan * DEGREES, view.pan), tilt: Math.max(-90, Math.min(90, tilt * DEGREES)) };
}

/** The field of view in which something so many degrees across takes a share of the frame's height. */
function fovFor(view: View, size: number, share: number, ratio: number): number {
  const camera = cameraOf(view, HEIGHT * ratio, HEIGHT);
  const taken = (2 * radiusOf((size / 2) * RADIANS, view.bend)) / camera.scale / HEIGHT;
  return widened(view, taken / Math.max(0.01, share), view.fov);
}

/** What lately was softened: playing and dragging ask for the same again. */
let lately: { track: SubjectTrack; said: string; toWorld: ToWorld; softened: Softened | null }[] = [];

function softenedTrack(track: SubjectTrack, { soft, dead }: Follow, toWorld: ToWorld): Softened | null {
  const said = `${soft} ${dead}`;
  let found = lately.find((l) => l.track === track && l.said === said && l.toWorld === toWorld);
  if (!found) {
    found = { track, said, toWorld, softened: soften(track, soft, dead, toWorld) };
    lately = [found, ...lately].slice(0, 12);
  }
  return found.softened;
}

/** Brings a track into the world, bridges where the subject is not seen, and softens it, looking both ways; null where it is never seen. */
function soften(track: SubjectTrack, soft: number, dead: number, toWorld: ToWorld): Softened | null {
  const { looks, rate } = track;
  const seen = looks.flatMap((look, n) => (isSeen(look) ? [n] : []));
  if (seen.length === 0) return null;
  const world = (n: number) => {
    const [x, y, z] = looks[n]!;
    return apply(toWorld.at(n / rate), [x, y, z]);
  };
  const raw: Vec3[] = [];
  const sizes: number[] = [];
  for (let n = 0, k = 0; n < looks.length; n++) {
    while (k < seen.length - 1 && seen[k + 1]! <= n) k++;
    const [a, b] = [seen[k]!, seen[Math.min(seen.length - 1, k + 1)]!];
    const f = b > a ? Math.max(0, Math.min(1, (n - a) / (b - a))) : 0;
    const [from, to] = [world(a), world(b)];
    raw.push(unit(vec3([0, 1, 2].map((i) => from[i]! + (to[i]! - from[i]!) * f))));
    sizes.push(sizeOf(looks[a]!) + (sizeOf(looks[b]!) - sizeOf(looks[a]!)) * f);
  }
  const held = dead > 0 ? tethered(raw, dead) : raw;
  const sigma = soft * rate;
  const directions = softenedBy(held, sigma);
  const speeds = directions.map((d, n) => {
    const [p, q] = [directions[Math.max(0, n - 1)]!, directions[Math.min(directions.length - 1, n + 1)]!];
    const turn = Math.atan2(q[0] * p[2] - q[2] * p[0], q[0] * p[0] + q[2] * p[2]) * DEGREES;
    return (turn * rate * Math.hypot(d[0], d[2])) / 2;
  });
  return { rate, directions, sizes: smooth(sizes, Math.max(sigma, 0.5 * rate)), speeds: smooth(speeds, 0.6 * rate) };
}

/** What is moved only as far as it takes to stay within some degrees of a track. */
function tethered(track: readonly Vec3[], degrees: number): Vec3[] {
  let at = track[0]!;
  return track.map((d) => {
    const apart = angleBetween(at, d);
    if (apart > degrees) {
      const f = 1 - degrees / apart;
      at = unit(vec3([0, 1, 2].map((k) => at[k]! + (d[k]! - at[k]!) * f)));
    }
    return at;
  });
}

const weightsOf = (sigma: number) => {
  const reach = Math.ceil(REACH * sigma);
  return Array.from({ length: reach + 1 }, (_, i) => Math.exp(-(i * i) / (2 * sigma * sigma)));
};

function softenedBy(track: readonly Vec3[], sigma: number): Vec3[] {
  if (sigma < 0.1) return [...track];
  const columns = [0, 1, 2].map((k) =>
    smooth(
      track.map((d) => d[k]!),
      sigma,
    ),
  );
  return track.map((d, n) => {
    const sum = vec3([0, 1, 2].map((k) => columns[k]![n]!));
    return Math.hypot(...sum) > 1e-6 ? unit(sum) : d;
  });
}

/** A Gaussian mean, its ends mirrored through their values, so that a steady motion goes on there. */
function smooth(values: readonly number[], sigma: number): number[] {
  const weights = weightsOf(sigma);
  const last = values.length - 1;
  const at = (n: number) =>
    n < 0
      ? 2 * values[0]! - values[Math.min(last, -n)]!
      : n > last
        ? 2 * values[last]! - values[Math.max(0, 2 * last - n)]!
        : values[n]!;
  return values.map((_, n) => {
    let sum = weights[0]! * at(n);
    let total = weights[0]!;
    for (let i = 1; i < weights.length; i++) {
      sum += weights[i]! * (at(n - i) + at(n + i));
      total += 2 * weights[i]!;
    }
    return sum / total;
  });
}
