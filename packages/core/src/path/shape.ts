/** Shaping a segment by hand: its value curve and its speed curve are two looks at one Bézier. */
import { bezierOfSegment, indexAt, type Keyframe } from '../curve/channel.js';
import type { Bezier, Ease } from '../curve/ease.js';
import { sameTime } from './keys.js';
import { familyOf, keysOf, type CurveName, type Curves } from './path.js';

/** A segment of a channel: two keyframes and what is known of the curve between them. */
export interface Segment {
  index: number;
  a: Keyframe;
  b: Keyframe;
  /** Its curve; null where it holds. */
  curve: Bezier | null;
}

/** The segment at a time, or the last one for times after it; null with fewer than two keyframes. */
export function segmentAt(keys: readonly Keyframe[], time: number): Segment | null {
  const index = Math.max(0, Math.min(keys.length - 2, indexAt(keys, time + 1e-6)));
  const [a, b] = [keys[index], keys[index + 1]];
  return a && b ? { index, a, b, curve: bezierOfSegment(keys, index) } : null;
}

/** Mean speed of a segment in its channel's units a second. */
export const meanSpeed = ({ a, b }: Pick<Segment, 'a' | 'b'>) => (b.value - a.value) / (b.time - a.time);

/** Handles shorter than this have no direction that can be told. */
const SHORT = 1e-3;

/** Speed with which a curve leaves the first keyframe, and arrives at the second. */
export const speedsOf = (segment: Pick<Segment, 'a' | 'b'>, [x1, y1, x2, y2]: Bezier) => ({
  start: (meanSpeed(segment) * y1) / Math.max(SHORT, x1),
  end: (meanSpeed(segment) * (1 - y2)) / Math.max(SHORT, 1 - x2),
});

const share = (x: number) => Math.max(0, Math.min(1, x));

/** The curve that leaves with a speed, its first handle reaching over a share x of the time. */
export function leavingAt(segment: Pick<Segment, 'a' | 'b'>, [, , x2, y2]: Bezier, speed: number, x: number): Bezier {
  const mean = meanSpeed(segment);
  return [share(x), mean === 0 ? 0 : (speed / mean) * Math.max(SHORT, share(x)), x2, y2];
}

/** The curve that arrives with a speed, its second handle beginning at a share x of the time. */
export function arrivingAt(segment: Pick<Segment, 'a' | 'b'>, [x1, y1]: Bezier, speed: number, x: number): Bezier {
  const mean = meanSpeed(segment);
  return [x1, y1, share(x), mean === 0 ? 1 : 1 - (speed / mean) * Math.max(SHORT, 1 - share(x))];
}

/** Channels whose keyframe at a time leaves for another one: those that a shape can be given to at once. */
const leaving = (path: Curves, of: CurveName, time: number): CurveName[] =>
  familyOf(of).filter((name) =>
    keysOf(path, name)
      .slice(0, -1)
      .some((k) => sameTime(k.time, time)),
  );

function withEase(path: Curves, channel: CurveName, index: number, ease: Ease): Curves {
  const change = (k: Keyframe, i: number) => (i === index ? { ...k, ease } : k);
  return { ...path, [channel]: keysOf(path, channel).map(change) };
}

/**
 * The path with a segment's curve. `joined`: the segments before and after leave and arrive with the same speeds, so that there is
 * no corner. `together`: all channels of its family that are keyed where it begins get the curve.
 */
export function shapeSegment(
  path: Curves,
  channel: CurveName,
  index: number,
  ease: Ease,
  { joined = false, together = false }: { joined?: boolean; together?: boolean } = {},
): Curves {
  const key = keysOf(path, channel)[index];
  if (!key) return path;
  const channels = together ? leaving(path, channel, key.time) : [channel];
  return channels.reduce((p, name) => {
    const i = name === channel ? index : keysOf(p, name).findIndex((k) => sameTime(k.time, key.time));
    const shaped = withEase(p, name, i, ease);
    return joined && typeof ease !== 'string' ? joinedTo(shaped, name, i, ease) : shaped;
  }, path);
}

/** Bends what lies before and after a segment so that the speeds meet. What holds stays. */
function joinedTo(path: Curves, channel: CurveName, index: number, curve: Bezier): Curves {
  const keys = keysOf(path, channel);
  const [a, b] = [keys[index]!, keys[index + 1]!];
  const { start, end } = speedsOf({ a, b }, curve);
  const [before, after] = [keys[index - 1], keys[index + 2]];
  const arriving = bezierOfSegment(keys, index - 1);
  const going = bezierOfSegment(keys, index + 1);
  let next = path;
  if (before && arriving)
    next = withEase(next, channel, index - 1, arrivingAt({ a: before, b: a }, arriving, start, arriving[2]));
  if (after && going) next = withEase(next, channel, index + 1, leavingAt({ a: b, b: after }, going, end, going[0]));
  return next;
}

/** Sets how the view turns on the segment that leaves a pan keyframe. */
export const turnSegment = (path: Curves, index: number, turn: Keyframe['turn']): Curves => ({
  ...path,
  pan: keysOf(path, 'pan').map((k, i) => (i === index ? { ...k, turn } : k)),
});
