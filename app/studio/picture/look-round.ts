/** The look round: four directions at once, each in a pane of its own. */
import type { Matrix3 } from '@glimbo/core/geometry/rotation';

export const DIRECTIONS = [
  { name: 'Front', pan: 0, left: 0, top: 0 },
  { name: 'Right', pan: 90, left: 0.5, top: 0 },
  { name: 'Back', pan: 180, left: 0, top: 0.5 },
  { name: 'Left', pan: -90, left: 0.5, top: 0.5 },
] as const;

/** Field of view of each pane: a little more than a quarter turn, so that nothing falls between two. */
const FOV = 96;

/** The four panes with a hair's breadth between them. */
export const lookRoundPanes = (shift: number, correction: Matrix3) =>
  DIRECTIONS.map(({ pan, left, top }) => ({
    view: { pan: pan + shift, tilt: 0, roll: 0, fov: FOV, bend: 0.35, shiftX: 0, shiftY: 0 },
    correction,
    left,
    top,
    width: 0.498,
    height: 0.497,
  }));
