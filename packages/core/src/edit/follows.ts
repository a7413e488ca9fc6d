/** Changing the Follows of a take. */
import type { Take } from '../take/take.js';
import { followInForce } from './dial.js';
import { USUAL_RULE, type Follow } from '../follow/rule.js';

/**
 * A take that follows a subject besides, by a rule that suits most: from its in point to its out point, or, where another is followed at
 * a time in seconds, from there on, handed over softly.
 */
export function withFollow(take: Take, subject: string, time: number): Take {
  const follows = take.follows ?? [];
  const { range } = take;
  const before = follows[followInForce(take, time)];
  const fresh: Follow = { ...USUAL_RULE, subject, in: range.in, out: range.out };
  if (before) Object.assign(fresh, { ...before, subject, in: Math.max(before.in, time - before.blend / 2) });
  return { ...take, follows: [...follows, fresh] };
}

/** A take with some of its n-th Follow changed. */
export const changeFollow = (take: Take, n: number, change: Partial<Follow>): Take => ({
  ...take,
  follows: take.follows?.map((f, i) => (i === n ? { ...f, ...change } : f)),
});

/** A take without its n-th Follow; without any there is no list either. */
export function withoutFollow({ follows = [], ...take }: Take, n: number): Take {
  const left = follows.filter((_, i) => i !== n);
  return left.length ? { ...take, follows: left } : take;
}

/** A take whose n-th Follow begins or ends at a time in seconds; as it was where that is on the wrong side of its other end. */
export function moveFollowEnd(take: Take, n: number, end: 'in' | 'out', time: number): Take {
  const rule = take.follows?.[n];
  const fits = rule && (end === 'in' ? time < rule.out : time > rule.in);
  return fits ? changeFollow(take, n, { [end]: time }) : take;
}

/** Seconds below which what is left of a Follow is nothing. */
const SHORTEST = 0.1;

/**
 * A take in which no subject is followed between two moments, but for coming out of a Follow after the first and into one before
 * the second.
 */
export function clearFollows({ follows = [], ...take }: Take, from: number, to: number): Take {
  const left = follows.flatMap((f) => {
    if (f.out <= from || f.in >= to) return [f];
    const before = f.in < from - SHORTEST ? [{ ...f, out: Math.min(f.out, from + f.blend) }] : [];
    const after = f.out > to + SHORTEST ? [{ ...f, in: Math.max(f.in, to - f.blend) }] : [];
    return [...before, ...after];
  });
  return left.length ? { ...take, follows: left } : take;
}
