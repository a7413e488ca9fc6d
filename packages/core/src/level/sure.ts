/** What being sure of where up is means. */

/** Degrees within which a proposal is right: of those called p % sure p % are. */
export const RIGHT = 3;
/** From this sureness on something is proposed. */
export const SURE = 0.5;
