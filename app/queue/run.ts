/** Runs one task in a process of its own, which ends when this one does; its temporary things lie in a folder of its own. */
import { fork, type ChildProcess } from 'node:child_process';
import { mkdir, rm } from 'node:fs/promises';
import { setPriority } from 'node:os';
import { join } from 'node:path';
import { resolved, type Placed } from '@glimbo/cli/place';
import type { Report, Task } from '@glimbo/cli/task';
import { leashed } from '@glimbo/media/ffmpeg';
import { config } from '~/base/config';
import { layout, onDisk } from '~/base/layout';

/** What became of a task. `pair`: see `cli/job.ts`; `lost`: its process was gone before it said anything. */
export type Outcome = { done: unknown } | { failed: string; pair?: boolean; lost?: true };

export interface Running {
  /** Ends it: first by asking, and if that does not help, by killing. */
  stop(): void;
  kill(): void;
  /** What became of it; never rejects. */
  ended: Promise<Outcome>;
}

/** How long a task is given to clear up behind itself, in milliseconds. */
const PATIENCE = 4000;
const LOST: Outcome = { failed: 'The work was broken off from outside. Try it again.', lost: true };

/** How far long work stands back behind the server and what somebody waits for, as the system's scheduler counts. */
const STEP_BACK = 10;

function standBack(pid: number) {
  try {
    setPriority(pid, STEP_BACK);
  } catch {
    // It ended already.
  }
}

/**
 * Starts a task under a name that no other running task has. `tell` gets everything it says before its end. Long work stands
 * back: it gets what the machine has to spare.
 */
export function runTask(
  name: string,
  task: Placed<Task>,
  tell: (report: Report) => void = () => {},
  long = false,
): Running {
  const work = onDisk(layout.work(name));
  let child: ChildProcess | null = null;
  let stopped = false;
  const ended = (async () => {
    await mkdir(work, { recursive: true });
    if (stopped) return LOST;
    let outcome: Outcome | null = null;
    const [execPath, execArgv] = leashed(process.execPath, []);
    const started = fork(join(config.engine, 'job.mjs'), {
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
      execPath,
      execArgv,
      env: { ...process.env, GLIMBO_WORK: work },
    });
    child = started;
    if (long && started.pid) standBack(started.pid);
    await new Promise<void>((resolve) => {
      started.on('message', (report: Report) => {
        if ('done' in report || 'failed' in report) outcome = report;
        else tell(report);
      });
      started.once('error', (error) => {
        outcome ??= { failed: `The work could not be started: ${error.message}. Try it again.` };
        if (started.pid === undefined) resolve();
      });
      // Not its exit: what it said last may still be under way then.
      started.once('close', () => resolve());
      started.send(resolved<Task>(task, onDisk), (error) => error && started.kill('SIGKILL'));
    });
    return outcome ?? LOST;
  })()
    .catch((error: Error) => ({ failed: `The work could not be started: ${error.message}. Try it again.` }))
    .finally(() => rm(work, { recursive: true, force: true }).catch(() => {}));
  return {
    stop() {
      stopped = true;
      child?.kill('SIGTERM');
      setTimeout(() => child?.kill('SIGKILL'), PATIENCE).unref();
    },
    kill() {
      stopped = true;
      child?.kill('SIGKILL');
    },
    ended,
  };
}
