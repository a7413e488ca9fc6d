/** Levelling a whole take from what is known: gravity, or what the picture shows at many moments, and the rig's motion. */
import { apply, dot, matrixOf, transpose, unit, type Vec3, vec3 } from '../geometry/rotation.js';
import type { Motion } from '../motion/motion.js';
import { segments } from '../motion/finish.js';
import { upAt, type LevelKey } from './level.js';
import { RIGHT } from './sure.js';

/** Seconds to either side over which what the picture shows is put together. */
const SPREAD = 3;
/** Seconds beyond which looks count only where there are none nearer. */
const REACH = 6 * SPREAD;
/** Seconds of a bad stretch from which on it parts what is before from what is after. */
const BLIND = 0.3;
/** Cosine beyond which a single look is set aside: some 10°. */
const OUTLIER = 0.985;

/**
 * Up in the axes of the first frame at a time, put together from looks at the picture around it, or from gravity; null if
 * nothing is known. Slow drift of the analysis is followed by it, as looks far away count less.
 */
function upInFirst(motion: Motion, time: number): { up: Vec3; confidence: number } | null {
  if (motion.up) return { up: motion.up, confidence: 1 };
  // Through a stretch that could not be seen it goes from what is known before to what is known after.
  const blind = motion.bad.find((b) => b.out - b.in > BLIND && time >= b.in && time < b.out);
  if (!blind) return fromLooks(motion, time);
  const before = fromLooks(motion, blind.in);
  const after = fromLooks(motion, blind.out);
  if (!before || !after) return before ?? after;
  const f = (time - blind.in) / (blind.out - blind.in);
  const up = unit(vec3(before.up.map((v, k) => v * (1 - f) + after.up[k]! * f)));
  return { up, confidence: Math.min(before.confidence, after.confidence) };
}

/** Up in the axes of the first frame, as the looks around a time agree on it. */
function fromLooks(motion: Motion, time: number): { up: Vec3; confidence: number } | null {
  const { parts, looks } = looksOf(motion);
  const here = looks[parts[frameOf(motion, time)]!];
  if (!here?.length) return null;
  const around = here.slice(firstFrom(here, time - REACH), firstFrom(here, time + REACH));
  const near = around.length ? around : here;
  let found = meanOf(near, time, null);
  for (let round = 0; round < 3 && found; round++) found = meanOf(near, time, found.up) ?? found;
  return found;
}

/** The mean of looks, after how near and how sure they are, and without those far from a first guess. */
function meanOf(near: Look[], time: number, centre: Vec3 | null): { up: Vec3; confidence: number } | null {
  const sum = [0, 0, 0];
  let [total, sure] = [0, 0];
  for (const { time: t, up, confidence } of near) {
    if (centre && dot(centre, up) < OUTLIER) continue;
    const g = Math.exp(-0.5 * ((t - time) / SPREAD) ** 2) + 1e-4;
    const w = g * (confidence ** 4 + 1e-4);
    up.forEach((v, k) => (sum[k]! += v * w));
    total += g;
    sure += g * confidence;
  }
  return total > 0 ? { up: unit(vec3(sum)), confidence: sure / total } : null;
}

/**
 * Up in the picture's own axes at a time, with the rig's motion taken from the nearest frame. `byHand`: level keys that somebody
 * set, in the picture's axes; they tell of other moments as far as the motion is known, and are weighed with what is seen there.
 */
export function upInPicture(
  motion: Motion,
  time: number,
  byHand: readonly LevelKey[] = [],
): { up: Vec3; confidence: number } | null {
  const seen = upInFirst(motion, time);
  const told = fromKeys(motion, time, byHand);
  const first = seen && told ? weighed(seen, told) : (told ?? seen);
  if (!first) return null;
  const { orientation } = motion.frames[frameOf(motion, time)]!;
  return { ...first, up: apply(transpose(matrixOf(orientation)), first.up) };
}

/** Degrees by which a key set by hand may be off, and by how much more for each second away from it: the analysis drifts. */
const BY_HAND = 0.3;
const DRIFT = 0.033;
/** Between two keys drift that is even is taken out; so much of it is left. */
const UNEVEN = 0.25;

/** Up in the axes of the first frame as keys on the same side of all cuts and blind stretches have it. */
function fromKeys(motion: Motion, time: number, byHand: readonly LevelKey[]): { up: Vec3; confidence: number } | null {
  const { parts } = looksOf(motion);
  const here = parts[frameOf(motion, time)];
  const keys = byHand
    .filter((k) => parts[frameOf(motion, k.time)] === here)
    .map(({ time: t, up }) => ({ time: t, up: apply(matrixOf(motion.frames[frameOf(motion, t)]!.orientation), up) }));
  if (!keys.length) return null;
  const away = Math.min(...keys.map((k) => Math.abs(k.time - time)));
  const between = keys.some((k) => k.time <= time) && keys.some((k) => k.time >= time);
  return { up: upAt(keys, time), confidence: confidenceOf(BY_HAND + away * DRIFT * (between ? UNEVEN : 1)) };
}

/** The spread in degrees of a direction that lies within RIGHT of the truth with a confidence, and the other way round. */
const spreadOf = (confidence: number) =>
  RIGHT / Math.sqrt(-2 * Math.log(1 - Math.max(1e-3, Math.min(0.99, confidence))));
const confidenceOf = (spread: number) => 1 - Math.exp(-0.5 * (RIGHT / spread) ** 2);

/** Two directions as one, each after how surely it is known. */
function weighed(a: { up: Vec3; confidence: number }, b: { up: Vec3; confidence: number }) {
  const [wa, wb] = [spreadOf(a.confidence) ** -2, spreadOf(b.confidence) ** -2];
  const up = unit(vec3(a.up.map((v, k) => v * wa + b.up[k]! * wb)));
  return { up, confidence: Math.max(a.confidence, b.confidence, confidenceOf(1 / Math.sqrt(wa + wb))) };
}

const frameOf = (motion: Motion, time: number) =>
  Math.max(0, Math.min(motion.frames.length - 1, Math.floor(time * motion.rate + 1e-6)));

interface Look {
  time: number;
  up: Vec3;
  confidence: number;
}
interface Looks {
  parts: Int32Array;
  /** The looks in each part, in order of time. */
  looks: Look[][];
}
const cache = new WeakMap<Motion, Looks>();

/** Number of the first look at or after a time, in a list in order of time. */
function firstFrom(looks: readonly Look[], time: number): number {
  let [from, to] = [0, looks.length];
  while (from < to) {
    const middle = (from + to) >> 1;
    if (looks[middle]!.time < time) from = middle + 1;
    else to = middle;
  }
  return from;
}

/** All looks in the first frame's axes; computed once for a motion. */
function looksOf(motion: Motion): Looks {
  let known = cache.get(motion);
  if (!known) {
    // What is not to be trusted may have turned in any way: looks from beyond it say nothing for this side.
    const blind = motion.bad.filter((b) => b.out - b.in > BLIND).map((b) => (b.in + b.out) / 2);
    const breaks = [...motion.cuts, ...blind].map((t) => Math.round(t * motion.rate));
    const parts = segments(new Set(breaks), motion.frames.length);
    const looks: Look[][] = [];
    for (const { time, up, confidence } of motion.levels) {
      // In the dark every edge is a chance one.
      if (motion.bad.some((b) => time >= b.in && time < b.out)) continue;
      const n = frameOf(motion, time);
      (looks[parts[n]!] ??= []).push({ time, confidence, up: apply(matrixOf(motion.frames[n]!.orientation), up) });
    }
    known = { parts, looks };
    cache.set(motion, known);
  }
  return known;
}
