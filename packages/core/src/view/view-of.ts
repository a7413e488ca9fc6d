/**
 * Where the camera looks: the only place that says so. Preview, Map, Sweep, engine and command line all ask here; whatever
 * else comes to have a say in it is composed here, in one order.
 */
import { apply, rotationOf, unwrapNear, type Vec3 } from '../geometry/rotation.js';
import { followingOf, type Following, type ToWorld } from '../follow/following.js';
import type { Follow } from '../follow/rule.js';
import type { SubjectTrack } from '../follow/subject.js';
import { blended, softly } from '../lens/blend.js';
import { cameraOf, readOut, type Camera, type View } from '../lens/view.js';
import { shaken } from '../look/shake.js';
import { placesOf, samePlace, WHOLE, type Place } from '../lookouts/layout.js';
import { cutAt, joinSpan, onAir, type LookoutFollow, type Showing } from '../lookouts/lookouts.js';
import { viewAt, type Path } from '../path/path.js';
import { corrected } from '../take/format-correction.js';
import { formatOf, ratioOf } from '../take/formats.js';
import type { Take } from '../take/take.js';

/** A heading and a tilt in the world, in degrees. */
export interface Aim {
  pan: number;
  tilt: number;
}

/** What keeps subjects in frame: for the take's path, and for each of its Lookouts. */
export interface Followings {
  following?: Following | null;
  lookouts?: readonly (Following | null)[];
}

/** What besides the take has a say in a view. */
export interface ViewContext extends Followings {
  /** A look elsewhere that changes nothing in the take. */
  glance?: Aim | null;
  /** A lens that is only looked at. */
  tryOut?: Partial<View> | null;
  /** A path that is only looked at, in place of the take's. */
  tried?: Path | null;
  /** A Lookout that is looked at, whatever is on air. */
  lookout?: number | null;
  /** The piece between cuts that is seen, also beyond its ends: while the shutter is open nothing is cut. */
  piece?: number;
}

/** The take alone: what is exported. */
export const TAKE_ALONE: ViewContext = {};

type Aimed = Pick<Take, 'path' | 'frame' | 'lookouts'>;
type Drawn = Pick<Take, 'path' | 'frame' | 'lookouts' | 'look'>;

/** How a take and its Lookouts follow. `trackOf`: what is known of a subject; `toWorld`: the take's correction. */
export const followingsOf = (
  { follows, lookouts }: Pick<Take, 'follows' | 'lookouts'>,
  trackOf: (subject: string) => SubjectTrack | null,
  toWorld: ToWorld,
): Followings => ({
  following: followingOf(follows, trackOf, toWorld),
  ...(lookouts
    ? {
        lookouts: lookouts.views.map(({ follow }) => (follow ? followingOf([always(follow)], trackOf, toWorld) : null)),
      }
    : {}),
});

const always = (follow: LookoutFollow): Follow => ({ ...follow, in: -Infinity, out: Infinity, blend: 0 });

/** What a Lookout sees, or for null the take's path, in a picture of a ratio of width to height. */
function seenBy(n: number | null, take: Aimed, context: ViewContext, time: number, ratio: number): View {
  const lookout = n === null ? null : take.lookouts?.views[n];
  const view = viewAt(lookout?.path ?? context.tried ?? take.path, time);
  const following = lookout ? context.lookouts?.[n!] : context.following;
  return following ? following(view, time, ratio) : view;
}

const first = (shows: Showing | null | undefined) => shows?.views[0] ?? null;

/** What is on air at a time, one piece coming to the next as their join has it. */
function onAirAt(take: Aimed, context: ViewContext, time: number, ratio: number): View {
  if (!take.lookouts) return seenBy(null, take, context, time, ratio);
  const { cuts } = take.lookouts;
  const piece = context.piece ?? cutAt(take.lookouts, time);
  const seen = (i: number) => seenBy(first(cuts[i]?.shows), take, context, time, ratio);
  for (const i of [piece, piece + 1]) {
    const span = joinSpan(cuts, i);
    if (span && time > span.from && time < span.to)
      return blended(seen(i - 1), seen(i), softly((time - span.from) / (span.to - span.from)));
  }
  return seen(piece);
}

/**
 * What the camera is aimed at, at a time in seconds of the footage: the view without what only shakes it, which nobody edits. Of several
 * views in one picture the first. Degrees, angles unwrapped; in the world, after the correction.
 */
export function aimOf(take: Aimed, context: ViewContext, time: number): View {
  const { glance, tryOut } = context;
  const view = corrected(laidAim(take, context, time), formatOf(take).correction, time);
  return glance || tryOut ? { ...view, ...glance, ...tryOut } : view;
}

/** The same without what is only looked at, and without what the format has of its own: what a path must have to see it. */
export function laidAim(take: Aimed, context: ViewContext, time: number): View {
  const { lookout } = context;
  const ratio = ratioOf(take);
  const shows = showsAt(take, context, time);
  const own = shows && shows.layout !== 'one' ? ratioIn(placesOf(shows.layout, ratio)[0]!, ratio) : ratio;
  if (lookout === undefined || lookout === null) return onAirAt(take, context, time, own);
  return seenBy(lookout, take, context, time, ratio);
}

const ratioIn = ({ width, height }: Place, ratio: number) => (ratio * width) / height;

/** The view that is drawn: the aim, as the hand of the look's shake holds it. */
export const viewOf = (take: Drawn, context: ViewContext, time: number): View =>
  shaken(aimOf(take, context, time), take.look?.shake, time, ratioOf(take));

/** A view in a part of the picture. */
export interface Framed {
  place: Place;
  view: View;
}

/** All that the picture shows at a time: one view, or several Lookouts beside each other, later ones over earlier. */
export function framesOf(take: Drawn, context: ViewContext, time: number): Framed[] {
  const shows = severalAt(take, context, time);
  if (!shows) return [{ place: WHOLE, view: viewOf(take, context, time) }];
  return placesOf(shows.layout, ratioOf(take)).map((place, k) => ({
    place,
    view: partOf(take, context, time, shows.views[k]!, place),
  }));
}

/** What is on air, in the piece that is seen. */
const showsAt = ({ lookouts }: Aimed, { piece }: ViewContext, time: number): Showing | null =>
  piece === undefined ? onAir(lookouts, time) : (lookouts?.cuts[piece]?.shows ?? null);

/** Several views that are on air at once; null where there is one: what is looked at is always alone. */
function severalAt(take: Aimed, context: ViewContext, time: number): Showing | null {
  if (context.glance || typeof context.lookout === 'number') return null;
  const shows = showsAt(take, context, time);
  return shows?.layout === 'one' ? null : shows;
}

/** What a Lookout shows in a place of the picture. */
function partOf(take: Drawn, context: ViewContext, time: number, n: number, place: Place): View {
  const ratio = ratioIn(place, ratioOf(take));
  const view = corrected(seenBy(n, take, context, time, ratio), formatOf(take).correction, time);
  return shaken(view, take.look?.shake, time, ratio);
}

/** What is seen in one place of the picture at a time; null where it has no such place then. */
export function viewIn(take: Drawn, context: ViewContext, time: number, place: Place): View | null {
  const shows = severalAt(take, context, time);
  if (!shows) return samePlace(place, WHOLE) ? viewOf(take, context, time) : null;
  const k = placesOf(shows.layout, ratioOf(take)).findIndex((p) => samePlace(p, place));
  return k < 0 ? null : partOf(take, context, time, shows.views[k]!, place);
}

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
