/** Where up is over a footage, as an open document (docs/formats/level.md). */
import { vec3, type Vec3 } from '../geometry/rotation.js';
import type { Motion } from '../motion/motion.js';
import { upInPicture } from './auto.js';

export interface LevelDocument {
  format: 'glimbo-level';
  version: 1;
  /** Frames a second. */
  rate: number;
  /** One for each frame: up in that frame's own axes, a unit vector, and how likely it is within 3° of the truth, 0…1. */
  ups: { time: number; up: Vec3; confidence: number }[];
}

const UNKNOWN = { up: [0, 1, 0] as Vec3, confidence: 0 };
const rounded = (v: number, digits: number) => Number(v.toFixed(digits));

/** What the picture, or gravity, says of up in every frame of an analysed footage; 0 sure where nothing is known. */
export function levelDocument(motion: Motion): LevelDocument {
  const ups = motion.frames.map((_, n) => {
    const time = n / motion.rate;
    const { up, confidence } = upInPicture(motion, time) ?? UNKNOWN;
    return { time: rounded(time, 6), up: vec3(up.map((v) => rounded(v, 6))), confidence: rounded(confidence, 3) };
  });
  return { format: 'glimbo-level', version: 1, rate: motion.rate, ups };
}
