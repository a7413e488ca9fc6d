/** How the rig moved: what the motion analysis found, one entry a frame (docs/formats/motion.md). */
import type { Quaternion, Vec3 } from '../geometry/rotation.js';

export const METHODS = ['quick', 'thorough'] as const;
export type Method = (typeof METHODS)[number];

/** What the methods were called in files made before. */
const OLDER: Record<string, Method> = { points: 'quick', patches: 'thorough' };

/** A method by its name, or by the name it had in files made before; null for anything else. */
export const methodNamed = (name: unknown): Method | null =>
  METHODS.find((m) => m === name) ?? (typeof name === 'string' ? (OLDER[name] ?? null) : null);

export interface MotionFrame {
  /** Seconds from the footage's start. */
  time: number;
  /** Turns a direction in this frame's picture into the first frame's axes. */
  orientation: Quaternion;
  /** Direction of travel in this frame's axes, and how sure that is, 0…1. */
  travel: Vec3;
  travelConfidence: number;
  /** Share of the points that agree, brought down where they are few or say little; 0…1. */
  trust: number;
  /** What a point that agrees is off, degrees. */
  residual: number;
}

/** A stretch in seconds in which the motion could not be seen; `out` is the first moment after it. */
export interface Stretch {
  in: number;
  out: number;
}

export interface Motion {
  format: 'glimbo-motion';
  version: 1;
  /** Frames a second. */
  rate: number;
  method: Method | 'sidecar';
  frames: MotionFrame[];
  /** Moments at which another recording begins: the first frame after each cut. */
  cuts: number[];
  /** Stretches whose motion is not to be trusted. */
  bad: Stretch[];
  /** Where the picture itself says up is, at some moments, in that frame's axes. */
  levels: LevelProposal[];
  /** Up in the first frame's axes, as far as it is known from gravity. */
  up?: Vec3;
  /** Which axis of the picture up is near on the whole, and how likely (0…1): how the rig was mounted. */
  stands?: { up: Vec3; confidence: number };
}

export interface LevelProposal {
  time: number;
  up: Vec3;
  /** 0…1. */
  confidence: number;
}

/** Below this trust a frame's motion is not to be relied on. */
export const TRUSTED = 0.25;
/** From this confidence on the direction of travel holds to some 5°. */
export const CONFIDENT = 0.5;

/** Shares of the frames whose motion is trusted, and whose direction of travel is sure; 0…1. */
export function sharesOf({ frames }: Motion): { trusted: number; travelling: number } {
  const share = (test: (f: MotionFrame) => boolean) => frames.filter(test).length / Math.max(1, frames.length);
  return { trusted: share((f) => f.trust >= TRUSTED), travelling: share((f) => f.travelConfidence >= CONFIDENT) };
}
