/**
 * The true camera motion of the demo clips. Everything that moves in the demo world is a pure
 * function of time, so that any frame can be rendered again by itself.
 */
import { DEGREES, rotationOf, type Matrix3 } from '@glimbo/core/geometry/rotation';
import { JOINT_SPACING, trackAt, type Point } from './track.js';

export interface CameraPose {
  /** Metres; x east, y up, z north. */
  position: Point;
  /** Row-major rotation from the picture's axes (x right, y up, z ahead) to the world's. */
  rotation: Matrix3;
}

export const RATE = 30;
export const CLIPS = {
  'ridge-loop': { title: 'Ridge Loop', duration: 15, pose: ridgeLoop },
  turntable: { title: 'Turntable', duration: 15, pose: turntable },
  /** Filmed with the two-lens camera, see lenses.ts; somebody walks through the seam in its middle. */
  'signal-corner': { title: 'Signal Corner', duration: 8, pose: signalCorner },
} as const;
export type ClipName = keyof typeof CLIPS;

/** Distance of the camera wagon along the ridge line at a time in seconds. */
export const wagonAt = (time: number) => 1.5 + 1.42 * time;
/** Distance of the overtaking train's head along the outer line at a time in seconds. */
export const overtakerAt = (time: number) => -4.2 + 2.25 * time;

/** Glimbo's camera-to-world rotation, from radians. */
const rotation = (heading: number, pitch: number, lean: number): Matrix3 =>
  rotationOf({ pan: heading * DEGREES, tilt: pitch * DEGREES, roll: lean * DEGREES });

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

/** Mean heading of the two-lens camera in radians. */
export const CORNER_HEADING = -0.52;

function signalCorner(time: number): CameraPose {
  return {
    position: [-0.3, 1.05, -0.9],
    rotation: rotation(
      CORNER_HEADING + 0.003 * Math.sin(time * 0.8),
      0.003 * Math.sin(time * 1.1),
      0.004 * Math.sin(time * 0.7 + 1),
    ),
  };
}
