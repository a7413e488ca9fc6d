/**
 * ASC colour decision lists (ASC CDL 1.2): slope, offset and power for each channel, and a saturation over all. Reads `.cc`, `.ccc` and
 * `.cdl` files, of which the first decision counts, and writes `.cc`.
 */
import { lumaOf } from '../colour/convert.js';
import { vec3, type Vec3 } from '../geometry/rotation.js';
import type { ColourMap } from './grade.js';
import { ToldError } from '../boundary/told-error.js';

export interface Decision {
  id: string;
  slope: Vec3;
  offset: Vec3;
  power: Vec3;
  saturation: number;
}

/** What is wrong with a file, in one sentence for whoever gave it. */
class DecisionError extends ToldError {}

const LONGEST = 1_000_000;
const NAMESPACE = 'urn:ASC:CDL:v1.2';

/** A text without what stands in comments; one that is never closed goes on to the end. */
function withoutComments(text: string): string {
  const kept: string[] = [];
  for (let at = 0; at < text.length;) {
    const begins = text.indexOf('<!--', at);
    kept.push(text.slice(at, begins < 0 ? undefined : begins));
    const ends = begins < 0 ? -1 : text.indexOf('-->', begins + 4);
    if (ends < 0) break;
    at = ends + 3;
  }
  return kept.join('');
}

/** The first element of a name, with what stands in its tag and between its tags. Looks at each place once, whatever the text. */
function firstElement(text: string, name: string): { attributes: string; body: string } | null {
  let at = text.indexOf(`<${name}`);
  // Not one whose name only begins so.
  while (at >= 0 && !/[\s>]/.test(text[at + name.length + 1] ?? '')) at = text.indexOf(`<${name}`, at + 1);
  const opened = at < 0 ? -1 : text.indexOf('>', at);
  const closed = opened < 0 ? -1 : text.indexOf(`</${name}>`, opened);
  return closed < 0
    ? null
    : { attributes: text.slice(at + name.length + 1, opened), body: text.slice(opened + 1, closed) };
}

/** Reads the first decision of a file. Throws DecisionError. */
export function readDecision(text: string): Decision {
  const found = text.length > LONGEST ? null : firstElement(withoutComments(text), 'ColorCorrection');
  if (!found) throw new DecisionError('The file holds no colour decision (ColorCorrection).');
  const { attributes, body } = found;
  const numbers = (name: string, count: number, otherwise: number) => {
    const [, written] = new RegExp(`<${name}>([^<]*)</${name}>`).exec(body) ?? [];
    if (written === undefined) return Array.from({ length: count }, () => otherwise);
    const found = written.trim().split(/\s+/).map(Number);
    if (found.length !== count || !found.every((v) => Number.isFinite(v) && Math.abs(v) < 1e6))
      throw new DecisionError(`The decision’s ${name} should be ${count === 1 ? 'a number' : `${count} numbers`}.`);
    return found;
  };
  const decision: Decision = {
    id: /\bid="([^"]*)"/.exec(attributes)?.[1]?.slice(0, 200) ?? '',
    slope: vec3(numbers('Slope', 3, 1)),
    offset: vec3(numbers('Offset', 3, 0)),
    power: vec3(numbers('Power', 3, 1)),
    saturation: numbers('Saturation', 1, 1)[0]!,
  };
  if (decision.slope.some((v) => v < 0) || decision.power.some((v) => v <= 0) || decision.saturation < 0)
    throw new DecisionError('The decision’s Slope and Saturation may not be below 0, and its Power must be above 0.');
  return decision;
}

/** Writes a `.cc` file of it. */
export function writeDecision({ id, slope, offset, power, saturation }: Decision): string {
  const escaped = id.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('"', '&quot;');
  const three = (v: Vec3) => v.map((n) => Number(n.toFixed(6))).join(' ');
  return `<?xml version="1.0" encoding="UTF-8"?>
<ColorCorrection id="${escaped}" xmlns="${NAMESPACE}">
  <SOPNode>
    <Slope>${three(slope)}</Slope>
    <Offset>${three(offset)}</Offset>
    <Power>${three(power)}</Power>
  </SOPNode>
  <SatNode>
    <Saturation>${Number(saturation.toFixed(6))}</Saturation>
  </SatNode>
</ColorCorrection>
`;
}

/** What it makes of colours: as the standard says, held to 0…1 before the power and after the saturation. */
export const mapOfDecision =
  ({ slope, offset, power, saturation }: Decision): ColourMap =>
  (rgb) => {
    const held = (v: number) => Math.max(0, Math.min(1, v));
    const out = vec3(rgb.map((v, k) => held(v * slope[k]! + offset[k]!) ** power[k]!));
    const luma = lumaOf(out);
    return vec3(out.map((v) => held(luma + saturation * (v - luma))));
  };
