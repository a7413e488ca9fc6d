/** Long work as the interface sees it. */

export type JobState = 'queued' | 'running' | 'done' | 'failed' | 'cancelled';

export const JOB_KINDS = ['gather', 'export', 'copy', 'motion', 'find', 'follow', 'examine', 'sketch'] as const;

export type JobKindName = (typeof JOB_KINDS)[number];

export interface Job {
  id: string;
  kind: JobKindName;
  state: JobState;
  /** Share done, 0…1. */
  progress: number;
  attempts: number;
  error: string | null;
  params: Record<string, unknown>;
  result: Record<string, unknown> | null;
  footageId: string | null;
  takeId: string | null;
  /** Lower ones go first; from `WHEN_IDLE` on a job gives way to any other. */
  priority: number;
  created: number;
  started: number | null;
  ended: number | null;
}

export interface JobEvent {
  id: string;
  kind: Job['kind'];
  state: JobState | 'removed';
  progress: number;
  /** Seconds left, once that can be told. */
  left: number | null;
  error: string | null;
  footageId: string | null;
  /** Counts the pictures of the frame being written, where there are any. */
  picture?: number;
  /** Counts what was taken over before the whole is done. */
  parts?: number;
  /** How many recordings have been found so far. */
  found?: number;
}

/** Whether a job waits or runs. */
export const isOpen = ({ state }: Pick<Job, 'state'>): boolean => state === 'queued' || state === 'running';
