/** Knowing files again by their content, in the browser and on the server alike. */

/** How much of a file's beginning, middle and end its fingerprint is made of, in bytes. */
const SAMPLE = 1 << 20;

/** Where the fingerprint of a file of a size takes its samples, in bytes. */
export const fingerprintParts = (size: number): [from: number, to: number][] =>
  size <= 3 * SAMPLE
    ? [[0, size]]
    : [
        [0, SAMPLE],
        [Math.floor((size - SAMPLE) / 2), Math.floor((size - SAMPLE) / 2) + SAMPLE],
        [size - SAMPLE, size],
      ];
