/** Steady as it is kept in a take. */
export const STEADY_MODES = ['off', 'rolling', 'pinned', 'still'] as const;
export type SteadyMode = (typeof STEADY_MODES)[number];
export const PIN_KINDS = ['filmed', 'off', 'still'] as const;
/** What leaves a pin: on to the next one evenly; nothing corrected until the next one; held until the next one. */
export type PinKind = (typeof PIN_KINDS)[number];
export const HEADINGS = ['world', 'rig', 'travel'] as const;
/** What ahead follows: the world, the rig's own turning, or the way it travels. */
export type Heading = (typeof HEADINGS)[number];

export interface Pin {
  time: number;
  kind: PinKind;
}

export interface Steady {
  mode: SteadyMode;
  /** Per cent. */
  strength: number;
  /** Rolling: seconds to either side. */
  window: number;
  /** Pinned: in order of time. */
  pins: Pin[];
  /** Still: seconds; the frame whose orientation is kept. */
  frame: number;
  heading: { follows: Heading; window: number };
}

export const LONGEST_WINDOW = 10;

export const noSteady = (): Steady => ({
  mode: 'off',
  strength: 100,
  window: 1,
  pins: [],
  frame: 0,
  heading: { follows: 'rig', window: 1 },
});
