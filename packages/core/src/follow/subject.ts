/** A subject: where something was found in every frame of a footage, as an open document (docs/formats/subject.md). */
import { DocumentError } from '../boundary/document-error.js';
import { unit, vec3 } from '../geometry/rotation.js';
import type { Found } from './box.js';
import { TRUSTED } from './tracker.js';

/** Unit direction in the frame's own picture, degrees across and up of a box that stands upright in the world, trust 0 to 1. */
export type SubjectLook = readonly [x: number, y: number, z: number, width: number, height: number, trust: number];

export interface SubjectTrack {
  format: 'glimbo-subject';
  version: 2;
  /** Frames a second. */
  rate: number;
  /** One for each frame of the footage; null where it was not looked for. */
  looks: (SubjectLook | null)[];
}

const rounded = (v: number, digits: number) => Number(v.toFixed(digits));

export const lookOf = ({ direction: [x, y, z], width, height, trust }: Found): SubjectLook => [
  rounded(x, 5),
  rounded(y, 5),
  rounded(z, 5),
  rounded(width, 2),
  rounded(height, 2),
  rounded(trust, 2),
];

/** A look as what was found. */
export const foundOf = ([x, y, z, width, height, trust]: SubjectLook): Found => ({
  direction: [x, y, z],
  width,
  height,
  trust,
});

/** Degrees across its longer side. */
export const sizeOf = (look: SubjectLook): number => Math.max(look[3], look[4]);

/** Whether a look is one at which the subject was seen. */
export const isSeen = (look: SubjectLook | null | undefined): look is SubjectLook => !!look && look[5] >= TRUSTED;

/** A look between two, a share of the way from the one to the other, both in the same picture; as far to be trusted as `trust` says. */
export function lookBetween(
  a: SubjectLook,
  b: SubjectLook,
  share: number,
  trust = a[5] + (b[5] - a[5]) * share,
): SubjectLook {
  const mix = (k: number) => a[k]! + (b[k]! - a[k]!) * share;
  return lookOf({ direction: unit(vec3([mix(0), mix(1), mix(2)])), width: mix(3), height: mix(4), trust });
}

/** Seconds within which a subject counts as lost where it is not seen. */
const LOST_AFTER = 1;

/** The stretches in seconds in which it is lost: not seen for a second or more. */
export function lostStretches({ looks, rate }: SubjectTrack): { in: number; out: number }[] {
  const stretches: { in: number; out: number }[] = [];
  let since: number | null = null;
  looks.forEach((look, n) => {
    if (!look || isSeen(look)) since = null;
    else {
      since ??= n;
      if (n + 1 - since < LOST_AFTER * rate) return;
      const last = stretches.at(-1);
      if (last && last.in === since / rate) last.out = (n + 1) / rate;
      else stretches.push({ in: since / rate, out: (n + 1) / rate });
    }
  });
  return stretches;
}

const finite = (v: unknown): v is number => typeof v === 'number' && Number.isFinite(v);

/** The subject in parsed JSON; one of version 1, whose looks have one size, is as wide as it is high. Throws DocumentError. */
export function readSubject(plain: unknown): SubjectTrack {
  const s = plain as { format?: unknown; version?: unknown; rate?: unknown; looks?: unknown } | null;
  if (!s || typeof s !== 'object' || s.format !== 'glimbo-subject' || (s.version !== 1 && s.version !== 2))
    throw new DocumentError('it does not say glimbo-subject, version 1 or 2');
  if (!finite(s.rate) || s.rate <= 0 || s.rate > 1000)
    throw new DocumentError('rate must be a number of frames a second');
  if (!Array.isArray(s.looks)) throw new DocumentError('it has no looks');
  const numbers = s.version === 1 ? 5 : 6;
  const looks = (s.looks as unknown[]).map((look, n) => (look === null ? null : readLook(look, n, numbers)));
  return { format: 'glimbo-subject', version: 2, rate: s.rate, looks };
}

function readLook(look: unknown, n: number, numbers: number): SubjectLook {
  if (!Array.isArray(look) || look.length !== numbers || !look.every(finite))
    throw new DocumentError(`look ${n} must be ${numbers === 5 ? 'five' : 'six'} numbers or null`);
  const both = numbers === 5 ? [...look.slice(0, 4), ...look.slice(3)] : look;
  const [x, y, z, width, height, trust] = both as [number, number, number, number, number, number];
  if (Math.abs(Math.hypot(x, y, z) - 1) > 0.01) throw new DocumentError(`the direction of look ${n} is no unit vector`);
  if (Math.min(width, height) <= 0 || Math.max(width, height) > 180 || trust < 0 || trust > 1)
    throw new DocumentError(`size or trust of look ${n} is out of range`);
  return [x, y, z, width, height, trust];
}
