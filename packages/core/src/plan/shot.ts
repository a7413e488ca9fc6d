/** A shot: what a camera sees of a footage at a moment, or the whole sphere laid flat. */
import { angleBetween, IDENTITY, multiply, transpose, type Matrix3, type Vec3 } from '../geometry/rotation.js';
import { patchToSource, reachOf, type Patch } from '../look/patch.js';
import { cameraDirection, cameraOf, type Camera, type View } from '../lens/view.js';
import type { Source } from '../stitch/source.js';

/** A whole equirectangular picture to be drawn. */
export interface SpherePicture {
  sphere: true;
  width: number;
  height: number;
}

/** A flat picture to be drawn: which part of it fills width × height pixels, in shares of its own width and height. */
export interface FlatPicture {
  flat: true;
  width: number;
  height: number;
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** What is drawn: a camera's frame, a whole sphere, or a part of a flat picture. */
export type Picture = Camera | SpherePicture | FlatPicture;

/** A source whose pictures are flat already: a clip or a still. */
export interface FlatSource {
  kind: 'flat';
}

export type PlanSource = Source | FlatSource;

export interface Shot {
  picture: Picture;
  /** Camera, or the drawn sphere, to source. */
  toSource: Matrix3;
  source: PlanSource;
  /** Seconds of the footage, for what a source follows over time. */
  time: number;
  /** Whether it stands for a stretch of a pan: drawn from means of NARROWED pixels across. */
  smeared?: boolean;
  /** What covers a part of the sphere. */
  patch?: ShotPatch;
  /** Where a part of the sphere is kept, and what is seen outside. */
  parted?: ShotParted;
}

/** Where a sector lies: from what is drawn to the world; and the twin outside it, null where that is a colour. */
export interface ShotParted {
  toWorld: Matrix3;
  twin: ShotTwin | null;
}

/** What is seen of a twin by what draws the shot. */
export interface ShotTwin {
  toSource: Matrix3;
  source: PlanSource;
  /** Seconds of its footage. */
  time: number;
  /** Factor of its signal. */
  gain: number;
}

/** Where a patch lies: from what is drawn to the patch's own axes, its middle ahead; and from those to the source. */
export interface ShotPatch {
  fromDrawn: Matrix3;
  toSource: Matrix3;
}

/** A shot with a patch over it, where that is in sight: where it lies with the correction C. */
export function patched(shot: Shot, patch: Patch | undefined, correction: Matrix3): Shot {
  if (!patch) return shot;
  const toSource = patchToSource(patch, correction);
  const fromDrawn = multiply(transpose(toSource), shot.toSource);
  const middle: Vec3 = [fromDrawn[6], fromDrawn[7], fromDrawn[8]];
  return inSight(shot.picture, middle, reachOf(patch)) ? { ...shot, patch: { toSource, fromDrawn } } : shot;
}

/** Points along each side of a frame at which it is seen what is in sight. */
const LOOKS = 9;

/** Whether a picture may show anything within some degrees of a direction of what is drawn. */
function inSight(picture: Picture, direction: Vec3, degrees: number): boolean {
  if (!('rotation' in picture)) return true;
  const camera = { ...picture, rotation: IDENTITY };
  let [near, step] = [Infinity, 0];
  let before: Vec3[] = [];
  for (let j = 0; j < LOOKS; j++) {
    const row: Vec3[] = [];
    for (let i = 0; i < LOOKS; i++) {
      const seen = cameraDirection(camera, (i / (LOOKS - 1)) * camera.width, (j / (LOOKS - 1)) * camera.height);
      // Beside a ball there is nothing to be seen; its limb may lie anywhere between the points.
      if (!seen) return true;
      near = Math.min(near, angleBetween(seen, direction));
      if (i) step = Math.max(step, angleBetween(seen, row[i - 1]!));
      if (j) step = Math.max(step, angleBetween(seen, before[i]!));
      row.push(seen);
    }
    before = row;
  }
  // No place of the frame is farther from one of the points than from one to the next, up or across.
  return near - step <= degrees;
}

/** Pixels of a sphere laid flat, side by side, whose mean is a pixel of what smeared shots are drawn from. */
export const NARROWED = 4;

interface Seen {
  source: Source;
  /** Seconds of the footage. */
  time: number;
  /** Pixels. */
  width: number;
  height: number;
}

/** The shot of a view in the world, with the correction C there. */
export function viewShot(view: View, correction: Matrix3, { source, time, width, height }: Seen): Shot {
  const picture = cameraOf(view, width, height);
  return { picture, toSource: multiply(transpose(correction), picture.rotation), source, time };
}

/** The shot of the whole corrected sphere. */
export const sphereShot = (correction: Matrix3, { source, time, width, height }: Seen): Shot => ({
  picture: { sphere: true, width, height },
  toSource: transpose(correction),
  source,
  time,
});

/** The shot of a part of a flat picture. */
export const flatShot = (picture: Omit<FlatPicture, 'flat'>, time: number): Shot => ({
  picture: { flat: true, ...picture },
  toSource: IDENTITY,
  source: { kind: 'flat' },
  time,
});
