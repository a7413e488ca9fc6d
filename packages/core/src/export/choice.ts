/** What somebody chooses at the Export station, and the clip settings that come of it. */
import { codecFacts, DEFAULT_QUALITY, type Codec } from './codecs.js';
import { sizeWithBefore, type ClipSettings, type Comparison } from './settings.js';
import { estimateSize, ratioKey, type SizeRatios } from './estimate.js';
import { sizeIn } from '../take/formats.js';
import type { Take } from '../take/take.js';

export interface ClipChoice {
  /** The whole sphere instead of the take's view. */
  sphere: boolean;
  /** Before beside, over or in a corner of after; only after when it is none. */
  compare: 'none' | Comparison;
  sizeClass: '1080' | '2160' | 'free';
  width: number;
  height: number;
  rate: number;
  codec: Codec;
  by: 'quality' | 'bitRate';
  quality: number;
  megabits: number;
}

/** What is chosen before anybody has chosen anything. */
export const firstChoice = (rate: number): ClipChoice => ({
  sphere: false,
  compare: 'none',
  sizeClass: '1080',
  width: 1920,
  height: 1080,
  rate,
  codec: 'h264',
  by: 'quality',
  quality: DEFAULT_QUALITY,
  megabits: 18,
});

const comparison = ({ compare }: ClipChoice) => (compare === 'none' ? undefined : compare);

/** Size in pixels of the take's view as it is chosen. */
export const chosenSize = (choice: ClipChoice, take: Pick<Take, 'frame'>) =>
  choice.sizeClass === 'free'
    ? { width: choice.width, height: choice.height }
    : sizeWithBefore(sizeIn(take, Number(choice.sizeClass)), comparison(choice));

/** The settings of a clip. `sphereWidth` is the width in pixels of the whole sphere at the footage's own resolution. */
export function settingsOf(choice: ClipChoice, take: Pick<Take, 'frame'>, sphereWidth: number): ClipSettings {
  const { sphere, rate, codec, by, quality, megabits } = choice;
  const compare = comparison(choice);
  const amount = by === 'quality' ? { quality } : { bitRate: Math.round(megabits * 1e6) };
  return {
    ...(sphere ? { width: sphereWidth, height: sphereWidth / 2, sphere } : chosenSize(choice, take)),
    ...(!sphere && compare ? { compare } : {}),
    rate,
    codec,
    ...(codecFacts(codec).quality ? amount : {}),
  };
}

/** How large a clip will be in bytes, with what was learned from clips like it; `learned` says whether anything was. */
export function expectedSize(settings: ClipSettings, seconds: number, sound: boolean, ratios: SizeRatios) {
  const ratio = ratios[ratioKey(settings)];
  const bytes = estimateSize(settings, seconds, settings.rate!, sound) * (ratio ?? 1);
  return { bytes, learned: ratio !== undefined, exact: settings.bitRate !== undefined };
}
