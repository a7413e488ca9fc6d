/** Values that the path's channels may take: wide enough for a hundred turns, narrow enough that nothing gets lost in rounding. */
import type { ChannelName } from './path.js';

export const CHANNEL_LIMITS: Readonly<Record<ChannelName, readonly [least: number, most: number]>> = {
  pan: [-36000, 36000],
  tilt: [-3600, 3600],
  roll: [-36000, 36000],
  fov: [0, 360],
  bend: [0, 10],
  shiftX: [-20, 20],
  shiftY: [-20, 20],
};
