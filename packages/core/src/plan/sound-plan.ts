/** A plan for sound beside that of the pictures: which stretches of which recordings are heard, when, and how. */
import type { PacedSound } from '../pace/sound.js';

/** A stretch of a recording's sound. */
export interface SoundPiece {
  /** Which of the recordings that are handed over with the plan. */
  recording: number;
  /** Seconds of the recording. */
  from: number;
  to: number;
  /** Seconds of the clip at which it begins. */
  at: number;
  /** How fast it goes by; 1 as recorded. Its pitch goes along. */
  speed: number;
  /** How it follows a pace, beyond that speed; null where it goes by evenly. */
  pace: PacedSound | null;
  /** Decibels. */
  gain?: number;
  /** Seconds over which it comes and goes, with equal power. */
  fadeIn?: number;
  fadeOut?: number;
}

/** What is heard at the same time lies in different tracks. */
export interface SoundTrack {
  pieces: SoundPiece[];
}

export interface SoundPlan {
  tracks: SoundTrack[];
}

/** Whether any of it follows a pace. */
export const isPaced = ({ tracks }: SoundPlan): boolean => tracks.some((t) => t.pieces.some((p) => p.pace));

export const SILENCE: SoundPlan = { tracks: [] };
