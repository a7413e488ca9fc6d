/**
 * The picture formats of a take. Its path is laid once; each format frames it in a shape of its own. `frame.aspect` names
 * the one that is worked on, `frame.formats` lists all of them where there is more than one.
 */
import { ASPECTS, aspectRatio, sizeOf } from '../lens/format.js';
import type { FormatCorrection } from './format-correction.js';
import type { Format, Take } from './take.js';

type Framed = Pick<Take, 'frame'>;

/** All formats of a take, at least one. */
export const formatsOf = ({ frame }: Framed): readonly Format[] =>
  frame.formats?.length ? frame.formats : [{ aspect: frame.aspect }];

/** The format that is worked on, or the one of an aspect. Throws RangeError when the take has none of that aspect. */
export function formatOf(take: Framed, aspect = take.frame.aspect): Format {
  const found = formatsOf(take).find((f) => f.aspect === aspect);
  if (!found) throw new RangeError(`This take has no format ${aspect}.`);
  return found;
}

/** Width divided by height of the format that is worked on. */
export const ratioOf = (take: Framed): number => aspectRatio(formatOf(take).aspect);

/** Pixel size of the format that is worked on in a size class, as `sizeOf` counts it. */
export const sizeIn = (take: Framed, sizeClass: number) => sizeOf(formatOf(take).aspect, sizeClass);

/** The take with another shape in place of the format that is worked on. One that it has already becomes that one. */
export function withFormat<T extends Framed>(take: T, aspect: string): T {
  const { aspect: now, formats, ...rest } = take.frame;
  if (!formats) return { ...take, frame: { ...rest, aspect } };
  const others = formats.some((f) => f.aspect === aspect)
    ? formats
    : formats.map((f) => (f.aspect === now ? { ...f, aspect } : f));
  return { ...take, frame: { ...rest, aspect, formats: others } };
}

/** The take with one more format; the one that is worked on stays. */
export function addFormat<T extends Framed>(take: T, aspect: string): T {
  const formats = formatsOf(take);
  if (formats.some((f) => f.aspect === aspect)) return take;
  return { ...take, frame: { ...take.frame, formats: [...formats, { aspect }] } };
}

/** The take without a format. The last one stays; where it was worked on, the first of the others is. */
export function removeFormat<T extends Framed>(take: T, aspect: string): T {
  const others = formatsOf(take).filter((f) => f.aspect !== aspect);
  if (!others.length) return take;
  const now = take.frame.aspect === aspect ? others[0]!.aspect : take.frame.aspect;
  return { ...take, frame: { ...take.frame, aspect: now, formats: others } };
}

/** The take with another of its formats worked on. Throws RangeError when it has none of that aspect. */
export const inFormat = <T extends Framed>(take: T, aspect: string): T => ({
  ...take,
  frame: { ...take.frame, aspect: formatOf(take, aspect).aspect },
});

/** The take with another correction of the format that is worked on; without one it follows the path alone. */
export function withCorrection<T extends Framed>(take: T, correction: FormatCorrection | undefined): T {
  const { aspect } = take.frame;
  const own: Format = { aspect, ...(correction ? { correction } : {}) };
  return { ...take, frame: { ...take.frame, formats: formatsOf(take).map((f) => (f.aspect === aspect ? own : f)) } };
}

/** The shapes to choose from: the usual ones, and the take's own. */
export const shapesFor = (take: Framed): string[] => [
  ...new Set([...ASPECTS, ...formatsOf(take).map((f) => f.aspect), take.frame.aspect]),
];
