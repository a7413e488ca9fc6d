/**
 * A pan under an open shutter, drawn from few looks: where every point goes along its row of the sphere laid flat, the mean of what it
 * passes between two looks is had from a picture that is narrowed, in which each pixel is the mean of several side by side.
 */
import { angleBetween, apply, IDENTITY, type Vec3 } from '../geometry/rotation.js';
import { equirectangularOf } from '../geometry/sphere.js';
import { cameraDirection, type Camera } from '../lens/view.js';
import { NARROWED, type Shot } from './shot.js';

/** Points across and down at which it is seen where the picture goes. */
const GRID = 5;
/** Pixels by which a point may leave its row from one look to the next, and the least that it goes along it. */
const ASIDE = 1;
const LEAST = 0.5 * NARROWED;
/** Fewer looks than this are worth drawing from whole pictures, more often. */
const FEWEST = 5;
/** Pixels of the footage that one of the frame may cover: narrowed pictures have no smaller ones. */
const COVERED = 1.25;
/** Least share of the way that is gone in each half of the time. */
const EVEN = 0.3;

/**
 * How many looks of narrowed pictures stand for the way from one shot over a second to a third, each half of it in half of the time;
 * null where they would not do. `width`: that of the sphere laid flat in pixels, a multiple of eight.
 */
export function smearedLooks([from, over, to]: [Shot, Shot, Shot], width: number): number | null {
  if (from.source.kind !== 'sphere' || width % (2 * NARROWED)) return null;
  const [first, second] = [waysOf(from, over, width), waysOf(over, to, width)];
  if (!first || !second) return null;
  const whole = first.map((a, i) => ({ along: a.along + second[i]!.along, aside: a.aside + second[i]!.aside }));
  const looks = Math.ceil(Math.max(...whole.map((w) => Math.abs(w.along))) / NARROWED - 1e-6);
  if (looks < FEWEST) return null;
  const straight = whole.every(({ along, aside }, i) => {
    const even = Math.min(first[i]!.along / along, second[i]!.along / along) >= EVEN;
    return even && Math.abs(along) / looks >= LEAST && Math.abs(aside) / looks <= ASIDE;
  });
  return straight ? looks : null;
}

/** How far points of the frame go from one shot to another; null where any of them is none, or covers too much. */
function waysOf(from: Shot, to: Shot, width: number): { along: number; aside: number }[] | null {
  if (!('rotation' in from.picture) || !('rotation' in to.picture)) return null;
  const [a, b] = [bare(from.picture), bare(to.picture)];
  const ways = [];
  for (let i = 0; i < GRID * GRID; i++) {
    const x = ((i % GRID) / (GRID - 1)) * a.width;
    const y = (Math.floor(i / GRID) / (GRID - 1)) * a.height;
    const [was, is, next] = [cameraDirection(a, x, y), cameraDirection(b, x, y), cameraDirection(a, x + 1, y)];
    if (!was || !is || !next || (angleBetween(was, next) / 360) * width > COVERED) return null;
    ways.push(between(apply(from.toSource, was), apply(to.toSource, is), width));
  }
  return ways;
}

const bare = (camera: Camera): Camera => ({ ...camera, rotation: IDENTITY });

/** How far apart two directions are along and across the rows, in pixels. */
function between(a: Vec3, b: Vec3, width: number) {
  const [from, to] = [equirectangularOf(a, width, width / 2), equirectangularOf(b, width, width / 2)];
  const along = to.u - from.u;
  return { along: along - width * Math.round(along / width), aside: to.v - from.v };
}
