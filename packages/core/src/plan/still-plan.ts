/** Plans of one frame: what a take sees at a time, and a whole sphere as it was filmed. */
import { IDENTITY } from '../geometry/rotation.js';
import type { Take } from '../take/take.js';
import { timesAround } from '../take/timing.js';
import type { PlanFootage } from './footage.js';
import { planned, wholeLayer, type FramePlan } from './plan.js';
import { sphereShot } from './shot.js';
import { sourcesOf, takeLayer, type LayerSettings } from './take-layer.js';
import { frameOf } from '../time/frames.js';

type Filmed = Pick<PlanFootage, 'source' | 'rate' | 'frames'>;

/** The frame of a footage that is shown at a time in seconds. */
export const frameAt = ({ frames, rate }: Pick<Filmed, 'frames' | 'rate'>, time: number) =>
  Math.min(frames - 1, Math.max(0, frameOf(time, rate)));

/** Seconds after a time at which its Lookouts are looked at: those that come a moment later see nothing yet. */
const AROUND = 0.01;

/** What a take sees at exactly a time in seconds, in the footage's frame that is shown then. */
export function stillPlan(
  take: Take,
  footage: PlanFootage,
  time: number,
  settings: Pick<LayerSettings, 'width' | 'height' | 'materials'>,
): FramePlan {
  const { width, height } = settings;
  const at = timesAround(take, footage.rate, time);
  const range = { in: time, out: time + AROUND };
  const layer = takeLayer(take, footage, { ...settings, steps: 65, range })({
    time,
    frame: frameAt(footage, time),
    mix: 0,
    at,
    grain: 0,
  });
  return { width, height, rate: footage.rate, frames: 1, sources: sourcesOf(take, footage), layersAt: () => [layer] };
}

/** The sphere of a footage at a time in seconds, as it was filmed. */
export const spherePlan = (
  footage: Filmed,
  time: number,
  { width, height }: { width: number; height: number },
): FramePlan => {
  const { source, rate } = footage;
  const shot = planned(sphereShot(IDENTITY, { source, time, width, height }), 0, frameAt(footage, time));
  const layer = wholeLayer({ width, height }, [shot]);
  return { width, height, rate, frames: 1, sources: [source], layersAt: () => [layer] };
};
