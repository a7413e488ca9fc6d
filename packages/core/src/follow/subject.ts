/** A subject: where something was found in every frame of a footage, as an open document (docs/formats/subject.md). */
import { DocumentError } from '../boundary/document-error.js';
import { TRUSTED, type Found } from './tracker.js';

/** Unit direction in the frame's own picture, degrees across the longer side, trust 0 to 1. */
export type SubjectLook = readonly [x: number, y: number, z: number, size: number, trust: number];

export interface SubjectTrack {
  format: 'glimbo-subject';
  version: 1;
  /** Frames a second. */
  rate: number;
  /** One for each frame of the footage; null where it was not looked for. */
  looks: (SubjectLook | null)[];
}

const rounded = (v: number, digits: number) => Number(v.toFixed(digits));

export const lookOf = ({ direction: [x, y, z], size, trust }: Found): SubjectLook => [
  rounded(x, 5),
  rounded(y, 5),
  rounded(z, 5),
  rounded(size, 2),
  rounded(trust, 2),
];

/** Whether a look is one at which the subject was seen. */
export const isSeen = (look: SubjectLook | null | undefined): look is SubjectLook => !!look && look[4] >= TRUSTED;

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

/** The subject in parsed JSON. Throws DocumentError. */
export function readSubject(plain: unknown): SubjectTrack {
  const s = plain as Partial<SubjectTrack> | null;
  if (!s || typeof s !== 'object' || s.format !== 'glimbo-subject' || s.version !== 1)
    throw new DocumentError('it does not say glimbo-subject, version 1');
  if (!finite(s.rate) || s.rate <= 0 || s.rate > 1000)
    throw new DocumentError('rate must be a number of frames a second');
  if (!Array.isArray(s.looks)) throw new DocumentError('it has no looks');
  for (const [n, look] of s.looks.entries()) {
    if (look === null) continue;
    if (!Array.isArray(look) || look.length !== 5 || !look.every(finite))
      throw new DocumentError(`look ${n} must be five numbers or null`);
    const [x, y, z, size, trust] = look;
    if (Math.abs(Math.hypot(x, y, z) - 1) > 0.01)
      throw new DocumentError(`the direction of look ${n} is no unit vector`);
    if (size <= 0 || size > 180 || trust < 0 || trust > 1)
      throw new DocumentError(`size or trust of look ${n} is out of range`);
  }
  return { format: s.format, version: s.version, rate: s.rate, looks: s.looks };
}
