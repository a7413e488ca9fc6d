/**
 * The transfer of BT.709 (ITU-R BT.709-6, 1.2 and its inverse) between R'G'B' and linear light, both 0…1. Beyond that range it goes on
 * the same way and alike below zero, so that what a step pushes out another one can bring back.
 */
const LINEAR_UNTIL = 0.018;
const SLOPE = 4.5;
const [A, B, POWER] = [1.099, 0.099, 0.45];

export function toLinear(v: number): number {
  const size = Math.abs(v);
  const light = size < SLOPE * LINEAR_UNTIL ? size / SLOPE : ((size + B) / A) ** (1 / POWER);
  return v < 0 ? -light : light;
}

export function fromLinear(light: number): number {
  const size = Math.abs(light);
  const v = size < LINEAR_UNTIL ? SLOPE * size : A * size ** POWER - B;
  return light < 0 ? -v : v;
}
