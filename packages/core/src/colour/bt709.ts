/**
 * BT.709 in video range (ITU-R BT.709-6), the colours of every picture here: the one place for core, the kernel and the
 * preview's shader. Plain numbers only, since the kernel's compiler reads this file too.
 */

/** Shares of red, green and blue in luma. */
export const KR = 0.2126;
export const KG = 0.7152;
export const KB = 0.0722;
/** Luma of black and the steps from it to white; colour differences lie about their zero. */
export const LUMA_BLACK = 16.0;
export const LUMA_SPAN = 219.0;
export const CHROMA_ZERO = 128.0;
export const CHROMA_SPAN = 224.0;
