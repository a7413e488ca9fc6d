/**
 * How a picture is filtered where it shrinks: the one place for the kernel and the preview's shader. Plain numbers only, since
 * the kernel's compiler reads this file too.
 */

/** How much the picture may shrink before the next mip level is used: Catmull–Rom still passes little there. */
export const SHRINK = 1.25;
/** Level of detail above which a level is mixed with the next, and from which on one sample a pixel is not enough (3.5 pixels). */
export const MIXED = 0.25;
export const DENSE = 1.4854268;
/**
 * Towards a ball's rim a pixel covers many times more along the radius than across it: from LEAN times on it takes several
 * samples along the radius, up to MOST_LEAN; beyond, at the last pixel before the limb, they are less sharp instead.
 */
export const LEAN = 1.15;
export const MOST_LEAN = 8;
