/**
 * What host and kernel agree on: the camera's record and the grid's measures. Plain numbers only, since both the kernel's
 * compiler and TypeScript read this file.
 */

/** Pixels from one grid node to the next. */
export const TILE = 8;
/** Bytes of a node: u, v (source pixels at level 0), level of detail, cover, weight over the layer below, how many times
 * longer than wide a pixel is on the sphere. */
export const NODE_BYTES = 24;
/** Bytes of a worker's own few: a node, a neighbourhood, three tiles, and the sums of a tile; the same of a tile along a radius. */
export const SCRATCH_BYTES = 736;
export const SCRATCH_SUMS = 320;
export const SCRATCH_TAP = 448;
export const SCRATCH_RADIAL = 512;
export const SCRATCH_NODES = 640;
/** Side in luma pixels of a block of a two-lens picture that shares one correction of colour. */
export const BLOCK = 16;

/** Doubles of a camera's record; from here on, at which of them each part begins. */
export const CAMERA_FIELDS = 62;
/** Rotation from camera to source, nine. */
export const ROTATION = 0;
export const BEND = 9;
/** Radius that a pixel covers. */
export const SCALE = 10;
/** Optical centre in pixels. */
export const CENTRE_X = 11;
export const CENTRE_Y = 12;
/** Radius of the limb; 0: none. */
export const LIMB = 13;
/** Size of the whole sphere in source pixels. */
export const WIDTH = 14;
export const HEIGHT = 15;
/** Size of the equirectangular picture that is drawn; 0: a flat frame. */
export const OUT_WIDTH = 16;
export const OUT_HEIGHT = 17;
/** What the source is. */
export const SOURCE = 18;
export const SOURCE_SPHERE = 0;
export const SOURCE_PART = 1;
export const SOURCE_LENS = 2;
/** Not a picture, but the weight of what is kept of a sector. */
export const SOURCE_SECTOR = 3;
/** A picture that is flat already. */
export const SOURCE_FLAT = 4;
/** A part of the sphere: where the picture's corner lies in the whole one, and its size, in source pixels; four. */
export const PART = 19;
/** A lens: rotation from the rig to it (nine), centre, pixels per radian, radial terms, largest angle. */
export const TO_LENS = 23;
export const LENS_X = 32;
export const LENS_Y = 33;
export const FOCAL = 34;
export const K1 = 35;
export const K2 = 36;
export const EDGE = 37;
/** The layer's place: 0 alone or the lower one, 1 laid over it. */
export const OVER = 38;
/** The seam: the band in which one lens passes into the other, its table's pointer and length. */
export const FEATHER = 39;
export const SEAM = 40;
export const SEAM_COUNT = 41;
/** The other lens's axis, so that the angle to it is known; three. */
export const OTHER_AXIS = 42;
/** A patch: degrees, as radians, from its middle to its rim, and the width over which it passes into what lies below; 0: none. */
export const CAP = 45;
export const CAP_FEATHER = 46;
/** A sector: normals of its headings' planes (three each), how they meet, its latitudes, and the width over which it ends; radians. */
export const FROM = 47;
export const TO = 50;
export const MEET = 53;
export const MEET_NONE = 0;
export const MEET_BOTH = 1;
export const MEET_EITHER = 2;
export const BOTTOM = 54;
export const TOP = 55;
export const SOFT = 56;
/** A flat picture: where in it, in source pixels, the frame's left side lies, and how far a pixel of the frame goes; the same downwards. */
export const FLAT = 57;
