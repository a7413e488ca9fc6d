/**
 * The picture formats of a take. Its path is laid once; each format frames it in a shape of its own. `frame.aspect` names
 * the one that is worked on, `frame.formats` lists all of them where there is more than one.
 */
import { ASPECTS, aspectRatio, sizeOf } from '../lens/format.js';
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

/** The shapes to choose from: the usual ones, and the take's own. */
export const shapesFor = (take: Framed): string[] => [
  ...new Set([...ASPECTS, ...formatsOf(take).map((f) => f.aspect), take.frame.aspect]),
];
