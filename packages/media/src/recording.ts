/** A recording as it is read: one file or two, and what their picture shows. */
import { readFile } from 'node:fs/promises';
import { basename, dirname, resolve } from 'node:path';
import { frameAt } from '@glimbo/core/plan/still-plan';
import type { Source } from '@glimbo/core/stitch/source';
import { readSource } from '@glimbo/core/stitch/validate';
import { toBt709 } from './colour.js';
import { MediaError, output, SAFE_INPUT } from './ffmpeg.js';
import { probe, type Doubt, type MediaFacts } from './probe.js';

export interface Recording {
  /** The file, and the second lens's file where there is one. */
  files: string[];
  source: Source;
  /** The file with its motion analysis, if there is one. */
  motion?: string;
  /** The file with its light, if it was measured, and a sphere laid flat that it can be measured from. */
  light?: { file: string; sphere: string };
  /** The folder in which what takes name of files lies, such as LUTs. */
  materials?: string;
  /** The folder in which the subjects that takes follow lie. */
  subjects?: string;
  /** The recording of the other footage that a take's twin names. */
  twin?: Recording;
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

/** What a file's own metadata say that its picture shows; null where they say nothing. */
export function saidSource({
  spherical,
  stereo,
  part,
}: Pick<MediaFacts, 'spherical' | 'stereo' | 'part'>): Source | null {
  const eye = stereo ? { stereo: { layout: stereo, eye: 'first' as const } } : {};
  if (part) return { kind: 'part', ...part, ...eye };
  return spherical || stereo ? { kind: 'sphere', ...eye } : null;
}

/**
 * The recording of a file as the source document beside it (`FILE.source.json`), or another one that is named,
 * describes it; without one as the file itself says, or a whole sphere. Throws MediaError or SourceError.
 */
export async function openRecording(file: string, document?: string): Promise<Recording> {
  const beside = document ?? `${file}.source.json`;
  const text = await readFile(beside, 'utf8').catch((e: NodeJS.ErrnoException) => {
    if (e.code === 'ENOENT' && !document) return null;
    throw new MediaError(`${beside} could not be read.`);
  });
  if (text === null) return { files: [file], source: saidSource((await probe(file)).facts) ?? { kind: 'sphere' } };
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

/** What of a recording's facts its picture is read with. */
export type PictureFacts = Pick<MediaFacts, 'rate' | 'container' | 'colour' | 'begins'>;

/** Containers without an index: a place sought in them is met only roughly, so it is sought some seconds before. */
const ROUGH = new Set(['mpegts', 'mpeg']);
const BEFORE = 12;

/**
 * ffmpeg's inputs for a recording, and the beginning of a filter graph whose last filter gives its one picture, in BT.709
 * and video range (without a label, so that more can follow). The first picture is that of the footage's frame `from`, at
 * time 0; the first input is number `first`.
 */
export function pictureInput({ files, source }: Recording, facts: PictureFacts, from = 0, first = 0) {
  const begins = facts.begins ?? 0;
  // Somewhat before the frame, so that rounding never meets its neighbour; not half, since some containers count in frames.
  const at = from > 0 ? begins + (from - 0.4) / facts.rate : 0;
  const ahead = from > 0 && ROUGH.has(facts.container) ? Math.min(at, BEFORE) : 0;
  // Where nothing is sought, ffmpeg counts such a container's times from the first stream that is used, not from its start.
  const place = ahead > 0 ? Math.max(1e-4, at - ahead) : at;
  const seek = place > 0 ? ['-ss', place.toFixed(6)] : [];
  const inputs = files.flatMap((file) => [...seek, ...SAFE_INPUT, '-i', file]);
  const cut = ahead > 0 ? `trim=start=${ahead.toFixed(6)},` : '';
  const one = `[${first}:v:0]`;
  const rest = `${cut}setpts=PTS-STARTPTS,${toBt709(facts.colour)}`;
  if (source.join === 'files') return { inputs, chain: `${one}[${first + 1}:v:0]hstack=inputs=2,${rest}` };
  if (source.join === 'streams') return { inputs, chain: `${one}[${first}:v:1]hstack=inputs=2,${rest}` };
  if (source.stereo) {
    const { layout, eye } = source.stereo;
    const over = layout === 'over-under';
    const size = over ? 'iw:trunc(ih/4)*2' : 'trunc(iw/4)*2:ih';
    const corner = eye === 'first' ? '0:0' : over ? '0:ih/2' : 'iw/2:0';
    return { inputs, chain: `${one}crop=${size}:${corner},${rest}` };
  }
  return { inputs, chain: `${one}${rest}` };
}

/** Audio filter that begins with silence where the sound comes later than the picture. */
const FROM_ZERO = 'aresample=async=1:first_pts=0';

/** ffmpeg's audio filters for a file that is read from its start: the sound begins with the picture. */
export function soundOf({ begins = 0 }: PictureFacts): string {
  return begins > 0 ? `${soundCut(begins)},${FROM_ZERO}` : FROM_ZERO;
}

const soundCut = (seconds: number) => `atrim=start=${seconds.toFixed(6)},asetpts=PTS-${seconds.toFixed(6)}/TB`;

/** ffmpeg's input and audio filters for the sound of a file from a time of the footage on, for so many seconds. */
export function soundInput(file: string, facts: PictureFacts, from: number, seconds: number) {
  const at = (facts.begins ?? 0) + from;
  const ahead = ROUGH.has(facts.container) ? Math.min(at, BEFORE) : 0;
  const input = [
    '-ss',
    Math.max(ahead > 0 ? 1e-4 : 0, at - ahead).toFixed(6),
    '-t',
    (seconds + ahead).toFixed(6),
    ...SAFE_INPUT,
    '-i',
    file,
  ];
  return { input, filter: ahead > 0 ? `${soundCut(ahead)},${FROM_ZERO}` : FROM_ZERO };
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
  checkJoin(recording, facts);
  const size = joinedSize(recording.source, facts.width, facts.height);
  const shape = recording.source.kind === 'sphere' && Math.abs(size.width / size.height - 2) > 0.01;
  const kept = doubts
    .filter((d) => d.kind !== 'not-2:1' || shape)
    .map((d) => (d.kind === 'not-2:1' ? { ...d, sentence: shapeInWords(basename(file), recording.source, size) } : d));
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
    facts: {
      ...facts,
      ...size,
      frames,
      duration: frames / facts.rate,
      size: facts.size + other.size,
      bitRate: facts.bitRate + other.bitRate,
      sound: facts.sound ?? null,
    },
    doubts: kept,
  };
}

/** Throws MediaError where a source is joined of pictures that are not there. */
function checkJoin({ files, source }: Recording, { videoStreams }: MediaFacts) {
  const name = basename(files[0]!);
  if (source.join === 'files' && files.length < 2)
    throw new MediaError(
      `${name} is one file, but its source is said to be joined of two. Name the second, or choose another source.`,
    );
  if (source.join === 'streams' && videoStreams < 2)
    throw new MediaError(`${name} has one picture, but its source is said to be joined of two. Choose another source.`);
}

/** What is asked where a sphere's picture has another shape. */
function shapeInWords(name: string, { stereo }: Source, { width, height }: { width: number; height: number }): string {
  const all = stereo
    ? `${name} is stereo, ${stereo.layout === 'over-under' ? 'one eye over the other' : 'the eyes side by side'}: each eye`
    : name;
  const advice = 'If it shows the full sphere all the same, Glimbo can stretch it to 2:1.';
  return `${all} is ${width} × ${height}, not twice as wide as high. ${advice}`;
}

/**
 * Writes a recording's one picture at a time in seconds as it was filmed, before anything is stitched, as a PNG file.
 * Throws MediaError.
 */
export async function saveRaw(recording: Recording, facts: MediaFacts, time: number, out: string): Promise<void> {
  const { inputs, chain } = pictureInput(recording, facts, frameAt(facts, time));
  await output('ffmpeg', [
    '-v',
    'error',
    '-nostdin',
    '-y',
    ...inputs,
    '-filter_complex',
    `${chain}[v]`,
    '-map',
    '[v]',
    '-frames:v',
    '1',
    out,
  ]);
}
