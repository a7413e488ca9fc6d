/** Checks motion documents at every boundary. */
import { DocumentError } from '../boundary/document-error.js';
import { methodNamed, type Motion, type MotionFrame } from './motion.js';

const finite = (v: unknown): v is number => typeof v === 'number' && Number.isFinite(v);
const vector = (v: unknown, length: number): v is number[] =>
  Array.isArray(v) && v.length === length && v.every(finite);
const stretch = (v: unknown) => {
  const s = v as { in?: unknown; out?: unknown } | null;
  return !!s && finite(s.in) && finite(s.out) && s.out > s.in;
};

/** The motion in parsed JSON, members that may be absent filled in. Throws DocumentError. */
export function readMotionDocument(plain: unknown): Motion {
  const m = plain as Partial<Motion> | null;
  if (!m || typeof m !== 'object' || m.format !== 'glimbo-motion' || m.version !== 1)
    throw new DocumentError('it does not say glimbo-motion, version 1');
  if (!finite(m.rate) || m.rate <= 0 || m.rate > 1000)
    throw new DocumentError('rate must be a number of frames a second');
  if (!Array.isArray(m.frames) || m.frames.length === 0) throw new DocumentError('it has no frames');
  for (const [n, f] of (m.frames as Partial<MotionFrame>[]).entries()) {
    if (!f || !finite(f.time) || !vector(f.orientation, 4))
      throw new DocumentError(`frame ${n} needs a time and an orientation`);
    if (Math.abs(Math.hypot(...f.orientation) - 1) > 0.01)
      throw new DocumentError(`the orientation of frame ${n} is not a unit quaternion`);
  }
  if (m.cuts !== undefined && !(Array.isArray(m.cuts) && m.cuts.every(finite)))
    throw new DocumentError('cuts must be a list of times');
  if (m.bad !== undefined && !(Array.isArray(m.bad) && m.bad.every(stretch)))
    throw new DocumentError('bad must be a list of stretches');
  if (m.up !== undefined && !vector(m.up, 3)) throw new DocumentError('up must be a direction');
  return {
    ...(m as Motion),
    method: methodNamed(m.method) ?? m.method ?? 'quick',
    frames: m.frames.map((f) => ({
      ...f,
      travel: vector(f.travel, 3) ? f.travel : [0, 0, 1],
      travelConfidence: finite(f.travelConfidence) ? f.travelConfidence : 0,
      trust: finite(f.trust) ? f.trust : 1,
      residual: finite(f.residual) ? f.residual : 0,
    })) as MotionFrame[],
    cuts: m.cuts ?? [],
    bad: m.bad ?? [],
    levels: Array.isArray(m.levels)
      ? m.levels.filter((l) => l && finite(l.time) && vector(l.up, 3) && finite(l.confidence))
      : [],
  };
}
