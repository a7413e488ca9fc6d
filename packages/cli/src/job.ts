/**
 * One piece of long work in a process of its own, started by the application: it gets its task as a message,
 * answers with progress, and dies with its parent. Killing it cancels the work.
 */
import type { Take } from '@glimbo/core/take/take';
import type { ClipSettings } from '@glimbo/core/take/clip';
import { gather, type Gathered } from '@glimbo/media/gather';
import { MediaError } from '@glimbo/media/ffmpeg';
import type { MediaFacts } from '@glimbo/media/probe';
import type { Recording } from '@glimbo/media/recording';
import { exportClip, type ClipReport } from '@glimbo/media/render/clip';

export type Task =
  | { kind: 'gather'; recording: Recording; facts: MediaFacts; folder: string; variableRate: boolean; proxyWidth: number }
  | { kind: 'export'; take: Take; recording: Recording; out: string; settings: ClipSettings };

export type Report = { progress: number } | { done: Gathered | ClipReport } | { failed: string };

const say = (report: Report) => process.connected && process.send?.(report);
const stop = new AbortController();
process.on('disconnect', () => {
  stop.abort();
  setTimeout(() => process.exit(1), 2000).unref();
});
process.on('SIGTERM', () => stop.abort());

process.once('message', (task: Task) => {
  run(task)
    .then((done) => say({ done }))
    .catch((error: Error) => {
      const full = (error as NodeJS.ErrnoException).code === 'ENOSPC' || /No space left/i.test(error.message);
      const sentence = full ? 'The disk is full. Make room and try again; nothing half done was kept.' : error.message;
      say({ failed: error instanceof MediaError || full ? sentence : `Something went wrong: ${sentence}` });
    })
    .finally(() => process.connected && process.disconnect());
});

function run(task: Task): Promise<Gathered | ClipReport> {
  const { signal } = stop;
  if (task.kind === 'gather') {
    return gather(task.recording, task.facts, task.folder, {
      variableRate: task.variableRate,
      proxyWidth: task.proxyWidth,
      signal,
      progress: (progress) => say({ progress }),
    });
  }
  return exportClip(task.take, task.recording, task.out, task.settings, {
    signal,
    progress: (done, total) => say({ progress: done / total }),
  });
}
