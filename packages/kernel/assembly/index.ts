/**
 * The pixel kernel: draws one plane of a flat frame, or of a whole equirectangular picture, from one plane of the
 * footage: an equirectangular picture, a part of one, or what a fisheye lens drew.
 *
 * The map from frame to source is computed exactly on a grid of one node every 8 pixels and interpolated
 * between; tiles in which that would be too far off (poles, seam, limb) are mapped exactly, pixel by pixel.
 * Sampling is bicubic (Catmull–Rom), from a mip level that suits the footprint on the sphere. Two lenses are two
 * layers: the second is laid over the first with a weight that changes across the seam.
 *
 * All memory belongs to the host. Pointers are byte offsets.
 */
export { detailRows } from './detail';
export { drawRows } from './draw';
export { layOver } from './lay';
export { lookRows } from './look';
export { mapGrid } from './map';
export { matchRows } from './match';
export { addRows, blendRows, settleRows } from './mix';
export { partRows } from './part';
export { fillWeights, halve, narrow } from './sample';
