/**
 * One piece of work in a process of its own, started by the application: it gets its task as a message, answers with
 * progress, and dies with its parent. Killing it cancels the work.
 */
import { CalibrationError } from '@glimbo/core/stitch/calibrate';
import { DISK_FULL } from '@glimbo/media/program-words';
import { MediaError } from '@glimbo/media/ffmpeg';
import { NoPairError } from '@glimbo/media/stitch';
import type { Report, Task } from './task.js';
import { runTask } from './run-task.js';

const say = (report: Report) => process.connected && process.send?.(report);
/** Says what became of it and ends once that was taken: a channel that is closed at once may lose it. */
const end = (report: Report) =>
  process.connected && process.send?.(report, () => process.connected && process.disconnect());
const stop = new AbortController();
process.on('disconnect', () => {
  stop.abort();
  setTimeout(() => process.exit(1), 2000).unref();
});
process.on('SIGTERM', () => stop.abort());

process.once('message', (task: Task) => {
  runTask(task, say, stop.signal)
    .then((done) => end({ done }))
    .catch((error: Error) => {
      const full = (error as NodeJS.ErrnoException).code === 'ENOSPC' || /No space left/i.test(error.message);
      const sentence = full ? DISK_FULL : error.message;
      const told = error instanceof MediaError || error instanceof CalibrationError || full;
      if (!told && !stop.signal.aborted) process.stderr.write(`${error.stack}\n`);
      // A program's own words are for the log.
      if (told && typeof error.cause === 'string') process.stderr.write(`${error.cause.trim()}\n`);
      end({ failed: told ? sentence : `Something went wrong: ${sentence}`, pair: error instanceof NoPairError });
    });
});
