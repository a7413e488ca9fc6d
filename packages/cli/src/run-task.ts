/** Doing the application's pieces of work, with the same functions as the command line. */
import { existsSync } from 'node:fs';
import { readFile, rename, stat, writeFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { DocumentError } from '@glimbo/core/boundary/document-error';
import { joinSidecar, readSidecar } from '@glimbo/core/motion/sidecar';
import { isSeen, readSubject, type SubjectTrack } from '@glimbo/core/follow/subject';
import { foundIn } from '@glimbo/core/moving/found';
import { recognisedAt } from '@glimbo/core/recognise/recognised';
import type { Source } from '@glimbo/core/stitch/source';
import { CardGoneError, copyChecked, needRoom } from '@glimbo/media/copy';
import { writeWhole } from '@glimbo/media/write-whole';
import { lookAtFiles, markOf } from '@glimbo/media/examine';
import { MediaError } from '@glimbo/media/ffmpeg';
import { shippedDetector } from '@glimbo/media/detector';
import { findSubjects } from '@glimbo/media/find-subjects';
import { readFound } from '@glimbo/media/found-file';
import { followBeside } from '@glimbo/media/follow-beside';
import { outlineOf } from '@glimbo/media/follow';
import { gather } from '@glimbo/media/gather';
import { movingIfKept } from '@glimbo/media/kept-moving';
import { analyseMotion } from '@glimbo/media/motion';
import { readMotion, writeMotion } from '@glimbo/media/motion-file';
import { measuredLight } from '@glimbo/media/light';
import { checkMaterial } from '@glimbo/media/materials';
import { writePortrait } from '@glimbo/media/portrait';
import { readRecording } from '@glimbo/media/recording';
import { exportClip } from '@glimbo/media/render/clip';
import { renderStill } from '@glimbo/media/render/still';
import { sketchFootage } from '@glimbo/media/sketch';
import { asLenses, calibrateOn, followMoment, NoPairError, recogniseRecording } from '@glimbo/media/stitch';
import { filesOnCard, type AnalysisReport, type Done, type Examined, type Report, type Task } from './task.js';

type Say = (report: Report) => void;

/** Does a task. `say` gets everything that it reports before its end. Rejects with MediaError where a user has to be told. */
export function runTask(task: Task, say: Say, signal: AbortSignal): Promise<Done> {
  switch (task.kind) {
    case 'gather':
      return gather(task.recording, task.facts, task.folder, {
        variableRate: task.variableRate,
        proxyWidth: task.proxyWidth,
        signal,
        progress: (progress) => say({ progress }),
        grown: task.growing ? (part) => say({ part }) : undefined,
      });
    case 'export':
      return exportClip(task.take, task.recording, task.out, task.settings, {
        signal,
        progress: (done, total) => say({ progress: done / total }),
        picture: (jpeg) => void keepPicture(task.picture, jpeg, say),
      });
    case 'motion':
      return analyse(task, say, signal);
    case 'find':
      return find(task, say, signal);
    case 'outline':
      return outline(task);
    case 'follow':
      return follow(task, say, signal);
    case 'copy':
      return copyRecordings(task, say, signal);
    case 'calibrate':
      return calibrateOn(task.recording, task.time);
    case 'still':
      return drawStill(task);
    case 'sketch':
      return sketchAll(task, say, signal);
    case 'light':
      return measuredLight(task.recording).then(({ samples }) => ({ samples }));
    case 'material':
      return checkMaterial(task.file, task.as).then(() => ({ material: true }));
    case 'recognise':
      return task.lenses ? asLenses(task.files) : recogniseRecording(task.files, task.streams);
    case 'examine':
      return examineAll(task, say, signal);
  }
}

async function analyse(
  { proxy, rate, frames, method, sidecar, out }: Task & { kind: 'motion' },
  say: Say,
  signal: AbortSignal,
): Promise<AnalysisReport> {
  const samples = sidecar && (await sidecarSamples(sidecar.file));
  const seen = await analyseMotion(
    proxy,
    { rate, frames },
    { method, signal, progress: (progress) => say({ progress }) },
  );
  const { motion, words } = samples
    ? await told('does not fit', 'Analyse without it. ', () => joinSidecar(seen, samples, sidecar.use))
    : { motion: seen, words: null };
  await writeMotion(out, motion);
  return { method: motion.method, sidecar: words };
}

async function find(
  { proxy, rate, frames, motion, moving, out }: Task & { kind: 'find' },
  say: Say,
  signal: AbortSignal,
): Promise<{ found: number }> {
  const found = await findSubjects(
    proxy,
    { rate, frames },
    {
      motion: motion ? await readMotion(motion) : null,
      folder: moving,
      detector: await shippedDetector(),
      progress: (progress) => say({ progress }),
      signal,
    },
  );
  await writeWhole(out, JSON.stringify(found));
  return { found: foundIn(found).length };
}

async function outline({ proxy, rate, frame, direction, motion, moving, found: file }: Task & { kind: 'outline' }) {
  const known = await movingIfKept(proxy, motion ? await readMotion(motion) : null, moving);
  const found = await readFound(file);
  return outlineOf(proxy, {
    rate,
    frame,
    direction,
    beside: (await known?.besideAt(frame)) ?? null,
    recognised: found && recognisedAt(found, frame, direction),
  });
}

async function follow(
  { proxy, rate, frames, order, around, motion, moving, found, out, part, picture }: Task & { kind: 'follow' },
  say: Say,
  signal: AbortSignal,
): Promise<{ seen: number }> {
  const known = around === null ? null : await knownTrack(out, frames);
  const keep = async (track: SubjectTrack, file: string) => {
    await writeFile(`${part}.new`, JSON.stringify(track));
    await rename(`${part}.new`, file);
  };
  // One at a time; what comes meanwhile is told with the next.
  let keeping: Promise<void> | null = null;
  const grown = (track: SubjectTrack) => {
    keeping ??= keep(track, part)
      .catch(() => undefined)
      .finally(() => (keeping = null));
  };
  let portrait: Uint8Array | null = null;
  const subject = await followBeside(proxy, { rate, frames }, order, {
    folder: moving,
    found: await readFound(found),
    motion: motion ? await readMotion(motion) : null,
    again: known && around !== null ? { known, frame: around } : null,
    signal,
    progress: (progress) => say({ progress }),
    grown,
    seen: (picture) => (portrait = picture),
  });
  await keeping;
  if (portrait) await writePortrait(portrait, picture);
  await keep(subject, out);
  return { seen: subject.looks.filter(isSeen).length };
}

/** A track that was made before; null where it is not there, or of another footage. */
async function knownTrack(file: string, frames: number): Promise<SubjectTrack | null> {
  try {
    const known = readSubject(JSON.parse(await readFile(file, 'utf8')));
    return known.looks.length === frames ? known : null;
  } catch {
    return null;
  }
}

const sidecarSamples = (file: string) =>
  told('cannot be read', '', async () => readSidecar(await readFile(file, 'utf8')));

/** What is wrong with a motion sidecar, as somebody is told it. */
async function told<T>(what: string, advice: string, read: () => T | Promise<T>): Promise<T> {
  try {
    return await read();
  } catch (error) {
    if (!(error instanceof DocumentError)) throw error;
    throw new MediaError(
      `The motion sidecar ${what}: ${error.problem}. ${advice}The earlier analysis, if there is one, was kept.`,
    );
  }
}

async function copyRecordings(
  { card, recordings, targets: places, folder }: Task & { kind: 'copy' },
  say: Say,
  signal: AbortSignal,
) {
  const plan = recordings.map((item, n) => ({ item, targets: places[n]! }));
  const sizes = await Promise.all(
    recordings.flatMap(filesOnCard).map((f) =>
      stat(join(card, f)).then(
        (s) => s.size,
        () => 0,
      ),
    ),
  );
  const missing = plan.flatMap(({ item, targets }) => filesOnCard(item).filter((_, i) => !existsSync(targets[i]!)));
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
        await copyChecked(join(card, filesOnCard(item)[i]!), target, {
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
    say({ part: { item, files: targets.slice(0, item.files.length) } });
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
async function keepPicture(file: string, jpeg: Uint8Array, say: Say) {
  try {
    await writeWhole(file, jpeg);
    say({ picture: true });
  } catch {
    // Only a look at the work: on a full disk the work itself will tell.
  }
}

async function sketchAll({ footage }: Task & { kind: 'sketch' }, say: Say, signal: AbortSignal) {
  let sketched = 0;
  for (const [n, { id, order }] of footage.entries()) {
    signal.throwIfAborted();
    try {
      say({ part: { id, sketch: await sketchFootage(order) } });
      sketched++;
    } catch (error) {
      say({ part: { id, problem: (error as Error).message } });
    }
    say({ progress: (n + 1) / footage.length });
  }
  return { sketched };
}

async function examineAll({ recordings, known }: Task & { kind: 'examine' }, say: Say, signal: AbortSignal) {
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
