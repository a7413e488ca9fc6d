/**
 * Camera cards: folders with recordings. The demo has a simulated one in its data folder that can be put in and
 * taken out; any folder that the owner allowed can be read as a card too.
 */
import { createHash, randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, realpath, rename, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { readCard, type CardRecording } from '@glimbo/media/card';
import { fingerprint } from '@glimbo/media/copy';
import { MediaError, output } from '@glimbo/media/ffmpeg';
import { probe } from '@glimbo/media/probe';
import { pictureInput, readRecording } from '@glimbo/media/recording';
import { writeWhole } from '@glimbo/media/write-whole';
import { findFootageByContent } from '~/db/footage';
import { queue } from '~/queue/queue';
import { config } from '~/base/config';
import { allowedPath } from './allowed-path';
import { stem } from './enter';
import type { CardLook, CardState } from '~/model/card';

const drawer = config.cards;
/** Where the demo's card is while it is inserted, and while it is not. */
const DEMO = { inserted: join(drawer, 'HALT'), out: join(drawer, 'HALT.out') };
const looks = join(drawer, 'looks');

export const demoCard = DEMO;

/** The card that is in, or the one at a path the user gave. */
export async function cardState(path: string | null): Promise<CardState> {
  const demo = existsSync(DEMO.inserted) ? 'inserted' : existsSync(DEMO.out) ? 'ejected' : null;
  const asked = path ? await allowedPath(path) : null;
  if (asked && 'problem' in asked) return { demo, folder: null, recordings: [], problem: asked.problem };
  const folder = asked ? asked.path : demo === 'inserted' ? DEMO.inserted : null;
  if (!folder) return { demo, folder: null, recordings: [], problem: null };
  try {
    return { demo, folder, recordings: await readCard(folder), problem: null };
  } catch {
    return { demo, folder: null, recordings: [], problem: 'The card could not be read. Insert it again.' };
  }
}

export async function insertCard() {
  if (existsSync(DEMO.out)) await rename(DEMO.out, DEMO.inserted);
}

export async function ejectCard() {
  if (existsSync(DEMO.inserted)) await rename(DEMO.inserted, DEMO.out);
}

/** Whether a folder may be read as a card. */
async function isCard(folder: string): Promise<boolean> {
  const real = await realpath(folder).catch(() => null);
  if (real && real === (await realpath(DEMO.inserted).catch(() => null))) return true;
  return 'path' in (await allowedPath(folder));
}

/** Looks at one recording on a card without copying it: its facts, what is wrong with it, and a picture from it. */
export async function lookAt(folder: string, name: string): Promise<CardLook> {
  const nothing: CardLook = {
    duration: null,
    width: 0,
    height: 0,
    lenses: 1,
    known: null,
    problem: null,
    picture: null,
  };
  if (!(await isCard(folder))) return { ...nothing, problem: 'The card is not inserted.' };
  const recording = (await readCard(folder).catch(() => [])).find((r) => r.name === name);
  if (!recording) return { ...nothing, problem: 'The card is not inserted.' };
  const files = recording.files.map((f) => join(folder, f));
  const look = { ...nothing, lenses: files.length, picture: await pictureOf(folder, recording) };
  try {
    const known = await findFootageByContent(await fingerprint(files[0]!));
    const source = files.length > 1 ? ({ kind: 'sphere', join: 'files' } as const) : ({ kind: 'sphere' } as const);
    const { facts } = await readRecording({ files, source });
    const { duration, width, height } = facts;
    return {
      ...look,
      duration,
      width,
      height,
      known: known && !known.deleted ? known.name : null,
      problem: recording.problem,
    };
  } catch (error) {
    if (!(error instanceof MediaError)) throw error;
    return { ...look, problem: error.message };
  }
}

/** A small picture from a recording's companion, or from the recording itself; null if none can be read. */
async function pictureOf(folder: string, recording: CardRecording): Promise<string | null> {
  const files = (recording.companion ? [recording.companion] : recording.files).map((f) => join(folder, f));
  const [file] = files as [string];
  try {
    const { size, mtimeMs } = await stat(file);
    const name = `${createHash('sha256').update(`${file} ${size} ${mtimeMs}`).digest('hex').slice(0, 32)}.jpg`;
    const out = join(looks, name);
    await mkdir(looks, { recursive: true });
    const source = files.length > 1 ? ({ kind: 'sphere', join: 'files' } as const) : ({ kind: 'sphere' } as const);
    const { facts } = await probe(file);
    // The first second often shows a hand at the camera; a recording that ends before it shows its beginning.
    for (const frame of [Math.min(Math.round(facts.rate), facts.frames - 1), 0]) {
      if (existsSync(out)) break;
      const { inputs, chain } = pictureInput({ files, source }, facts, frame);
      const jpeg = await output('ffmpeg', [
        ...['-v', 'error', '-nostdin', ...inputs, '-filter_complex', `${chain},scale=512:-2[v]`, '-map', '[v]'],
        ...['-frames:v', '1', '-q:v', '4', '-f', 'mjpeg', '-'],
      ]);
      // Whole or not at all: a picture that a kill broke off would be shown ever after.
      if (jpeg.length) await writeWhole(out, jpeg);
    }
    return existsSync(out) ? name : null;
  } catch {
    return null;
  }
}

/** Starts copying recordings of a card into the Library, named with a prefix. Gives a sentence if that cannot be. */
export async function copyFromCard(
  folder: string,
  names: string[],
  prefix: string,
  tags: string[],
): Promise<string | null> {
  if (!(await isCard(folder))) return 'The card is not inserted. Insert it and copy again.';
  const chosen = (await readCard(folder).catch(() => [])).filter((r) => names.includes(r.name));
  if (!chosen.length) return 'Nothing was chosen that is on the card.';
  const recordings = chosen.map((r) => ({
    id: randomUUID(),
    name: prefix + stem(r.files),
    files: r.files,
    companion: r.companion,
  }));
  await queue().add({ kind: 'copy', params: { card: folder, recordings, tags }, footageId: null, takeId: null });
  return null;
}
