/** A shot: what a camera sees of a footage at a moment, or the whole sphere laid flat. */
import { IDENTITY, multiply, transpose, type Matrix3 } from '../geometry/rotation.js';
import { patchToSource, type Patch } from '../look/patch.js';
import { cameraOf, type Camera, type View } from '../lens/view.js';
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

/** A shot with a patch over it: where that lies with the correction C. */
export function patched(shot: Shot, patch: Patch | undefined, correction: Matrix3): Shot {
  if (!patch) return shot;
  const toSource = patchToSource(patch, correction);
  return { ...shot, patch: { toSource, fromDrawn: multiply(transpose(toSource), shot.toSource) } };
}

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
