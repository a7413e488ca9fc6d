/** Reading the camera's record, and what the kernel has for itself. */

/** Interpolation error, in pixels of the level that is sampled, above which a tile is mapped exactly. */
export const TOLERANCE: f32 = 0.2;

@inline
export function field(camera: usize, i: i32): f64 {
  return load<f64>(camera + (<usize>i << 3));
}
