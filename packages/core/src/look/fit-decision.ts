/** The colour decision (ASC CDL) that comes nearest to a look: for programs that read nothing more. */
import { lumaOf } from '../colour/convert.js';
import { vec3, type Vec3 } from '../geometry/rotation.js';
import { mapOfDecision, type Decision } from './cdl.js';
import type { ColourMap } from './grade.js';

const GREYS = Array.from({ length: 33 }, (_, i) => i / 32);
/** Powers that are tried, and how often between the best two. */
const POWERS = { least: 0.25, most: 4, rounds: 40 };
/** Colours, in pairs of opposites, whose chroma tells the saturation. */
const COLOURS: Vec3[] = [
  [0.6, 0.4, 0.35],
  [0.35, 0.5, 0.4],
  [0.35, 0.4, 0.6],
  [0.55, 0.5, 0.35],
];

/** The nearest decision, and by how much it is off in the mean, as a share of full scale. */
export function fitDecision(id: string, map: ColourMap): { decision: Decision; off: number } {
  const channels = [0, 1, 2].map((k) => fitChannel(GREYS.map((v) => Math.max(0, Math.min(1, map([v, v, v])[k]!)))));
  const decision: Decision = {
    id,
    slope: vec3(channels.map((c) => c.slope)),
    offset: vec3(channels.map((c) => c.offset)),
    power: vec3(channels.map((c) => c.power)),
    saturation: 1,
  };
  const plain = mapOfDecision(decision);
  const ratio = COLOURS.map((rgb) => chroma(map(rgb)) / Math.max(1e-6, chroma(plain(rgb))));
  decision.saturation = Math.max(0, Math.min(4, ratio.reduce((a, b) => a + b) / ratio.length));
  const fitted = mapOfDecision(decision);
  const tested = [...GREYS.map((v): Vec3 => [v, v, v]), ...COLOURS];
  const off = tested.flatMap((rgb) => map(rgb).map((v, k) => Math.abs(Math.max(0, Math.min(1, v)) - fitted(rgb)[k]!)));
  return { decision, off: off.reduce((a, b) => a + b) / off.length };
}

function chroma(rgb: Vec3): number {
  const luma = lumaOf(rgb);
  return Math.hypot(...rgb.map((v) => v - luma));
}

interface Curve {
  slope: number;
  offset: number;
  power: number;
}

/** Slope, offset and power of a channel over the greys: for each power a straight line, the power by halving what is left. */
function fitChannel(out: readonly number[]): Curve {
  const tried = (logPower: number) => {
    const power = 2 ** logPower;
    const line = straight(out.map((v) => v ** (1 / power)));
    const off = GREYS.reduce(
      (sum, v, i) => sum + (Math.max(0, Math.min(1, line.slope * v + line.offset)) ** power - out[i]!) ** 2,
      0,
    );
    return { ...line, power, off };
  };
  let [low, high] = [Math.log2(POWERS.least), Math.log2(POWERS.most)];
  for (let i = 0; i < POWERS.rounds; i++) {
    const [a, b] = [low + (high - low) * 0.382, low + (high - low) * 0.618];
    if (tried(a).off < tried(b).off) high = b;
    else low = a;
  }
  const { slope, offset, power } = tried((low + high) / 2);
  return { slope: Math.max(0, slope), offset, power };
}

/** The line through values over the greys with the least squares. What was clipped to an end tells nothing and is left out. */
function straight(values: readonly number[]): { slope: number; offset: number } {
  const points = GREYS.map((x, i) => [x, values[i]!] as const).filter(([, v]) => v > 1e-6 && v < 1 - 1e-6);
  if (points.length < 2) return { slope: 1, offset: 0 };
  const [mx, mv] = [0, 1].map((k) => points.reduce((s, p) => s + p[k as 0 | 1], 0) / points.length) as [number, number];
  const slope =
    points.reduce((s, [x, v]) => s + (x - mx) * (v - mv), 0) / points.reduce((s, [x]) => s + (x - mx) ** 2, 0);
  return { slope, offset: mv - slope * mx };
}
