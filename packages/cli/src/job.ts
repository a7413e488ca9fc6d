/**
 * One piece of work in a process of its own, started by the application: it gets its task as a message, answers with
 * progress, and dies with its parent. Killing it cancels the work.
 */
import { existsSync } from 'node:fs';
import { readFile, rename, stat, writeFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { CalibrationError, type Calibration } from '@glimbo/core/stitch/calibrate';
import type { Method } from '@glimbo/core/motion/motion';
import { LEAST_AGREEMENT, matchInWords, matchSidecar, readSidecar, withSidecar } from '@glimbo/core/motion/sidecar';
import type { Source, TwoLenses } from '@glimbo/core/stitch/source';
import type { ClipSettings } from '@glimbo/core/take/clip';
import type { Take } from '@glimbo/core/take/take';
import { CardGoneError, copyChecked, needRoom } from '@glimbo/media/copy';
import { lookAtFiles, markOf, type Look } from '@glimbo/media/examine';
import { MediaError } from '@glimbo/media/ffmpeg';
import { gather, type Gathered } from '@glimbo/media/gather';
import { analyseMotion } from '@glimbo/media/motion';
import { writeMotion } from '@glimbo/media/motion-file';
import type { MediaFacts } from '@glimbo/media/probe';
import { readRecording, type Recording } from '@glimbo/media/recording';
import { exportClip, type ClipReport } from '@glimbo/media/render/clip';
import { renderStill } from '@glimbo/media/render/still';
import { asLenses, calibrateOn, followMoment, NoPairError, recogniseRecording } from '@glimbo/media/stitch';

/** Recordings to be copied from a card's folder. */
export interface CopyRequest {
  card: string;
  recordings: CopyItem[];
  tags: string[];
}

export interface CopyItem {
  /** Names the copies. */
  id: string;
  /** What it will be called. */
  name: string;
  /** Relative to the card. */
  files: string[];
}

export type Task =
  | {
      kind: 'gather';
      recording: Recording;
      facts: MediaFacts;
      folder: string;
      variableRate: boolean;
      proxyWidth: number;
    }
  /** `picture`: where the picture of the frame that is being written goes. */
  | { kind: 'export'; take: Take; recording: Recording; out: string; settings: ClipSettings; picture: string }
  /** `targets`: for each recording where its files go, in `folder`. */
  | ({ kind: 'copy'; targets: string[][]; folder: string } & CopyRequest)
  | { kind: 'calibrate'; recording: Recording & { source: TwoLenses }; time: number }
  /** Without a take the whole sphere, as the stitch would be at that moment. */
  | { kind: 'still'; take: Take | null; recording: Recording; time: number; width: number; height: number; out: string }
  | {
      kind: 'motion';
      proxy: string;
      rate: number;
      frames: number;
      method: Method;
      sidecar: { file: string; use: 'replace' | 'anchor' } | null;
      out: string;
    }
  /** What a picture shows; `lenses`: two files are two lenses whatever is seen. */
  | { kind: 'recognise'; files: string[]; streams: number; lenses?: boolean }
  /** Recordings by their files' paths; those whose content is known by its mark need no looking at. */
  | { kind: 'examine'; recordings: string[][]; known: string[] };

/** What was found of one recording of a folder. */
export type Examined = { files: string[]; mark: string } & (
  Look | { known: true } | { problem: string } | { pair: string }
);

/** What became of a motion analysis; `sidecar` says in words how the sidecar fits. */
export interface AnalysisReport {
  method: string;
  sidecar: string | null;
}

export type Report =
  | { progress: number }
  /** Something that can be taken over before the whole is done: a copied recording, an examined one. */
  | { part: { item: CopyItem; files: string[] } | Examined }
  /** The picture of the frame that is being written is a new one. */
  | { picture: true }
  | { done: Gathered | ClipReport | AnalysisReport | Calibration | Source | { copied: number } | { examined: number } }
  /** `pair`: two files are named like a pair, and it has to be said whether they are. */
  | { failed: string; pair?: boolean };

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
      const told = error instanceof MediaError || error instanceof CalibrationError || full;
      if (!told && !stop.signal.aborted) process.stderr.write(`${error.stack}\n`);
      say({ failed: told ? sentence : `Something went wrong: ${sentence}`, pair: error instanceof NoPairError });
    })
    .finally(() => process.connected && process.disconnect());
});

function run(task: Task): Promise<Extract<Report, { done: unknown }>['done']> {
  const { signal } = stop;
  switch (task.kind) {
    case 'gather':
      return gather(task.recording, task.facts, task.folder, {
        variableRate: task.variableRate,
        proxyWidth: task.proxyWidth,
        signal,
        progress: (progress) => say({ progress }),
      });
    case 'export':
      return exportClip(task.take, task.recording, task.out, task.settings, {
        signal,
        progress: (done, total) => say({ progress: done / total }),
        picture: (jpeg) => void keepPicture(task.picture, jpeg),
      });
    case 'motion':
      return analyse(task, signal);
    case 'copy':
      return copyRecordings(task, signal);
    case 'calibrate':
      return calibrateOn(task.recording, task.time);
    case 'still':
      return drawStill(task);
    case 'recognise':
      return task.lenses ? asLenses(task.files) : recogniseRecording(task.files, task.streams);
    case 'examine':
      return examineAll(task, signal);
  }
}

async function analyse(
  { proxy, rate, frames, method, sidecar, out }: Task & { kind: 'motion' },
  signal: AbortSignal,
): Promise<AnalysisReport> {
  const samples = sidecar && readSidecar(await readFile(sidecar.file, 'utf8'));
  if (typeof samples === 'string')
    throw new MediaError(
      `The motion sidecar cannot be read: ${samples}. The earlier analysis, if there is one, was kept.`,
    );
  let motion = await analyseMotion(
    proxy,
    { rate, frames },
    { method, signal, progress: (progress) => say({ progress }) },
  );
  let words: string | null = null;
  if (samples && sidecar) {
    const match = matchSidecar(samples, motion);
    if (match.agreement < LEAST_AGREEMENT)
      throw new MediaError(
        `The motion sidecar does not belong to this footage (agreement ${Math.round(match.agreement * 100)} %). Analyse without it.`,
      );
    motion = withSidecar(motion, samples, match, sidecar.use);
    words = matchInWords(match);
  }
  await writeMotion(out, motion);
  return { method: motion.method, sidecar: words };
}

async function copyRecordings(
  { card, recordings, targets: places, folder }: Task & { kind: 'copy' },
  signal: AbortSignal,
) {
  const plan = recordings.map((item, n) => ({ item, targets: places[n]! }));
  const sizes = await Promise.all(
    recordings
      .flatMap((r) => r.files)
      .map((f) =>
        stat(join(card, f)).then(
          (s) => s.size,
          () => 0,
        ),
      ),
  );
  const missing = plan.flatMap(({ item, targets }) => item.files.filter((_, i) => !existsSync(targets[i]!)));
  if (missing.length && !existsSync(card)) throw new MediaError('The card is not inserted. Insert it and copy again.');
  const total = sizes.reduce((a, b) => a + b, 0);
  await needRoom(folder, total);
  let before = 0;
  let copied = 0;
  for (const { item, targets } of plan) {
    for (const [i, target] of targets.entries()) {
      // What an earlier attempt brought over whole is not brought again.
      if (existsSync(target)) continue;
      try {
        await copyChecked(join(card, item.files[i]!), target, {
          signal,
          progress: (bytes) => say({ progress: (before + bytes) / Math.max(1, total) }),
        });
      } catch (error) {
        if (!(error instanceof CardGoneError)) throw error;
        throw new MediaError(
          `${error.message} ${copied} of ${recordings.length} recordings were copied and are in the Library. Insert the card again and copy the rest.`,
        );
      }
      before += (await stat(target)).size;
      say({ progress: Math.min(1, before / Math.max(1, total)) });
    }
    copied++;
    say({ part: { item, files: targets } });
  }
  return { copied };
}

/** A still of a take, or of the whole sphere as the stitch would be at that moment. */
async function drawStill({ take, recording, time, width, height, out }: Task & { kind: 'still' }): Promise<Source> {
  let { source } = recording;
  if (source.kind === 'two-lenses' && !source.track) {
    const { facts } = await readRecording(recording);
    source = await followMoment({ ...recording, source }, facts, time);
  }
  await renderStill(take, { ...recording, source }, time, { width, height }, out);
  return source;
}

/** Puts the picture of the frame that is being written in its place, whole. */
async function keepPicture(file: string, jpeg: Uint8Array) {
  try {
    await writeFile(`${file}.part`, jpeg);
    await rename(`${file}.part`, file);
    say({ picture: true });
  } catch {
    // Only a look at the work: on a full disk the work itself will tell.
  }
}

async function examineAll({ recordings, known }: Task & { kind: 'examine' }, signal: AbortSignal) {
  const marks = new Set(known);
  for (const [n, files] of recordings.entries()) {
    signal.throwIfAborted();
    say({ part: await examineOne(files, marks) });
    say({ progress: (n + 1) / recordings.length });
  }
  return { examined: recordings.length };
}

async function examineOne(files: string[], known: Set<string>): Promise<Examined> {
  let mark = '';
  try {
    mark = await markOf(files);
    if (known.has(mark)) return { files, mark, known: true };
    const names = files.map((f) => basename(f));
    return {
      files,
      mark,
      ...(await lookAtFiles(files, names, (facts) => recogniseRecording(files, facts.videoStreams))),
    };
  } catch (error) {
    if (error instanceof NoPairError) return { files, mark, pair: error.message };
    if (error instanceof MediaError) return { files, mark, problem: error.message };
    return { files, mark, problem: `${basename(files[0]!)} could not be looked at: ${(error as Error).message}.` };
  }
}
