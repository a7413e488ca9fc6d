/** A way through views written down as a path. */
import { unwrapNear } from '../geometry/rotation.js';
import type { Keyframe } from '../curve/channel.js';
import { emptyPath, type ChannelName, type Path } from '../path/path.js';
import { simplify, smoothed, type Sample } from '../path/simplify.js';
import type { Way } from './best-way.js';
import { headingOf, type Moment } from './interest.js';
import { FOVS, STATES, TILTS } from './views.js';

/** Seconds of the Gaussian that softens the way, and degrees that its keyframes may be off. */
const SOFT = 0.6;
const TOLERANCE = 1.5;
const SAMPLES_A_SECOND = 10;
const WRITTEN = ['pan', 'tilt', 'fov'] as const;

/** The way as keyframes: smooth from cut to cut, and holding its last view until the next. */
export function pathOf(
  way: Way,
  moments: readonly Moment[],
  { from, to, rate }: { from: number; to: number; rate: number },
): Path {
  const onFrame = (time: number) => Math.round(time * rate) / rate;
  const keys: Partial<Record<ChannelName, Keyframe[]>> = {};
  const starts = [0, ...way.cutAt];
  starts.forEach((first, i) => {
    const end = starts[i + 1] ?? moments.length;
    const begins = i === 0 ? from : edge(moments, first);
    const ends = end === moments.length ? to : edge(moments, end);
    const shot = samplesOf(way.states.slice(first, end), moments.slice(first, end), begins, ends);
    const { clipping } = simplify(smoothed(shot, SOFT), TOLERANCE);
    for (const name of WRITTEN) {
      const list = clipping[name]!.map((k) => ({ ...k, time: onFrame(begins + k.time) }));
      // The last view of a look stays until it is cut: its keyframe lies a frame before.
      const last = list.at(-1)!;
      list[list.length - 1] = { ...last, time: Math.max(onFrame(begins), onFrame(ends) - 1 / rate), ease: 'hold' };
      const distinct = list.filter((k, n) => n === 0 || k.time > list[n - 1]!.time + 0.5 / rate);
      (keys[name] ??= []).push(...distinct);
    }
  });
  const still: Keyframe[] = [{ time: onFrame(from), value: 0, ease: 'hold' }];
  return { ...emptyPath(), ...keys, roll: still, bend: still };
}

const edge = (moments: readonly Moment[], k: number) => (moments[k - 1]!.time + moments[k]!.time) / 2;

/** States over time as evenly lying samples, straight between their moments. */
function samplesOf(states: readonly number[], moments: readonly Moment[], from: number, to: number): Sample[] {
  let near = headingOf(STATES[states[0]!]!.heading);
  const points = states.map((s, k) => {
    const { heading, tilt, fov } = STATES[s]!;
    near = unwrapNear(headingOf(heading), near);
    return { time: moments[k]!.time, pan: near, tilt: TILTS[tilt]!, fov: FOVS[fov]! };
  });
  const count = Math.max(2, Math.round((to - from) * SAMPLES_A_SECOND));
  return Array.from({ length: count + 1 }, (_, i): Sample => {
    const time = from + ((to - from) * i) / count;
    const after = points.findIndex((p) => p.time >= time);
    const b = points[after < 0 ? points.length - 1 : after]!;
    const a = points[after < 0 ? points.length - 1 : Math.max(0, after - 1)]!;
    const f = b.time > a.time ? (time - a.time) / (b.time - a.time) : 0;
    const mix = (name: (typeof WRITTEN)[number]) => a[name] + (b[name] - a[name]) * f;
    return { time, values: { pan: mix('pan'), tilt: mix('tilt'), fov: mix('fov') } };
  });
}
