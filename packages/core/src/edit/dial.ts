/** What turning a dial, or dragging the picture, changes: the path, a Lookout, or where a followed subject stands in the frame. */
import { shareAt } from '../follow/following.js';
import { FOLLOW_LIMITS, type Follow } from '../follow/rule.js';
import { halfSideRadius } from '../lens/projection.js';
import { cameraOf, directionAt, pixelOf, type View } from '../lens/view.js';
import type { LookoutFollow } from '../lookouts/lookouts.js';
import { changeLookout } from './lookouts.js';
import { hasKeyframes, setViewKey, turnDials } from '../path/edit.js';
import type { Path } from '../path/path.js';
import type { Take } from '../take/take.js';

/** Share from which on a Follow, not the path, says what is seen. */
const IN_FORCE = 0.5;

/** The Follow of a take that is in force at a time, by its place in the list; −1 where none is. */
export const followInForce = ({ follows = [] }: Pick<Take, 'follows'>, time: number): number =>
  follows.findLastIndex((rule) => shareAt(rule, time) > IN_FORCE);

const within = (v: number, { least, most }: { least: number; most: number }) => Math.max(least, Math.min(most, v));

const SIDE = 1000;

/** A rule after the picture was dragged from one view to another: what was at the subject's place has its place. */
export function draggedRule<R extends LookoutFollow>(rule: R, from: View, to: View, ratio: number): R {
  const [width, height] = [SIDE * ratio, SIDE];
  const held = directionAt(cameraOf(from, width, height), (width / 2) * (1 + rule.x), (height / 2) * (1 - rule.y));
  const now = held && pixelOf(cameraOf(to, width, height), held);
  const zoomed = halfSideRadius(from.fov, from.bend) / halfSideRadius(to.fov, to.bend);
  return {
    ...rule,
    ...(now
      ? { x: within((2 * now.x) / width - 1, FOLLOW_LIMITS.x), y: within(1 - (2 * now.y) / height, FOLLOW_LIMITS.y) }
      : {}),
    ...(rule.size === undefined ? {} : { size: within(rule.size * zoomed, FOLLOW_LIMITS.size) }),
  };
}

/** What a Follow leaves to the path: all but where it looks, and the zoom where it keeps a size. */
function leftByRule(rule: LookoutFollow, to: View, path: View): View {
  return { ...to, pan: path.pan, tilt: path.tilt, fov: rule.size === undefined ? to.fov : path.fov };
}

/** A path with dials turned: its fixed view where it has no keyframes, else a keyframe at the time. */
const turnFixed = (path: Path, time: number, to: View): Path =>
  hasKeyframes(path) ? setViewKey(path, time, to) : { ...path, ...to };

interface Turned {
  time: number;
  /** The Lookout that is worked on; null for the path. */
  lookout: number | null;
  /** What is seen before and after, without the format's correction; and what the path, or the Lookout's, has there. */
  from: View;
  to: View;
  path: View;
  ratio: number;
}

const sameAim = (a: View, b: View) => a.pan === b.pan && a.tilt === b.tilt && a.fov === b.fov;

/** The take with dials turned at a time. */
export function turnTake(take: Take, { time, lookout, from, to, path, ratio }: Turned): Take {
  if (lookout !== null)
    return changeLookout(take, lookout, (l) =>
      l.follow
        ? {
            ...l,
            follow: sameAim(from, to) ? l.follow : draggedRule(l.follow, from, to, ratio),
            path: turnFixed(l.path, time, leftByRule(l.follow, to, path)),
          }
        : { ...l, path: turnFixed(l.path, time, to) },
    );
  const n = followInForce(take, time);
  const rule = take.follows?.[n];
  if (!rule) return { ...take, path: turnDials(take.path, time, to) };
  const left = leftByRule(rule, to, path);
  const dragged: Follow = sameAim(from, to) ? rule : draggedRule(rule, from, to, ratio);
  const same = (Object.keys(left) as (keyof View)[]).every((k) => left[k] === path[k]);
  return {
    ...take,
    follows: take.follows!.map((f, i) => (i === n ? dragged : f)),
    path: same ? take.path : turnDials(take.path, time, left),
  };
}
