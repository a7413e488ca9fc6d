/** Short work whose answer somebody waits for, in a process of its own so that the server always answers. */
import { randomUUID } from 'node:crypto';
import pLimit from 'p-limit';
import type { Placed } from '@glimbo/cli/place';
import type { Task } from '@glimbo/cli/task';
import { MediaError } from '@glimbo/media/ffmpeg';
import { runTask } from './run';

/** Milliseconds after which it is given up: one picture that is never drawn must not hold up all others. */
const LONGEST = 90_000;
/** At most so many at once: more would only wait for each other. */
const atOnce = pLimit(2);

/** Two files are named like a pair of lenses, and somebody has to say whether they are. */
export class PairQuestion extends MediaError {}

/** Does a task and gives its result. Rejects with MediaError and a sentence for the user. */
export async function ask<T>(task: Placed<Task>, signal?: AbortSignal, longest = LONGEST): Promise<T> {
  return atOnce(async () => {
    const running = runTask(`ask-${randomUUID()}`, task);
    const stop = () => running.kill();
    signal?.addEventListener('abort', stop);
    let late = false;
    const limit = setTimeout(() => {
      late = true;
      running.kill();
    }, longest);
    const outcome = await running.ended.finally(() => {
      clearTimeout(limit);
      signal?.removeEventListener('abort', stop);
    });
    if (late) throw new MediaError(`takes longer than ${Math.round(longest / 1000)} seconds and was given up.`);
    if ('failed' in outcome) throw new (outcome.pair ? PairQuestion : MediaError)(outcome.failed);
    return outcome.done as T;
  });
}
