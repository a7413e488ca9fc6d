/** Setting keyframes where there are none, without a change of the curve: the segments on both sides keep its shape. */
import { bezierOfSegment, easeOf, evaluate, indexAt, type Keyframe } from '../curve/channel.js';
import { parameterAt, type Bezier, type Ease } from '../curve/ease.js';
import { sameTime } from './keys.js';
import { CHANNELS, keysOf, viewAt, type ChannelName, type Path } from './path.js';

/** A Bézier ease cut in two at a share f of its time (de Casteljau), each part an ease of its own. */
function splitBezier([x1, y1, x2, y2]: Bezier, f: number): [Bezier, Bezier] {
  const t = parameterAt(x1, x2, f);
  const mix = (a: number, b: number) => a + (b - a) * t;
  const cut = (p1: number, p2: number) => {
    const [a, b, c] = [mix(0, p1), mix(p1, p2), mix(p2, 1)];
    const [d, e] = [mix(a, b), mix(b, c)];
    return { a, d, at: mix(d, e), e, c };
  };
  const [x, y] = [cut(x1, x2), cut(y1, y2)];
  const share = (part: number, from: number, whole: number) => (whole === 0 ? part : (part - from) / whole);
  return [
    [share(x.a, 0, x.at), share(y.a, 0, y.at), share(x.d, 0, x.at), share(y.d, 0, y.at)],
    [share(x.e, x.at, 1 - x.at), share(y.e, y.at, 1 - y.at), share(x.c, x.at, 1 - x.at), share(y.c, y.at, 1 - y.at)],
  ];
}

/** The keyframes with one more at a time, on the curve as it is. Smooth segments beside it keep their shape as curves of their own. */
function withBetween(keys: readonly Keyframe[], time: number): readonly Keyframe[] {
  const i = indexAt(keys, time);
  const [a, b] = [keys[i], keys[i + 1]];
  if (!a || !b || sameTime(a.time, time) || sameTime(b.time, time)) return keys;
  const shaped = (n: number): Keyframe => {
    const curve = easeOf(keys[n]!) === 'smooth' ? bezierOfSegment(keys, n) : null;
    return curve ? { ...keys[n]!, ease: curve } : keys[n]!;
  };
  const value = evaluate(keys as Keyframe[], time, 0);
  const curve = bezierOfSegment(keys, i);
  const plain = easeOf(a) === 'linear' || easeOf(a) === 'hold';
  const [first, second]: [Ease, Ease] =
    plain || !curve ? [easeOf(a), easeOf(a)] : splitBezier(curve, (time - a.time) / (b.time - a.time));
  const around = keys.map((key, n) => (n === i - 1 || n === i + 1 ? shaped(n) : key));
  const turn = a.turn ? { turn: a.turn } : {};
  return [...around.slice(0, i), { ...a, ease: first }, { time, value, ease: second, ...turn }, ...around.slice(i + 1)];
}

/**
 * A keyframe of the view at a time between others: the picture is at every moment what it was before. Channels that have no
 * keyframes on both sides are left as they are.
 */
export function insertBetween(path: Path, time: number, channels: readonly ChannelName[] = CHANNELS): Path {
  const next = { ...path };
  const view = viewAt(path, time);
  for (const name of channels) {
    const keys = keysOf(path, name);
    const split = withBetween(keys, time);
    // Where the view goes by an arc, the new keyframe lies on the arc.
    if (split !== keys) next[name] = split.map((k) => (sameTime(k.time, time) ? { ...k, value: view[name] } : k));
  }
  return next;
}
