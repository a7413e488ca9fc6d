/** What a correlation filter sees of a glimpse: light, colour and edges by their direction, under a window that fades to its rim. */
import type { Glimpse } from '../frame/sphere-frame.js';

/** Light, two colours, and four directions of edges. */
export const CHANNELS = 7;
const EDGES = 4;

/** A window that is 1 in its middle and 0 at its rim (Hann). */
export function hann(side: number): Float32Array {
  const line = Float32Array.from({ length: side }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 0.5)) / side));
  return Float32Array.from({ length: side * side }, (_, i) => line[i % side]! * line[Math.floor(i / side)]!);
}

/** A window that is 1 over a box of half sizes in cells about its middle, and fades to 0 over `fade` of them beyond. */
export function boxWindow(side: number, half: { x: number; y: number }, fade: number): Float32Array {
  const along = (h: number) =>
    Float32Array.from({ length: side }, (_, i) => {
      const beyond = Math.max(0, Math.min(1, (Math.abs(i + 0.5 - side / 2) / h - 1) / fade));
      return 0.5 + 0.5 * Math.cos(Math.PI * beyond);
    });
  const [x, y] = [along(half.x), along(half.y)];
  return Float32Array.from({ length: side * side }, (_, i) => x[i % side]! * y[Math.floor(i / side)]!);
}

/** Fills `out` (CHANNELS planes of side × side) with what is seen, each about its mean and of a common strength. */
export function featuresOf({ side, planes }: Glimpse, out: readonly Float32Array[]): void {
  const count = side * side;
  const [luma] = planes;
  for (let p = 0; p < 3; p++) {
    const plane = planes[p]!;
    let mean = 0;
    for (let i = 0; i < count; i++) mean += plane[i]!;
    mean /= count;
    const scale = p === 0 ? 1 / 64 : 1 / 24;
    for (let i = 0; i < count; i++) out[p]![i] = (plane[i]! - mean) * scale;
  }
  for (let e = 0; e < EDGES; e++) out[3 + e]!.fill(0);
  for (let y = 1; y < side - 1; y++)
    for (let x = 1; x < side - 1; x++) {
      const i = y * side + x;
      const [dx, dy] = [luma[i + 1]! - luma[i - 1]!, luma[i + side]! - luma[i - side]!];
      const strength = Math.sqrt(dx * dx + dy * dy);
      if (strength < 2) continue;
      // Directions without a sign: an edge is the same from dark to light and back.
      const place = ((Math.atan2(dy, dx) / Math.PI + 1) * EDGES) % EDGES;
      const e = Math.floor(place);
      const f = place - e;
      const w = Math.min(1.5, strength / 40);
      out[3 + (e % EDGES)]![i]! += (1 - f) * w;
      out[3 + ((e + 1) % EDGES)]![i]! += f * w;
    }
}
