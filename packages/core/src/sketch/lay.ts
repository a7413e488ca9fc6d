/** Laying a Sketch into a path: whole or by stretch, beside what was made by hand or over it. */
import { setViewKey, viewKeysOf, VIEW_CHANNELS } from '../path/edit.js';
import { keysOf, viewAt, type Path } from '../path/path.js';
import type { Keyframe } from '../curve/channel.js';
import type { Sketch } from './sketch.js';

interface Span {
  from: number;
  to: number;
}

/** Seconds around keyframes made by hand that a Sketch leaves to them. */
const APART = 0.5;

/** The parts of a stretch that no keyframes made by hand are in: before the first of them and after the last. */
export function freeSpans(path: Path, { from, to }: Span): Span[] {
  const times = viewKeysOf(path).map((k) => k.time);
  const within = times.filter((t) => t >= from && t < to);
  if (within.length === 0) {
    // Between two keyframes the path is made by hand, too.
    const between = times.some((t) => t < from) && times.some((t) => t >= to);
    return between ? [] : [{ from, to }];
  }
  const spans = [
    ...(times.some((t) => t < from) ? [] : [{ from, to: within[0]! - APART }]),
    ...(times.some((t) => t >= to) ? [] : [{ from: within.at(-1)! + APART, to }]),
  ];
  return spans.filter((s) => s.to - s.from > APART);
}

/** A path with a stretch of a Sketch in place of what it has there; `rate`: frames a second of the footage. */
export function layStretch(path: Path, sketch: Sketch, { from, to }: Span, rate: number): Path {
  const [start, end] = [Math.max(from, sketch.from), Math.min(to, sketch.to)];
  if (end - start < 1 / rate) return path;
  const onFrame = (t: number) => Math.round(t * rate) / rate;
  // The Sketch's own view where the stretch begins and ends, so that it is the same in between.
  const [first, last] = [onFrame(start), Math.max(onFrame(start), onFrame(end) - 1 / rate)];
  let own = sketch.path;
  for (const time of [first, last]) own = setViewKey(own, time, viewAt(sketch.path, time));
  const next = { ...path };
  for (const name of VIEW_CHANNELS) {
    const inside = (k: Keyframe) => k.time > first - 0.5 / rate && k.time < last + 0.5 / rate;
    const kept = keysOf(path, name).filter((k) => !inside(k));
    next[name] = [...kept, ...keysOf(own, name).filter(inside)].sort((a, b) => a.time - b.time);
  }
  return next;
}

/** A path with all of a Sketch: only where nothing was made by hand, or over everything. */
export function laySketch(path: Path, sketch: Sketch, over: boolean, rate: number): Path {
  const whole = { from: sketch.from, to: sketch.to };
  const spans = over ? [whole] : freeSpans(path, whole);
  return spans.reduce((laid, span) => layStretch(laid, sketch, span, rate), path);
}
