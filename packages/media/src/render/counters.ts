/** Places of the pipeline's counters in its shared array of 32-bit integers. */

/** The next piece of drawing that nobody has taken. */
export const NEXT = 0;
/** Frames that were written. */
export const WRITTEN = 1;
export const ABORTED = 2;
/** In how many parts a decoded picture is readied for drawing. */
export const READY_PARTS = 4;
/** Finished frames that are held at once. */
export const RING = 4;

const FIRST = 16;

/** Where the counters of a render with so many sources lie, of which `ring` decoded pictures each are held at once. */
export const countersOf = (sources: number, ring: number) => {
  const readOf = (source: number) => FIRST + source * (ring + 1);
  return {
    /** Of each source: pictures that were read. */
    readOf,
    /** Of each source and place in its ring: parts of the picture there that are ready. */
    readyOf: (source: number, slot: number) => readOf(source) + 1 + slot,
    /** Of each place in the ring of finished frames: stripes that are done. */
    stripesDone: (slot: number) => readOf(sources) + slot,
    /** Of each place in the ring of look tables: how many treatments there are up to the one that lies there. */
    bakedOf: (slot: number) => readOf(sources) + RING + slot,
    /** Of each place in the ring of finished frames: stripes that have their detail. */
    stripesDetailed: (slot: number) => readOf(sources) + 2 * RING + slot,
    /** Of each place in the ring of finished frames: how many frames there are up to the one whose overlay lies ready there. */
    laidOf: (slot: number) => readOf(sources) + 3 * RING + slot,
    /** Of each of these places: the number of the overlay that lies there, from 1. */
    heldOf: (slot: number) => readOf(sources) + 4 * RING + slot,
    /** Of each place in the ring of finished frames: how many frames there are up to the one whose patch lies ready there. */
    patchedOf: (slot: number) => readOf(sources) + 5 * RING + slot,
    count: readOf(sources) + 6 * RING,
  };
};
