/** How pictures lie in memory and go through pipes: planar Y'CbCr, BT.709 in video range. */
export interface PixelFormat {
  /** As ffmpeg calls it. */
  name: 'yuv420p' | 'yuv444p';
  /** Bits of a sample. */
  depth: 8;
  /** Pixels of the picture that share one sample of colour, along each side. */
  chroma: 1 | 2;
}

export const YUV420: PixelFormat = { name: 'yuv420p', depth: 8, chroma: 2 };
export const YUV444: PixelFormat = { name: 'yuv444p', depth: 8, chroma: 1 };

/** Sizes of the three planes of a picture, in samples. */
export function planeSizes({ chroma }: PixelFormat, width: number, height: number) {
  const colour = { width: Math.ceil(width / chroma), height: Math.ceil(height / chroma) };
  return [{ width, height }, colour, { ...colour }];
}

/** Bytes of a picture, its planes one behind the other. */
export const frameBytes = (format: PixelFormat, width: number, height: number): number =>
  planeSizes(format, width, height).reduce((sum, p) => sum + p.width * p.height, 0);
