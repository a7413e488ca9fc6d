/** Stills of pictures that are there already, as most tests draw them. */
import { YUV420 } from '@glimbo/core/colour/pixels';
import type { PlanFootage } from '@glimbo/core/plan/footage';
import { planned, wholeLayer, type FramePlan } from '@glimbo/core/plan/plan';
import type { Shot } from '@glimbo/core/plan/shot';
import { spherePlan, stillPlan } from '@glimbo/core/plan/still-plan';
import type { Take } from '@glimbo/core/take/take';
import { drawStill } from '../src/render/still.js';

interface Size {
  width: number;
  height: number;
}

/** A decoded picture, yuv420p bytes of its size. */
type Decoded = [raw: Uint8Array, size: Size];

const drawn = (plan: FramePlan, [raw, { width, height }]: Decoded) =>
  drawStill(plan, [{ width, height, format: YUV420, picture: () => Promise.resolve(raw) }]);

/** What a take sees at a time in seconds, or without one the whole sphere, of a picture of its footage, as yuv444p bytes. */
export function drawTake(
  take: Take | null,
  footage: Pick<PlanFootage, 'source' | 'rate' | 'width'>,
  time: number,
  size: Size,
  ...decoded: Decoded
) {
  const whole = { ...footage, motion: null, frames: Infinity };
  return drawn(take ? stillPlan(take, whole, time, size) : spherePlan(whole, time, size), decoded);
}

/** The mean of shots of one picture of their footage, as yuv444p bytes. */
export function drawShots(shots: readonly Shot[], ...decoded: Decoded) {
  const { width, height } = shots[0]!.picture;
  const mixed = shots.map((shot) => ({ ...planned(shot, 0, 0), weight: 1 / shots.length }));
  const plan: FramePlan = {
    ...{ width, height, rate: 30, frames: 1, sources: [shots[0]!.source] },
    layersAt: () => [wholeLayer({ width, height }, mixed)],
  };
  return drawn(plan, decoded);
}
