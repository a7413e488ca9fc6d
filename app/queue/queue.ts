/**
 * The queue of long work, as everyone sees it: what it is made of is handed in when the server starts. Whatever becomes of
 * who does a job, it ends once, and nothing half done of it is left (test/queue-contract.ts).
 */
import type { NewJob } from '~/db/jobs';

export interface Queue {
  /** Takes over what an earlier one left, and begins to work. */
  start(): Promise<void>;
  /** Ends what runs; the next start does it again. */
  stop(): Promise<void>;
  /** Adds a job; gives its id. What runs only while nothing else waits gives way to it. */
  add(job: NewJob): Promise<string>;
  /** Has a job that waits begun before all others that wait and are as urgent. */
  ahead(id: string): Promise<void>;
  /** Cancels a job that waits or runs. Resolves when it has ended and nothing half done of it is left. */
  cancel(id: string): Promise<void>;
  /** Cancels everything that waits or runs for a footage. */
  cancelOf(footageId: string): Promise<void>;
  /** Does a failed, cancelled or finished job once more, as a new job. */
  repeat(id: string): Promise<void>;
  /** Forgets a job that has ended, with what belongs to it. */
  remove(id: string): Promise<void>;
}

let handedIn: Queue | null = null;

/** Hands the queue in that this process works with. */
export function handIn(queue: Queue): void {
  handedIn = queue;
}

/** The queue that was handed in. Throws before there is one. */
export function queue(): Queue {
  if (!handedIn) throw new Error('No queue was handed in.');
  return handedIn;
}
