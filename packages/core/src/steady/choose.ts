/** The settings that suit a mode when somebody chooses it. */
import { noSteady, type Heading, type Pin, type Steady, type SteadyMode } from './settings.js';

/** What follows suits the mode until somebody chooses otherwise. */
const SUITED: Record<SteadyMode, Heading> = { off: 'rig', rolling: 'rig', pinned: 'rig', still: 'world' };

/**
 * Settings in another mode: chosen first, Still holds the frame at the playhead (`time` in seconds); Pinned without pins
 * takes the proposed ones.
 */
export function inMode(now: Steady | undefined, mode: SteadyMode, time: number, proposed: Pin[]): Steady {
  const steady = { ...noSteady(), ...now };
  return {
    ...steady,
    mode,
    frame: mode === 'still' && steady.mode === 'off' ? time : steady.frame,
    pins: mode === 'pinned' && steady.pins.length === 0 ? proposed : steady.pins,
    heading: { ...steady.heading, follows: SUITED[mode] },
  };
}
