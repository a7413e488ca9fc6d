/** Following a subject with what moves known, worked out first where it is not: forwards and backwards at once. */
import type { SubjectTrack } from '@glimbo/core/follow/subject';
import { followSubject, type FollowOptions, type FollowOrder } from './follow.js';
import { followOnThread } from './follow-thread.js';
import type { Moving } from '@glimbo/core/moving/moving';
import { keptMoving } from './kept-moving.js';

/** Share of the progress that finding what moves takes, where that is not known yet. */
const WATCHING = 0.3;

/**
 * Follows a subject as followSubject does, beside the still world. `folder`: where what moves is kept; in the user's cache where it is
 * not said. `found`: what was found, where subjects were looked for: then what was recognised counts too. Throws MediaError; rejects
 * with an AbortError when the signal was given.
 */
export async function followBeside(
  file: string,
  facts: { rate: number; frames: number },
  order: FollowOrder,
  {
    folder,
    found = null,
    motion = null,
    progress,
    signal,
    ...options
  }: Omit<FollowOptions, 'besideAt' | 'strangers' | 'follows'> & { folder?: string | null; found?: Moving | null },
): Promise<SubjectTrack> {
  let took = 0;
  const watching = (share: number) => {
    took = WATCHING;
    progress?.(WATCHING * share);
  };
  const { besideAt, moving, film } = await keptMoving(file, facts, { motion, folder, progress: watching, signal });
  const isOfThis = found?.frames === moving.frames && found.every === moving.every;
  const kept = { moving: withoutPortraits(isOfThis ? found : moving), film };
  return followSubject(file, facts, order, {
    ...options,
    motion,
    besideAt,
    follows: (way, step, stop) => followOnThread(way, { motion, kept }, step, stop),
    signal,
    progress: (share) => progress?.(took + (1 - took) * share),
  });
}

/** What goes to the threads: nobody looks at portraits there. */
const withoutPortraits = (moving: Moving): Moving => ({
  ...moving,
  streaks: moving.streaks.map(({ portrait: _, ...streak }) => streak),
});
