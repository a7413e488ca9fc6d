/**
 * The true camera motion of the demo clips. Everything that moves in the demo world is a pure
 * function of time, so that any frame can be rendered again by itself.
 */
import { JOINT_SPACING, trackAt, type Point } from './track.js';

export type Matrix = [number, number, number, number, number, number, number, number, number];
export interface CameraPose {
  /** Metres; x east, y up, z north. */
  position: Point;
  /** Row-major rotation from the picture's axes (x right, y up, z ahead) to the world's. */
  rotation: Matrix;
}

export const RATE = 30;
export const CLIPS = {
  'ridge-loop': { title: 'Ridge Loop', duration: 15, pose: ridgeLoop },
  turntable: { title: 'Turntable', duration: 15, pose: turntable },
} as const;
export type ClipName = keyof typeof CLIPS;

/** Distance of the camera wagon along the ridge line at a time in seconds. */
export const wagonAt = (time: number) => 1.5 + 1.42 * time;
/** Distance of the overtaking train's head along the outer line at a time in seconds. */
export const overtakerAt = (time: number) => -4.2 + 2.25 * time;

/** Ry(heading) · Rx(pitch) · Rz(lean), radians, with Glimbo's signs: right, up, clockwise from behind. */
export function rotation(heading: number, pitch: number, lean: number): Matrix {
  const [ch, sh, cp, sp, cl, sl] = [
    Math.cos(heading), Math.sin(heading), Math.cos(pitch), Math.sin(pitch), Math.cos(lean), Math.sin(lean),
  ]; // prettier-ignore
  return [
    ch * cl + sh * sp * sl, ch * sl - sh * sp * cl, sh * cp,
    -cp * sl, cp * cl, sp,
    -sh * cl + ch * sp * sl, -sh * sl - ch * sp * cl, ch * cp,
  ]; // prettier-ignore
}

/** A rail joint's jolt as a decaying ring, `age` in seconds since the wheel met it. */
const jolt = (age: number) => (age < 0 ? 0 : Math.exp(-age * 9) * Math.sin(age * 52));

function ridgeLoop(time: number): CameraPose {
  const s = wagonAt(time);
  const { position, heading, slope, curvature } = trackAt(s);
  const joint = Math.floor(s / JOINT_SPACING);
  let bump = 0;
  for (let k = 0; k < 4; k++) bump += jolt((s - (joint - k) * JOINT_SPACING) / 1.42);
  const side = joint % 2 === 0 ? 1 : -1;
  const lean = 0.34 * curvature + 0.012 * Math.sin(time * 2.3) + 0.016 * side * bump;
  const pitch = slope + 0.018 * bump + 0.006 * Math.sin(time * 3.1 + 1);
  const yaw = heading + 0.009 * Math.sin(time * 4.1) + 0.006 * side * bump;
  return {
    position: [position[0], position[1] + 0.46 + 0.004 * bump, position[2]],
    rotation: rotation(yaw, pitch, lean),
  };
}

function turntable(time: number): CameraPose {
  return {
    position: [-0.3, 1.05, -0.9],
    rotation: rotation(
      0.35 + 0.004 * Math.sin(time * 0.7),
      0.004 * Math.sin(time * 1.3),
      0.02 + 0.006 * Math.sin(time * 0.9 + 2),
    ),
  };
}

/** The unit quaternion [x, y, z, w] of a rotation matrix (Shepperd's method). */
export function quaternionOf(m: Matrix): [number, number, number, number] {
  const trace = m[0] + m[4] + m[8];
  const largest = Math.max(trace, m[0], m[4], m[8]);
  let q: [number, number, number, number];
  if (largest === trace) q = [m[7] - m[5], m[2] - m[6], m[3] - m[1], 1 + trace];
  else if (largest === m[0]) q = [1 + 2 * m[0] - trace, m[1] + m[3], m[2] + m[6], m[7] - m[5]];
  else if (largest === m[4]) q = [m[1] + m[3], 1 + 2 * m[4] - trace, m[5] + m[7], m[2] - m[6]];
  else q = [m[2] + m[6], m[5] + m[7], 1 + 2 * m[8] - trace, m[3] - m[1]];
  const n = Math.hypot(...q);
  return q.map((c) => c / n) as typeof q;
}
