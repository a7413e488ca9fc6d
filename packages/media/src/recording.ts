/** A recording as it is read: one file or two, and what their picture shows. */
import { readFile } from 'node:fs/promises';
import { basename, dirname, resolve } from 'node:path';
import type { Source } from '@glimbo/core/stitch/source';
import { readSource } from '@glimbo/core/stitch/validate';
import { MediaError, output, SAFE_INPUT } from './ffmpeg.js';
import { probe, type Doubt, type MediaFacts } from './probe.js';

export interface Recording {
  /** The file, and the second lens's file where there is one. */
  files: string[];
  source: Source;
  /** The file with its motion analysis, if there is one. */
  motion?: string;
}

export const wholeSphere = (file: string): Recording => ({ files: [file], source: { kind: 'sphere' } });

/** A source as a file of its own (docs/formats/source.md). */
export interface SourceFile {
  format: 'glimbo-source';
  version: 1;
  /** The second lens's file, relative to this document. */
  second?: string;
  source: Source;
}

/**
 * The recording of a file as the source document beside it (`FILE.source.json`), or another one that is named,
 * describes it; without one a whole sphere. Throws MediaError or SourceError.
 */
export async function openRecording(file: string, document?: string): Promise<Recording> {
  const beside = document ?? `${file}.source.json`;
  const text = await readFile(beside, 'utf8').catch((e: NodeJS.ErrnoException) => {
    if (e.code === 'ENOENT' && !document) return null;
    throw new MediaError(`${beside} could not be read.`);
  });
  if (text === null) return wholeSphere(file);
  let plain: Partial<SourceFile>;
  try {
    plain = JSON.parse(text) as Partial<SourceFile>;
  } catch {
    throw new MediaError(`${beside} is not a JSON document.`);
  }
  if (plain.format !== 'glimbo-source' || plain.version !== 1)
    throw new MediaError(`${beside} is not a source document of Glimbo's, version 1.`);
  const second = plain.second ? [resolve(dirname(beside), plain.second)] : [];
  return { files: [file, ...second], source: readSource(plain.source) };
}

/**
 * ffmpeg's inputs for a recording, and the beginning of a filter graph whose last filter gives its one picture
 * (without a label, so that more can follow). `seek` goes before each input; the first input is number `first`.
 */
export function pictureInput({ files, source }: Recording, seek: string[] = [], first = 0) {
  const inputs = files.flatMap((file) => [...seek, ...SAFE_INPUT, '-i', file]);
  const one = `[${first}:v:0]`;
  if (source.join === 'files') return { inputs, chain: `${one}[${first + 1}:v:0]hstack=inputs=2` };
  if (source.join === 'streams') return { inputs, chain: `${one}[${first}:v:1]hstack=inputs=2` };
  if (source.stereo) {
    const { layout, eye } = source.stereo;
    const over = layout === 'over-under';
    const size = over ? 'iw:trunc(ih/4)*2' : 'trunc(iw/4)*2:ih';
    const at = eye === 'first' ? '0:0' : over ? '0:ih/2' : 'iw/2:0';
    return { inputs, chain: `${one}crop=${size}:${at}` };
  }
  return { inputs, chain: `${one}null` };
}

/** Size of the one picture of a recording whose first file's picture is width × height. */
export function joinedSize({ join, stereo }: Source, width: number, height: number) {
  if (join) return { width: width * 2, height };
  if (stereo?.layout === 'over-under') return { width, height: Math.floor(height / 4) * 2 };
  if (stereo) return { width: Math.floor(width / 4) * 2, height };
  return { width, height };
}

/** The facts and doubts of a whole recording. Throws MediaError when its files do not belong together. */
export async function readRecording(recording: Recording): Promise<{ facts: MediaFacts; doubts: Doubt[] }> {
  const [file, second] = recording.files as [string, string | undefined];
  const { facts, doubts } = await probe(file);
  const size = joinedSize(recording.source, facts.width, facts.height);
  const kept = doubts.filter((d) => d.kind !== 'not-2:1' || recording.source.kind === 'sphere');
  if (!second) return { facts: { ...facts, ...size }, doubts: kept };
  const other = (await probe(second)).facts;
  if (other.width !== facts.width || other.height !== facts.height || Math.abs(other.rate - facts.rate) > 0.01)
    throw new MediaError(
      `${basename(file)} and ${basename(second)} do not belong together: their pictures differ in size or frame rate.`,
    );
  const frames = Math.min(facts.frames, other.frames);
  if (Math.abs(other.frames - facts.frames) > facts.rate / 2)
    throw new MediaError(
      `${basename(file)} lasts ${facts.duration.toFixed(1)} s and ${basename(second)} ${other.duration.toFixed(1)} s: one of them is cut short. Copy both from the card again.`,
    );
  return {
    facts: { ...facts, ...size, frames, duration: frames / facts.rate, size: facts.size + other.size, bitRate: facts.bitRate + other.bitRate, sound: facts.sound ?? null }, // prettier-ignore
    doubts: kept,
  };
}

/** Writes a recording's one picture at a time in seconds as it was filmed, before anything is stitched, as a PNG file. Throws MediaError. */
export async function saveRaw(recording: Recording, time: number, out: string): Promise<void> {
  const { inputs, chain } = pictureInput(recording, time > 0 ? ['-ss', time.toFixed(6)] : []);
  await output('ffmpeg', ['-v', 'error', '-nostdin', '-y', ...inputs, '-filter_complex', `${chain}[v]`, '-map', '[v]', '-frames:v', '1', out]); // prettier-ignore
}
