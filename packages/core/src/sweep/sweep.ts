/** The Sweep: each row is the band round the horizon at one moment, squeezed to a line of colour. */

const { abs } = Math;

/** The part of the sphere that a row shows, in degrees of latitude. */
export const SWEEP_BAND = { top: 24, bottom: -36 } as const;
export const SWEEP_WIDTH = 720;
/** The overview has at most this many rows; in longer footage each stands for several frames. */
export const SWEEP_MOST_ROWS = 2048;
/** Frames, one a row, in each of the tiles that show the Sweep close up. */
export const SWEEP_TILE = 512;

/**
 * Squeezes a band picture (width × height RGB bytes, the rows of the band from top to bottom) into one row.
 * The middle of the band counts most; within a column, what differs from the column's mean counts more,
 * so that a small thing passing by is not averaged away.
 */
export function squeezeBand(band: Uint8Array, width: number, height: number, out: Uint8Array, offset: number): void {
  for (let x = 0; x < width; x++) {
    const mean = [0, 0, 0];
    for (let y = 0; y < height; y++) for (let c = 0; c < 3; c++) mean[c]! += band[(y * width + x) * 3 + c]! / height;
    const sum = [0, 0, 0];
    let total = 0;
    for (let y = 0; y < height; y++) {
      const i = (y * width + x) * 3;
      const differs = abs(band[i]! - mean[0]!) + abs(band[i + 1]! - mean[1]!) + abs(band[i + 2]! - mean[2]!);
      const place = (y + 0.5) / height - 0.5;
      const weight = (1 - 2.4 * place * place) * (12 + differs);
      total += weight;
      for (let c = 0; c < 3; c++) sum[c]! += weight * band[i + c]!;
    }
    for (let c = 0; c < 3; c++) out[offset + x * 3 + c] = Math.round(sum[c]! / total);
  }
}
