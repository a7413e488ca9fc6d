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
  /** Carried by hand over the pond, upside down, turning on its axis; it has a motion sidecar, see sidecar.ts. */
  'footbridge-carry': { title: 'Footbridge Carry', duration: 9, pose: footbridgeCarry },
} as const;
export type ClipName = keyof typeof CLIPS;

/** A moment that somebody would want in the picture: seconds, and who or what is seen. */
export interface Event {
  name: string;
  in: number;
  out: number;
  subject: string;
}

/** What happens in clips whose subjects' true directions are written down. */
export const EVENTS: Partial<Record<ClipName, readonly Event[]>> = {
  turntable: [
    { name: 'the blue visitor comes close', in: 3.5, out: 9.5, subject: 'blue visitor' },
    { name: 'the turntable turns', in: 1.5, out: 6.5, subject: 'engine on the turntable' },
    { name: 'the child crosses the line', in: 7, out: 12, subject: 'orange child' },
    { name: 'the other train passes', in: 4, out: 9, subject: 'other engine' },
    { name: 'a balloon gets away', in: 10, out: 14.5, subject: 'balloon 1' },
  ],
  'ridge-loop': [
    { name: 'somebody waits at the line', in: 0, out: 1.5, subject: 'green visitor' },
    { name: 'past the yellow visitor', in: 4, out: 7.5, subject: 'yellow visitor' },
    { name: 'the other train overtakes', in: 4.5, out: 8.5, subject: 'other engine' },
    { name: 'the child runs alongside', in: 9, out: 11.5, subject: 'violet child' },
  ],
};

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

/** The footbridge over the pond in metres: an arch from west to east. */
export const FOOTBRIDGE = { x: 2.2, z: -1.5, length: 3.1, rise: 0.34, width: 0.62 };

/** Height of the footbridge's boards at a distance east of its middle in metres; 0 beside it. */
export const footbridgeHeight = (east: number) =>
  Math.max(0, FOOTBRIDGE.rise * (1 - ((2 * east) / FOOTBRIDGE.length) ** 2));

/** Steps a second of whoever carries the camera. */
const STEPS = 1.85;

function footbridgeCarry(time: number): CameraPose {
  const stride = Math.PI * STEPS * time;
  const x = -0.1 + 0.46 * time;
  const z = -1.5 + 0.25 * Math.sin(x - 0.6) * Math.exp(-((x - 2.2) ** 2));
  const shake = (a: number, b: number, c: number) =>
    Math.sin(19.3 * time + a) + 0.7 * Math.sin(27.1 * time + b) + 0.5 * Math.sin(38.9 * time + c);
  const turn = 3.5 * (time / 9 - Math.sin((2 * Math.PI * time) / 9) / (2 * Math.PI));
  return {
    position: [
      x + 0.012 * Math.sin(stride),
      1.42 + footbridgeHeight(x - FOOTBRIDGE.x) + 0.022 * Math.cos(2 * stride),
      z + 0.02 * Math.sin(stride),
    ],
    rotation: rotation(
      0.6 + turn + 0.028 * Math.sin(stride + 0.4) + 0.004 * shake(0, 1, 2),
      0.05 * Math.sin(time * 0.8) + 0.016 * Math.cos(2 * stride + 0.5) + 0.004 * shake(2, 0, 1),
      Math.PI + 0.07 * Math.sin(time * 0.6 + 1) + 0.024 * Math.sin(stride) + 0.005 * shake(1, 2, 0),
    ),
  };
}
