/** The camera's record, as the host writes it (see kernel/src/camera.ts), and the grid's constants. */

/** Pixels from one grid node to the next. */
export const TILE: i32 = 8;
/** Bytes of a node: u, v (source pixels at level 0), level of detail, cover (1 where this source sees), weight over the layer below (not yet kept to 0…1), unused. */
export const NODE: i32 = 24;
/** Interpolation error, in pixels of the level that is sampled, above which a tile is mapped exactly. */
export const TOLERANCE: f32 = 0.2;
/** How much the picture may shrink before the next mip level is used: Catmull–Rom still passes little there. */
export const SHRINK: f64 = 1.25;

// A camera and what it looks at, as 48 doubles: rotation from camera to source (9), bend, radius per pixel, optical
// centre x and y in pixels, radius of the limb (0: none), width and height of the whole sphere in source pixels.
export const BEND: i32 = 9;
export const SCALE: i32 = 10;
export const CENTRE_X: i32 = 11;
export const CENTRE_Y: i32 = 12;
export const LIMB: i32 = 13;
export const WIDTH: i32 = 14;
export const HEIGHT: i32 = 15;
// Size of the equirectangular picture that is drawn (0: a flat frame).
export const OUT_WIDTH: i32 = 16;
export const OUT_HEIGHT: i32 = 17;
// What the source is: 0 the whole sphere, 1 a part of it, 2 a fisheye lens.
export const SOURCE: i32 = 18;
// A part of the sphere: where the picture's corner lies in the whole one, and its size, in source pixels.
export const PART: i32 = 19;
// A lens: rotation from the rig to it (9), centre, pixels per radian, radial terms, largest angle and what lies past it to the circle.
export const TO_LENS: i32 = 23;
export const LENS_X: i32 = 32;
export const LENS_Y: i32 = 33;
export const FOCAL: i32 = 34;
export const K1: i32 = 35;
export const K2: i32 = 36;
export const EDGE: i32 = 37;
// The layer's place: 0 alone or the lower one, 1 laid over it; the seam (see weightOf).
export const OVER: i32 = 38;
export const FEATHER: i32 = 39;
export const SEAM: i32 = 40;
export const SEAM_COUNT: i32 = 41;
/** The other lens's axis, so that the angle to it is known. */
export const OTHER_AXIS: i32 = 42;

// @ts-ignore: decorator
@inline
export function field(camera: usize, i: i32): f64 {
  return load<f64>(camera + (<usize>i << 3));
}
