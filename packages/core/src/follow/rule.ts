/** A Follow: how a take keeps a subject in frame, between two moments. */

export interface Follow {
  /** The subject, as the footage names it; for the command line its file, relative to the document. */
  subject: string;
  /** Seconds of the footage between which it is followed, the way in and out included. */
  in: number;
  out: number;
  /** Where it stands in the frame: shares of half its width and height from the middle, right and up. */
  x: number;
  y: number;
  /** Room ahead of it: how far it is moved back, in shares of half the frame's width, at 60° a second. */
  ahead: number;
  /** Its share of the frame's height, in %, kept by zooming; the zoom is the path's when absent. */
  size?: number;
  /** Seconds over which the hand is soft. */
  soft: number;
  /** Degrees that it may move before the camera does. */
  dead: number;
  /** Seconds over which it comes in and goes out. */
  blend: number;
}

export const FOLLOW_LIMITS = {
  x: { least: -0.9, most: 0.9 },
  y: { least: -0.9, most: 0.9 },
  ahead: { least: 0, most: 1 },
  size: { least: 5, most: 150 },
  soft: { least: 0, most: 5 },
  dead: { least: 0, most: 30 },
  blend: { least: 0, most: 10 },
} as const;

export const MOST_FOLLOWS = 100;

/** A rule that suits most subjects. */
export const USUAL_RULE = { x: 0, y: 0, ahead: 0, soft: 0.4, dead: 0, blend: 0.8 } as const;
