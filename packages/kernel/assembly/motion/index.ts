/**
 * What the motion analysis computes for every pixel: the levels of a frame, corners in it, and where patches taken in
 * earlier frames are now; and which way it slopes about every pixel; and what of it is not the
 * still world, or fits no depth. All memory belongs to the host; pointers are byte offsets.
 */
export { findCorners } from './corners';
export { findPatches, patchBytes, takePatch } from './patch';
export { bounds, excess, medians, turnPlanes } from './moving';
export { fitDepth, halfPlane, misfit, slackBounds } from './parallax';
export { halveLevel, smooth } from './pyramid';
export { planeBytes, soften, structure } from './slopes';
export { compareWhole, mixWhole } from './whole';
