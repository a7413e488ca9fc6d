/** How a motion analysis of a demo clip compares with how that clip was truly filmed (docs/formats/truth.md). Degrees throughout. */
import {
  angleBetween,
  apply,
  angleOf,
  matrixOf,
  multiply,
  quaternionOf,
  transpose,
  unit,
  type Matrix3,
  type Quaternion,
  type Vec3,
  vec3,
} from '@glimbo/core/geometry/rotation';
import { upInPicture } from '@glimbo/core/level/auto';
import { upAt, type LevelKey } from '@glimbo/core/level/level';
import { CONFIDENT, type Motion } from '@glimbo/core/motion/motion';
import { jitterOf, turningOf } from '@glimbo/core/motion/rates';
import { noSteady } from '@glimbo/core/steady/settings';
import { correctionOf } from '@glimbo/core/correction/correction';
import { newTake, type Take } from '@glimbo/core/take/take';

export interface Truth {
  rate: number;
  /** Per frame: turns a direction of its picture into the world's axes. */
  orientations: Matrix3[];
  /** Per frame, in metres. */
  positions: Vec3[];
}

/** A clip's truth from the text of its file. */
export function readTruth(text: string): Truth {
  const { rate, frames } = JSON.parse(text) as { rate: number; frames: { orientation: Quaternion; position: Vec3 }[] };
  return { rate, orientations: frames.map((f) => matrixOf(f.orientation)), positions: frames.map((f) => f.position) };
}

/** The value below which a share (0…1) of a list lies. */
export const percentile = (list: readonly number[], share: number) =>
  [...list].sort((a, b) => a - b)[Math.floor(share * (list.length - 1))] ?? NaN;

export const rootMeanSquare = (list: readonly number[]) =>
  Math.sqrt(list.reduce((sum, v) => sum + v * v, 0) / list.length);

const framesOf = ({ orientations }: Truth) => orientations.map((_, n) => n);
const between = (list: readonly Matrix3[], a: number, b: number) => multiply(transpose(list[a]!), list[b]!);
const foundIn = (motion: Motion) => motion.frames.map((f) => matrixOf(f.orientation));

/** Whether a frame lies in a stretch that the analysis says it could not see. */
export const isBad = (motion: Motion, n: number) =>
  motion.bad.some((b) => n / motion.rate >= b.in - 1e-6 && n / motion.rate < b.out - 1e-6);

/** Error of the turn from frame n − 1 to frame n. */
export const turnError = (found: readonly Matrix3[], { orientations }: Truth, n: number): number =>
  angleOf(multiply(transpose(between(orientations, n - 1, n)), between(found, n - 1, n)));

/** Error of the turn from each frame to the next, where the analysis trusts itself. */
export function turnErrors(motion: Motion, truth: Truth): number[] {
  const found = foundIn(motion);
  return framesOf(truth)
    .slice(1)
    .filter((n) => !isBad(motion, n))
    .map((n) => turnError(found, truth, n));
}

/** How much the orientation strays from frame `from` to frame `to`, scaled to a minute. */
export function driftPerMinute(motion: Motion, truth: Truth, from: number, to: number): number {
  const off = angleOf(multiply(transpose(between(truth.orientations, from, to)), between(foundIn(motion), from, to)));
  return (off * 60 * truth.rate) / (to - from);
}

/** Error of the direction of travel in each frame in which it is marked confident. */
export function travelErrors(motion: Motion, { orientations, positions }: Truth): number[] {
  return motion.frames.flatMap((f, n) => {
    if (n === 0 || f.travelConfidence < CONFIDENT) return [];
    const way = unit(vec3([0, 1, 2].map((k) => positions[n]![k]! - positions[n - 1]![k]!)));
    return [angleBetween(f.travel, apply(transpose(orientations[n]!), way))];
  });
}

/** Where up truly is in a frame's picture. */
export const trueUp = ({ orientations }: Truth, n: number): Vec3 => apply(transpose(orientations[n]!), [0, 1, 0]);

/** Error of the level that the analysis proposes, in every frame; where it proposes none, of the picture's own. */
export const levelErrors = (motion: Motion, truth: Truth): number[] =>
  framesOf(truth).map((n) => angleBetween(upInPicture(motion, n / truth.rate)?.up ?? [0, 1, 0], trueUp(truth, n)));

/** Error of the level where level keys were set truly in some frames of the steadied picture, in every frame that was seen. */
export function keyedLevelErrors(motion: Motion, truth: Truth, at: readonly number[]): number[] {
  const take: Take = {
    ...newTake('clip.mp4', truth.orientations.length / truth.rate),
    steady: { ...noSteady(), mode: 'still', heading: { follows: 'world', window: 1 } },
  };
  const { steadied } = correctionOf(take, motion);
  const up = (n: number) => apply(steadied(n / truth.rate), trueUp(truth, n));
  const keys: LevelKey[] = at.map((n) => ({ time: n / truth.rate, up: up(n) }));
  return framesOf(truth)
    .filter((n) => !isBad(motion, n))
    .map((n) => angleBetween(upAt(keys, n / truth.rate), up(n)));
}

/**
 * Jitter of the true motion from frame `from` to frame `to` in °/s², as filmed and through the correction of a take that
 * Rolling steadies at full strength: errors of the analysis count in it.
 */
export function jitterLeft(motion: Motion, truth: Truth, from: number, to: number): { before: number; after: number } {
  const take: Take = {
    ...newTake('clip.mp4', truth.orientations.length / truth.rate),
    steady: { ...noSteady(), mode: 'rolling' },
  };
  const filmed = {
    ...motion,
    cuts: [],
    frames: motion.frames.map((f, n) => ({ ...f, orientation: quaternionOf(between(truth.orientations, 0, n)) })),
  };
  const jitter = (rates: Float32Array) => jitterOf(rates.slice(3 * from, 3 * to), truth.rate);
  return { before: jitter(turningOf(filmed)), after: jitter(turningOf(filmed, correctionOf(take, motion).at)) };
}
