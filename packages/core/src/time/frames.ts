/** The frame that is seen at a time in seconds: the last one that has begun, allowing for what seconds lose as numbers. */
export const frameOf = (time: number, rate: number): number => Math.floor(time * rate + 1e-6);
