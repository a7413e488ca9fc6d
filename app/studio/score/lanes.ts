/** The lanes that can stand beside the Sweep, and the measures of the Score's columns. */
import { LANES, type Lane } from '../store';

export const GUTTER = 72;
export const LANE_WIDTH = 96;

/** Lanes that show one of the path's dials. */
export type DialLane = Exclude<Lane, 'sound' | 'motion'>;
export const LANE_RANGES: Record<DialLane, { min: number; max: number; name: string; unit: string }> = {
  tilt: { min: -90, max: 90, name: 'Tilt', unit: '°' },
  roll: { min: -90, max: 90, name: 'Roll', unit: '°' },
  fov: { min: 0, max: 350, name: 'Field of view', unit: '°' },
  bend: { min: 0, max: 4, name: 'Bend', unit: '' },
};
export const laneName = (lane: Lane) =>
  lane === 'sound' ? 'Sound' : lane === 'motion' ? 'Motion' : LANE_RANGES[lane].name;
export { LANES };

/** What every part of the Score needs to go between times (seconds) and places (pixels from the top). */
export interface Axis {
  height: number;
  y: (t: number) => number;
  timeAt: (py: number) => number;
}
