/** Changing the Follows of a take. */
import type { Take } from '../take/take.js';
import { USUAL_RULE, type Follow } from './rule.js';

/** A take that follows a subject besides, by a rule that suits most, from its in point to its out point. */
export const withFollow = (take: Take, subject: string): Take => ({
  ...take,
  follows: [...(take.follows ?? []), { ...USUAL_RULE, subject, in: take.range.in, out: take.range.out }],
});

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
