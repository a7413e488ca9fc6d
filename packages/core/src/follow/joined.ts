/** Puts together what several maps say of where a subject is. */

/** What each cell of a square comes to, and how much that counts. */
interface Weighed {
  map: ArrayLike<number>;
  weight: number;
}

/**
 * The sum of maps whose middle is at 0, as filters answer, and of others whose middle is in the middle of the square, the less the
 * farther from there: by a bell of exp(−`astray` · cells²).
 */
export function joined(
  side: number,
  filters: readonly Weighed[],
  cells: readonly Weighed[],
  astray: number,
): Float64Array {
  const along = Float64Array.from({ length: side }, (_, k) => Math.exp(-((k - side / 2) ** 2) * astray));
  const out = new Float64Array(side * side);
  for (const { map, weight } of filters) for (let i = 0; i < out.length; i++) out[i]! += weight * map[i]!;
  for (let y = 0, i = 0; y < side; y++)
    for (let x = 0; x < side; x++, i++) {
      const [cx, cy] = [(x + side / 2) % side, (y + side / 2) % side];
      const cell = cy * side + cx;
      for (const { map, weight } of cells) out[i]! += weight * map[cell]!;
      out[i]! *= along[cx]! * along[cy]!;
    }
  return out;
}
