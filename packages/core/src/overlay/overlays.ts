/** What lies over the finished frame: bars, titles, pictures. Places and sizes are shares, so that every format has its own. */
import type { Channel } from '../curve/channel.js';

/** Bars above and below, or at the sides, that leave a picture of a ratio of width to height. */
export interface Bars {
  kind: 'bars';
  ratio: number;
}

/** What a title and a picture have alike. */
interface Placed {
  /** Where it stands in the frame's safe area: 0, 0 its upper left and 1, 1 its lower right, all of it inside. */
  x: Channel;
  y: Channel;
  /** Per cent. */
  opacity: Channel;
  /** Seconds of the footage from which and until which it is seen; from the beginning and to the end when absent. */
  from?: number;
  to?: number;
  /** Seconds over which it comes and goes. */
  fade: number;
}

export interface Title extends Placed {
  kind: 'title';
  text: string;
  font: FontId;
  /** Height of a line in per cent of the frame's height. */
  size: number;
  /** #rrggbb. */
  colour: string;
  shadow: boolean;
}

export interface Logo extends Placed {
  kind: 'picture';
  /** The picture's file, PNG or SVG. */
  file: string;
  /** Width in per cent of the frame's. */
  size: number;
}

export type Overlay = Bars | Title | Logo;

/** Fonts that ship, with the names they are known by. */
export const FONTS = {
  sans: 'Instrument Sans',
  narrow: 'Archivo Narrow',
  serif: 'Fraunces',
  mono: 'Martian Mono',
} as const;
export type FontId = keyof typeof FONTS;
export const FONT_IDS = Object.keys(FONTS) as FontId[];

export const OVERLAY_LIMITS = {
  ratio: { least: 0.3, most: 4 },
  place: { least: 0, most: 1 },
  opacity: { least: 0, most: 100 },
  fade: { least: 0, most: 10 },
  titleSize: { least: 1, most: 40 },
  pictureSize: { least: 1, most: 100 },
} as const;

export const MOST_OVERLAYS = 30;
export const LONGEST_TITLE = 400;

/** Ratios of bars that are one press away. */
export const BAR_RATIOS = [2.39, 2.35, 2, 1.85] as const;

/** Seconds that a new title is seen. */
const SEEN = 4;

/** A new title from a time in seconds of the footage on, until the take's end at the latest. */
export const usualTitle = (text: string, from: number, end: number): Title => ({
  kind: 'title',
  text,
  font: 'sans',
  size: 7,
  colour: '#ffffff',
  shadow: true,
  x: 0.5,
  y: 0.9,
  opacity: 100,
  from,
  to: Math.max(from, Math.min(end, from + SEEN)),
  fade: 0.5,
});

export const usualPicture = (file: string): Logo => ({
  kind: 'picture',
  file,
  size: 14,
  x: 1,
  y: 0,
  opacity: 100,
  fade: 0,
});
