/** The views that a Sketch chooses from: headings all round at a few tilts and fields of view. */
import { readOut } from '../lens/view.js';
import { HEADINGS } from './interest.js';

export const TILTS = [-25, -5, 15, 40] as const;
export const FOVS = [62, 80, 100] as const;
export const LEVEL_TILT = 1;

export interface State {
  heading: number;
  tilt: number;
  fov: number;
}

export const STATES: State[] = FOVS.flatMap((_, fov) =>
  TILTS.flatMap((_, tilt) => Array.from({ length: HEADINGS }, (_, heading) => ({ heading, tilt, fov }))),
);
export const stateAt = ({ heading, tilt, fov }: State) =>
  (fov * TILTS.length + tilt) * HEADINGS + ((heading + HEADINGS) % HEADINGS);

/** Half the angles of sight across and up of each field of view in a picture of a ratio, degrees. */
export function halfAngles(ratio: number): { across: number; up: number }[] {
  return FOVS.map((fov) => {
    const size = [ratio * 1000, 1000] as const;
    const view = { pan: 0, tilt: 0, roll: 0, fov, bend: 0, shiftX: 0, shiftY: 0 };
    const { horizontal, vertical } = readOut(view, ...size);
    return { across: horizontal / 2, up: vertical / 2 };
  });
}

/** 1 in the middle of the frame, a little less away from it, and soon nothing at its rim. */
export const inFrame = (off: number, half: number) =>
  Math.max(0, Math.min(1, (half - Math.abs(off)) / (0.45 * half))) * (1 - 0.25 * Math.min(1, (off / half) ** 2));
