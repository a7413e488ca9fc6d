/** What is done to the picture of a take. */
import type { Take } from './take.js';

/** A take whose shutter is open by some degrees; 0 draws every frame sharp. */
export function withShutter({ look, ...take }: Take, shutter: number): Take {
  const { shutter: _, ...rest } = look ?? {};
  const next = shutter > 0 ? { ...rest, shutter } : rest;
  return Object.keys(next).length ? { ...take, look: next } : take;
}
