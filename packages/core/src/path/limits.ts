/** Values that the path's channels may take: wide enough for a hundred turns, narrow enough that nothing gets lost in rounding. */
import { valuesProblem } from '../curve/values.js';
import { GRADE_NAMES, type GradeName } from '../look/channels.js';
import { DIALS } from '../look/settings.js';
import type { ChannelName, CurveName, TurnName } from './path.js';

type Limits = readonly [least: number, most: number];

const CHANNEL_LIMITS: Readonly<Record<ChannelName, Limits>> = {
  pan: [-36000, 36000],
  tilt: [-3600, 3600],
  roll: [-36000, 36000],
  fov: [0, 360],
  bend: [0, 10],
  shiftX: [-20, 20],
  shiftY: [-20, 20],
};

const GRADE_LIMITS = Object.fromEntries(
  GRADE_NAMES.map((name) => [name, [DIALS[name].least, DIALS[name].most] as const]),
) as Record<GradeName, Limits>;

const TURN_LIMITS: Readonly<Record<TurnName, Limits>> = {
  turnPan: CHANNEL_LIMITS.pan,
  turnTilt: CHANNEL_LIMITS.tilt,
  turnRoll: CHANNEL_LIMITS.roll,
};

/** The same for everything that is keyed. */
export const CURVE_LIMITS: Readonly<Record<CurveName, Limits>> = { ...CHANNEL_LIMITS, ...GRADE_LIMITS, ...TURN_LIMITS };

/** What is wrong with one of the curves; null when nothing is. */
export const channelProblem = (name: CurveName) => (channel: unknown) =>
  valuesProblem(name, CURVE_LIMITS[name], channel);
