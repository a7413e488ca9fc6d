/** Places of the pipeline's counters in its shared array of 32-bit integers. */
export const NEXT = 0;
export const READ = 1;
export const WRITTEN = 2;
export const ABORTED = 3;
/** From here on, one a slot of the ring: mip parts done. */
export const MIPS = 16;
/** From here on, one a slot of the ring: stripes done. */
export const STRIPES = 48;
export const COUNTERS = 80;
/** In how many parts the mip levels of a frame are built. */
export const MIP_PARTS = 4;
