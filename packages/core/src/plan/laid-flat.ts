/** The plan of a footage that is laid flat as it was filmed. */
import { IDENTITY } from '../geometry/rotation.js';
import type { PlanFootage } from './footage.js';
import { planned, wholeLayer, type FramePlan } from './plan.js';
import { sphereShot } from './shot.js';

/** A footage laid flat as it was filmed, frame for frame, from a frame to its end. */
export const laidFlatPlan = (
  { source, rate, frames }: Pick<PlanFootage, 'source' | 'rate' | 'frames'>,
  size: { width: number; height: number },
  from = 0,
): FramePlan => ({
  ...size,
  rate,
  frames: frames - from,
  sources: [source],
  layersAt(n) {
    const frame = from + n;
    return [wholeLayer(size, [planned(sphereShot(IDENTITY, { source, time: frame / rate, ...size }), 0, frame)])];
  },
});
