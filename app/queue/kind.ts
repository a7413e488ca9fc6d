/** What a kind of long work has to say of itself. */
import type { Place, Placed } from '@glimbo/cli/place';
import type { Task } from '@glimbo/cli/task';
import type { Job } from '~/model/job';

/** In each lane one job runs at a time: what computes, what copies, what looks. */
export type Lane = 'compute' | 'copy' | 'look';

/** Why is cleared up: it was done, it is over without that, or it will be begun again. */
export type Why = 'done' | 'over' | 'again';

export interface JobKind {
  lane: Lane;
  /** What has to be done; null when that is not possible any more. */
  prepare(job: Job): Promise<Placed<Task> | null>;
  /** Takes over something that is brought on the way. Gives a sentence if that cannot be. */
  take?(job: Job, part: unknown): Promise<string | null>;
  /** Takes over what was done. */
  accept?(job: Job, done: unknown, task: Placed<Task>): Promise<void>;
  /** What is kept with the job of what was done: all of it by default, nothing for null. */
  result?(done: unknown): object | null;
  /** Removes what is half done or not needed any more. Called before a job's end is written down, and after a crash. */
  clean(job: Job, why: Why): Promise<void>;
  /** What belongs to a job in the data folder, whether it is there or not. */
  owns?(job: Job): Place[];
  /** Whether something belongs to a job still when it has ended. */
  lasting?: true;
  /** Removes what belongs to a job that is removed. */
  remove?(job: Job): Promise<void>;
}
