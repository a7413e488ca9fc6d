/** White balance by what should be grey: temperature and tint that make a colour neutral. */
import { apply, type Vec3 } from '../geometry/rotation.js';
import { toOklab } from './oklab.js';
import { DIALS, type Colour } from './settings.js';
import { toLinear } from './transfer.js';
import { whiteBalance } from './white-balance.js';

const STEPS = 12;
/** For a slope: a dial's units on either side. */
const NEAR = 0.5;

/**
 * Temperature and tint under which a colour, R'G'B' in 0…1, is as near to grey as the dials reach: Newton's method on Oklab's two axes
 * of colour.
 */
export function neutralFor([r, g, b]: Vec3): Pick<Colour, 'temperature' | 'tint'> {
  const linear: Vec3 = [toLinear(r), toLinear(g), toLinear(b)];
  const chroma = (temperature: number, tint: number): [number, number] => {
    const [, a, c] = toOklab(apply(whiteBalance(temperature, tint), linear));
    return [a, c];
  };
  const held = (v: number, { least, most }: { least: number; most: number }) => Math.max(least, Math.min(most, v));
  let [temperature, tint] = [0, 0];
  for (let i = 0; i < STEPS; i++) {
    const [a, c] = chroma(temperature, tint);
    const byT = difference(chroma(temperature + NEAR, tint), chroma(temperature - NEAR, tint));
    const byG = difference(chroma(temperature, tint + NEAR), chroma(temperature, tint - NEAR));
    const det = byT[0] * byG[1] - byT[1] * byG[0];
    if (Math.abs(det) < 1e-15) break;
    temperature = held(temperature - (a * byG[1] - c * byG[0]) / det, DIALS.temperature);
    tint = held(tint - (c * byT[0] - a * byT[1]) / det, DIALS.tint);
  }
  return { temperature, tint };
}

const difference = (a: [number, number], b: [number, number]): [number, number] => [
  (a[0] - b[0]) / (2 * NEAR),
  (a[1] - b[1]) / (2 * NEAR),
];
