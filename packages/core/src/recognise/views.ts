/** The views round a sphere in which somebody looks for what can be recognised, and where in the world lies what is seen in one. */
import { uprightTo } from '../follow/aim.js';
import { cellOf } from '../frame/sphere-frame.js';
import { angleBetween, apply, unit, type Matrix3, type Vec3 } from '../geometry/rotation.js';
import { directionOf } from '../geometry/sphere.js';
import type { Kind } from '../moving/moving.js';

/** Views round the horizon, and radians across each: they overlap, so that nobody stands in two halves. */
const VIEWS = 5;
export const ACROSS = Math.PI / 2;

/** From each view's axes to upright ones. */
export const VIEWS_AROUND: readonly Matrix3[] = Array.from({ length: VIEWS }, (_, i) =>
  uprightTo(directionOf((i * 360) / VIEWS, 0)),
);

/** Something that was recognised in a view: pixels from its left upper corner. */
export interface InView {
  kind: Kind;
  /** How like its kind it is, 0 to 1. */
  likeness: number;
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** Something that was recognised: a unit direction, degrees across and up of an upright box. */
export interface Recognised {
  kind: Kind;
  likeness: number;
  direction: Vec3;
  width: number;
  height: number;
}

/** Where what is seen in a stereographic view, ACROSS radians wide and `side` pixels, lies; `view` turns its axes into those wanted. */
export function placed({ kind, likeness, left, top, right, bottom }: InView, side: number, view: Matrix3): Recognised {
  const step = cellOf(ACROSS, side);
  const at = (u: number, v: number): Vec3 => {
    const [x, y] = [(u - side / 2) * step, (side / 2 - v) * step];
    return apply(view, unit([x, y, 1 - (x * x + y * y) / 4]));
  };
  const [x, y] = [(left + right) / 2, (top + bottom) / 2];
  return {
    kind,
    likeness,
    direction: at(x, y),
    width: angleBetween(at(left, y), at(right, y)),
    height: angleBetween(at(x, top), at(x, bottom)),
  };
}

/** Share of the larger one's size within which two things are one and the same. */
const SAME = 0.4;
const LIKE_SIZED = 1.7;

const sizeOf = ({ width, height }: Pick<Recognised, 'width' | 'height'>) => Math.max(width, height);

/** Whether two boxes are of one and the same thing. */
export function isSame(a: Pick<Recognised, 'direction' | 'width' | 'height'>, b: typeof a): boolean {
  const [large, small] = [Math.max(sizeOf(a), sizeOf(b)), Math.min(sizeOf(a), sizeOf(b))];
  return large < LIKE_SIZED * small && angleBetween(a.direction, b.direction) < SAME * large;
}

/** What was recognised in overlapping views, each thing once, as it is likest. */
export function withoutDoubles(all: readonly Recognised[]): Recognised[] {
  const kept: Recognised[] = [];
  for (const one of [...all].sort((a, b) => b.likeness - a.likeness))
    if (!kept.some((other) => isSame(one, other))) kept.push(one);
  return kept;
}
