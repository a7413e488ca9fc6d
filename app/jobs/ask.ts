/** Short work whose answer somebody waits for, in a process of its own so that the server always answers. */
import { fork } from 'node:child_process';
import { join } from 'node:path';
import type { Report, Task } from '@glimbo/cli/job';
import { MediaError } from '@glimbo/media/ffmpeg';
import { config } from '~/server/config';

/** At most so many at once: more would only wait for each other. */
const AT_ONCE = 2;
let busy = 0;
const waiting: (() => void)[] = [];

/** Does a task and gives its result. Rejects with MediaError and a sentence for the user. */
export async function ask<T>(task: Task, signal?: AbortSignal): Promise<T> {
  if (busy >= AT_ONCE) await new Promise<void>((resolve) => waiting.push(resolve));
  busy++;
  try {
    const child = fork(join(config.engine, 'job.mjs'), { stdio: ['ignore', 'ignore', 'inherit', 'ipc'], execArgv: [] });
    const stop = () => child.kill('SIGKILL');
    signal?.addEventListener('abort', stop);
    return await new Promise<T>((resolve, reject) => {
      child.on('message', (report: Report) => {
        if ('done' in report) resolve(report.done as T);
        if ('failed' in report) reject(new MediaError(report.failed));
      });
      child.once('exit', () => reject(new MediaError('The work was broken off. Try it again.')));
      child.send(task);
    }).finally(() => signal?.removeEventListener('abort', stop));
  } finally {
    busy--;
    waiting.shift()?.();
  }
}
