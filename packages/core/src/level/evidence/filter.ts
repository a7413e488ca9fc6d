/** Filters of five pixels, along one axis of an equirectangular picture. */

/**
 * Filters a picture along an axis. `taps` count for the middle, for the neighbours and for theirs; `odd` subtracts those before
 * from those after. Across it goes on round the sphere; down, the first and last rows stand for what would be beyond.
 */
export function filtered(
  picture: Float32Array,
  width: number,
  axis: 'across' | 'down',
  [middle, near, far]: readonly [number, number, number],
  odd = false,
): Float32Array {
  const out = new Float32Array(picture.length);
  const height = picture.length / width;
  const sign = odd ? -1 : 1;
  const row = new Float32Array(width + 4);
  for (let y = 0; y < height; y++) {
    const at = y * width;
    if (axis === 'across') {
      row.set(picture.subarray(at, at + width), 2);
      row.copyWithin(0, width, width + 2);
      row.copyWithin(width + 2, 2, 4);
      for (let x = 0; x < width; x++)
        out[at + x] =
          middle * row[x + 2]! + near * (row[x + 3]! + sign * row[x + 1]!) + far * (row[x + 4]! + sign * row[x]!);
      continue;
    }
    const [a, b] = [Math.max(0, y - 2) * width, Math.max(0, y - 1) * width];
    const [c, d] = [Math.min(height - 1, y + 1) * width, Math.min(height - 1, y + 2) * width];
    for (let x = 0; x < width; x++)
      out[at + x] =
        middle * picture[at + x]! +
        near * (picture[c + x]! + sign * picture[b + x]!) +
        far * (picture[d + x]! + sign * picture[a + x]!);
  }
  return out;
}
