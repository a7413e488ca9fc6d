/** The picture format: aspect ratios and the pixel sizes made from them. */
export const ASPECTS = ['16:9', '9:16', '1:1', '4:5', '4:3', '2.35:1'] as const;

/** Width divided by height of an aspect such as "16:9". Throws RangeError for anything else. */
export function aspectRatio(aspect: string): number {
  const match = /^(\d+(?:\.\d+)?):(\d+(?:\.\d+)?)$/.exec(aspect);
  const ratio = match ? Number(match[1]) / Number(match[2]) : NaN;
  if (!(ratio > 0.05 && ratio < 20)) throw new RangeError(`"${aspect}" is not a picture format such as 16:9.`);
  return ratio;
}

const even = (n: number) => Math.max(2, Math.round(n / 2) * 2);

/**
 * Pixel size of an aspect in a size class: the class is the shorter side (1080, 2160) except that
 * cinema's 2.35:1 keeps the width of the 16:9 class. Both sides are even, as 4:2:0 needs.
 */
export function sizeOf(aspect: string, sizeClass: number): { width: number; height: number } {
  const ratio = aspectRatio(aspect);
  if (ratio > 16 / 9 + 0.01) {
    const width = even((sizeClass * 16) / 9);
    return { width, height: even(width / ratio) };
  }
  return ratio >= 1
    ? { width: even(sizeClass * ratio), height: even(sizeClass) }
    : { width: even(sizeClass), height: even(sizeClass / ratio) };
}

/** Reads "1920x1080". Throws RangeError with a sentence when it is not a usable size. */
export function parseSize(text: string): { width: number; height: number } {
  const match = /^(\d+)x(\d+)$/i.exec(text.trim());
  const [width, height] = match ? [Number(match[1]), Number(match[2])] : [0, 0];
  if (width < 16 || height < 16 || width > 8192 || height > 8192 || width % 2 || height % 2) {
    throw new RangeError(`"${text}" is not a size: write it as 1920x1080, both sides even, from 16 to 8192 pixels.`);
  }
  return { width, height };
}
