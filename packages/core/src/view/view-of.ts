/**
 * Where the camera looks: the only place that says so. Preview, Map, Sweep, engine and command line all ask here; whatever
 * else comes to have a say in it is composed here, in one order.
 */
import { apply, rotationOf, unwrapNear, type Vec3 } from '../geometry/rotation.js';
import type { Following } from '../follow/following.js';
import { cameraOf, readOut, type Camera, type View } from '../lens/view.js';
import { shaken } from '../look/shake.js';
import { viewAt, type Path } from '../path/path.js';
import { corrected } from '../take/format-correction.js';
import { formatOf, ratioOf } from '../take/formats.js';
import type { Take } from '../take/take.js';

/** A heading and a tilt in the world, in degrees. */
export interface Aim {
  pan: number;
  tilt: number;
}

/** What besides the take has a say in a view. */
export interface ViewContext {
  /** A look elsewhere that changes nothing in the take. */
  glance?: Aim | null;
  /** A lens that is only looked at. */
  tryOut?: Partial<View> | null;
  /** A path that is only looked at, in place of the take's. */
  tried?: Path | null;
  /** How subjects are kept in frame. */
  following?: Following | null;
}

/** The take alone: what is exported. */
export const TAKE_ALONE: ViewContext = {};

/**
 * What the camera is aimed at, at a time in seconds of the footage: the view without what only shakes it, which nobody edits. Degrees,
 * angles unwrapped; in the world, after the correction.
 */
export function aimOf(take: Pick<Take, 'path' | 'frame'>, context: ViewContext, time: number): View {
  const { glance, tryOut, tried, following } = context;
  const path = corrected(viewAt(tried ?? take.path, time), formatOf(take).correction, time);
  const view = following ? following(path, time, ratioOf(take)) : path;
  return glance || tryOut ? { ...view, ...glance, ...tryOut } : view;
}

/** The view that is drawn: the aim, as the hand of the look's shake holds it. */
export const viewOf = (take: Pick<Take, 'path' | 'frame' | 'look'>, context: ViewContext, time: number): View =>
  shaken(aimOf(take, context, time), take.look?.shake, time, ratioOf(take));

/** A glance as a change of a view: its heading the short way from where the view is. */
export const glanceOver = (glance: Aim | null, view: View): Partial<View> =>
  glance ? { pan: unwrapNear(glance.pan, view.pan), tilt: glance.tilt } : {};

/** World direction of a view's centre. */
export const sightOf = (view: Pick<View, 'pan' | 'tilt' | 'roll'>): Vec3 => apply(rotationOf(view), [0, 0, 1]);

/** Height in pixels of a camera that only measures: large enough for whole degrees at any shape. */
const MEASURING = 1000;

/** A view as a camera in the take's format, for outlines and angles where no picture is drawn. */
export const measuringCamera = (take: Pick<Take, 'frame'>, view: View): Camera =>
  cameraOf(view, ratioOf(take) * MEASURING, MEASURING);

/** Angles of sight in degrees and focal length of a view in the take's format, as `readOut` gives them. */
export const anglesIn = (take: Pick<Take, 'frame'>, view: View) => readOut(view, ratioOf(take) * MEASURING, MEASURING);
