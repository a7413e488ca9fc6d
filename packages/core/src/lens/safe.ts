/** What of a frame stays clear of what players and feeds lay over it. */

/** Shares of the height and width at each side, by how tall the picture is: a feed's own writing takes much of a tall one. */
export const safeOf = (ratio: number) =>
  ratio < 0.7
    ? { top: 0.12, bottom: 0.2, side: 0.06 }
    : ratio < 1.1
      ? { top: 0.06, bottom: 0.1, side: 0.05 }
      : { top: 0.05, bottom: 0.05, side: 0.05 };
