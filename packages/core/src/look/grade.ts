/** A grade as a function of colour: light, white balance, tone and chroma, step by step, in linear light. */
import { apply, type Vec3 } from '../geometry/rotation.js';
import { KB, KG, KR } from '../colour/bt709.js';
import { fromOklab, toOklab } from './oklab.js';
import type { Grade } from './settings.js';
import { fromLinear, toLinear } from './transfer.js';
import { whiteBalance } from './white-balance.js';

/** A colour to a colour, R'G'B' of BT.709 in 0…1; what lies outside stays outside, the same way on. */
export type ColourMap = (rgb: Vec3) => Vec3;

const MID_GREY = 0.18;
/** Stops from mid-grey at which shadows and highlights are moved most, and by how many stops at the far end. */
const WINDOW = 2;
const LIFT = 2;
/** Below this luminance (six stops under mid-grey) tone is no longer bent, or black would be steep without end. */
const DARKEST = MID_GREY / 64;
/** Where the shoulder begins. */
const KNEE = 0.8;
/** Chroma in Oklab of what vibrance leaves alone. */
const VIVID = 0.25;

/** What a grade makes of a colour, computed directly. It is asked a quarter of a million times for a table: no lists of its own. */
export function gradeOf(grade: Grade): ColourMap {
  const gain = 2 ** grade.exposure;
  const white = whiteBalance(grade.temperature, grade.tint);
  const tone = toneOf(grade);
  const levels = levelsOf(grade);
  const toned = (r: number, g: number, b: number): Vec3 => {
    const lit = apply(white, [r * gain, g * gain, b * gain]);
    const luminance = KR * lit[0] + KG * lit[1] + KB * lit[2];
    const shaped = Math.max(DARKEST, luminance);
    const by = tone(shaped) / shaped;
    return [lit[0] * by, lit[1] * by, lit[2] * by];
  };
  const shoulder = shoulderFrom(Math.max(...toned(1, 1, 1).map((v) => levels(fromLinear(v)))));
  return ([r, g, b]) => {
    const out = chromatic(toned(toLinear(r), toLinear(g), toLinear(b)), grade);
    const [red, green, blue] = [levels(fromLinear(out[0])), levels(fromLinear(out[1])), levels(fromLinear(out[2]))];
    const most = Math.max(red, green, blue);
    if (most <= KNEE) return [red, green, blue];
    const by = shoulder(most) / most;
    return [red * by, green * by, blue * by];
  };
}

/** Contrast about mid-grey in stops, and windows of it lifted or lowered. */
function toneOf({ contrast, highlights, shadows }: Grade): (luminance: number) => number {
  if (contrast === 0 && highlights === 0 && shadows === 0) return (luminance) => luminance;
  const steep = 2 ** (contrast / 100);
  const lift = (amount: number, stops: number) => (LIFT * amount * smooth(stops / (2 * WINDOW))) / 100;
  return (luminance) => {
    const stops = Math.log2(luminance / MID_GREY);
    return MID_GREY * 2 ** (steep * stops + lift(highlights, stops) + lift(shadows, -stops));
  };
}

/** From 0 to 1, level at both ends. */
function smooth(x: number): number {
  const t = Math.max(0, Math.min(1, x));
  return t * t * (3 - 2 * t);
}

/** Black and white points of the finished picture: what lay there becomes 0 and 1. */
function levelsOf({ black, white }: Grade): (v: number) => number {
  const low = -black / 100;
  const high = 1 - white / 100;
  return (v) => (v - low) / (high - low);
}

/** Brings what went over white back under it: level with the line at the knee, and `most` becomes 1. The line itself if it is below. */
function shoulderFrom(most: number): (v: number) => number {
  if (most <= 1) return (v) => v;
  const bend = 1 / (1 - KNEE) - 1 / (most - KNEE);
  return (v) => (v <= KNEE ? v : KNEE + (v - KNEE) / (1 + (v - KNEE) * bend));
}

/** Saturation and vibrance: chroma in Oklab, hue and lightness kept. */
function chromatic(rgb: Vec3, { saturation, vibrance }: Grade): Vec3 {
  if (saturation === 0 && vibrance === 0) return rgb;
  const [l, a, b] = toOklab(rgb);
  const pale = 1 - Math.min(1, Math.hypot(a, b) / VIVID);
  const by = (1 + saturation / 100) * (1 + (vibrance / 100) * pale);
  return fromOklab([l, a * by, b * by]);
}
