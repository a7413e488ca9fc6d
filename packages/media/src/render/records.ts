/** Rows of doubles with named fields, in memory that all threads share. */

/** Where each field of a row begins, and how long a row is. `sizes`: how many doubles each field has. */
export function layoutOf<K extends string>(sizes: Record<K, number>): Record<K, number> & { length: number } {
  const places = {} as Record<K, number>;
  let length = 0;
  for (const name of Object.keys(sizes) as K[]) {
    places[name] = length;
    length += sizes[name];
  }
  return { ...places, length };
}

const shared = (bytes: number) => new SharedArrayBuffer(Math.max(8, bytes));

export function sharedDoubles(values: readonly number[]): Float64Array {
  const out = new Float64Array(shared(8 * values.length), 0, values.length);
  out.set(values);
  return out;
}

export function sharedInts(values: readonly number[]): Uint32Array {
  const out = new Uint32Array(shared(4 * values.length), 0, values.length);
  out.set(values);
  return out;
}

/** The row that begins at a number of rows. */
export const rowAt = (rows: Float64Array, { length }: { length: number }, n: number) =>
  rows.subarray(n * length, (n + 1) * length);
