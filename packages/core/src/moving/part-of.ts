/** Pieces of one thing that were told apart: a sleeve, a shadow at somebody's feet. */
import { angleBetween } from '../geometry/rotation.js';
import { lookDirection, largerSide, type MovingLook } from './moving.js';

/** Share of something's looks at which it must lie in something larger to be a part of it. */
const MOSTLY = 0.5;

/** Whether what is seen in some looks is mostly within what is seen in others, which is larger and seen for as long or longer. */
export function isPartOf(part: readonly MovingLook[], whole: readonly MovingLook[]): boolean {
  if (whole.length < part.length) return false;
  let [inside, k] = [0, 0];
  for (const look of part) {
    while (k < whole.length && whole[k]![0] < look[0]) k++;
    const other = whole[k];
    if (!other || other[0] !== look[0] || largerSide(other) <= largerSide(look)) continue;
    if (angleBetween(lookDirection(look), lookDirection(other)) < largerSide(other) / 2) inside++;
  }
  return inside > MOSTLY * part.length;
}
