/** Measures of clarity and sharpening. Plain numbers only, since the kernel's compiler and the preview's shader read them too. */

/** Cells from the middle of the guided filter's window to its side. */
export const WINDOW = 4;
/** Variance, in codes squared, from which on an edge is kept out of what is local. */
export const EDGE = 400;
/** Furthest reach of the blur in pixels. */
export const MOST_REACH = 8;
