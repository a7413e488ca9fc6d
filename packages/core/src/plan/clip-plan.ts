/** The plan of a take's clip: its view, its whole sphere, or before and after in one picture; and its sound. */
import { pacedSound } from '../pace/sound.js';
import type { Take } from '../take/take.js';
import { clipTiming, frameShown, mixShown, timeShown, type ClipTiming } from '../take/timing.js';
import { clockOf } from '../time/clock.js';
import type { PlanFootage } from './footage.js';
import type { FramePlan } from './plan.js';
import { SILENCE, type SoundPlan } from './sound-plan.js';
import { sourcesOf, takeLayer, type LayerSettings, type Moment } from './take-layer.js';

export interface PlanSettings extends Omit<LayerSettings, 'steps' | 'range'> {
  /** Frames a second; as the footage is read when absent. */
  rate?: number;
}

export interface ClipPlan extends FramePlan {
  /** Its only recording is that of the take. */
  sound: SoundPlan;
}

/** The plan of a take's clip; null when its in point lies after the footage's end. */
export function clipPlan(take: Take, footage: PlanFootage, settings: PlanSettings): ClipPlan | null {
  const timing = clipTiming(take, footage.rate, footage.frames, settings.rate);
  if (!timing) return null;
  const layerAt = takeLayer(take, footage, settings);
  return {
    width: settings.width,
    height: settings.height,
    rate: timing.rate,
    frames: timing.frames,
    sources: sourcesOf(take, footage),
    layersAt: (n) => [layerAt(momentOf(take, timing, footage.rate, n))],
    sound: soundOf(take, timing, footage.rate),
  };
}

const momentOf = (take: Take, timing: ClipTiming, rate: number, n: number): Moment => ({
  time: timeShown(timing, n),
  frame: frameShown(timing, rate, n),
  mix: take.pace?.blend === 'mean' ? mixShown(timing, rate, n) : 0,
  at: (frames) => timeShown(timing, n + frames),
  grain: n,
});

/** The footage's sound along a take's range. */
function soundOf(take: Take, { range }: ClipTiming, rate: number): SoundPlan {
  const { speed } = clockOf(take, rate);
  const pace = pacedSound(take, range, speed);
  if (pace === 'off') return SILENCE;
  return { tracks: [{ pieces: [{ recording: 0, from: range.in, to: range.out, at: 0, speed, pace }] }] };
}
