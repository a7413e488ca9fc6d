/** Looking at a recording before it is taken in: its facts, what it shows, and what speaks against it. */
import { basename } from 'node:path';
import { withStereo, type Source, type Stereo } from '@glimbo/core/stitch/source';
import { fingerprint } from './copy.js';
import { output, SAFE_INPUT } from './ffmpeg.js';
import { probe, type Doubt, type MediaFacts } from './probe.js';
import { readRecording, saidSource } from './recording.js';

export interface Look {
  facts: MediaFacts;
  source: Source;
  doubts: Doubt[];
}

/** Marks a recording by its content, whatever it is called. */
export const markOf = (files: string[]) => fingerprint(files[0]!);

/**
 * Looks at a recording's files, which are called `names`. What they say of themselves goes first; else `recognise` looks
 * at their picture. Throws MediaError.
 */
export async function lookAtFiles(
  files: string[],
  names: string[],
  recognise: (facts: MediaFacts) => Promise<Source>,
): Promise<Look> {
  const first = await probe(files[0]!);
  const said = saidSource(first.facts);
  const seen = said ?? (await recognise(first.facts));
  const layout = said || seen.kind !== 'sphere' ? null : await stereoLayout(files[0]!, first.facts);
  const source = layout ? withStereo(seen, { layout, eye: 'first' }) : seen;
  const { facts, doubts } = await readRecording({ files, source });
  const told = [...doubts];
  if (layout)
    told.push({
      kind: 'stereo',
      sentence: `${names[0]} looks like a stereo recording, ${EYES[layout]}. Glimbo can take the first eye; that can be changed at the Stitch.`,
    });
  if (source.kind === 'one-lens' && /[-_ ][ab]$/i.test(names[0]!.replace(/\.[^.]+$/, '')))
    told.push({
      kind: 'one-lens',
      sentence: `${names[0]} comes from one lens of two, and the other lens's file is not here. Glimbo can take it as half a sphere.`,
    });
  return { facts, source, doubts: told.map((d) => ({ ...d, sentence: calledBy(d.sentence, files, names) })) };
}

const EYES = { 'over-under': 'one eye over the other', 'side-by-side': 'its eyes side by side' };

/** Side in pixels at which halves of a picture are compared, and from which likeness on they are two eyes of one scene. */
const COMPARED = 48;
const ALIKE = 0.85;

/** How two eyes lie in a picture that is square or four times as wide as high, if its halves show the same; else null. */
async function stereoLayout(file: string, { width, height, duration }: MediaFacts): Promise<Stereo['layout'] | null> {
  const near = (ratio: number) => Math.abs(width / height / ratio - 1) < 0.01;
  const layout = near(1) ? 'over-under' : near(4) ? 'side-by-side' : null;
  if (!layout) return null;
  const [w, h] = layout === 'over-under' ? [COMPARED, 2 * COMPARED] : [2 * COMPARED, COMPARED];
  const moment = ['-nostdin', '-ss', String(duration / 2), ...SAFE_INPUT, '-i', file, '-frames:v', '1'];
  const small = ['-vf', `scale=${w}:${h}:flags=area,format=gray`, '-f', 'rawvideo', '-'];
  const grey = await output('ffmpeg', ['-v', 'error', ...moment, ...small]);
  const [one, other]: [number[], number[]] = [[], []];
  for (const [i, value] of grey.entries()) {
    const first = layout === 'over-under' ? i < grey.length / 2 : i % w < w / 2;
    (first ? one : other).push(value);
  }
  return correlation(one, other) > ALIKE ? layout : null;
}

/** Pearson's correlation of two lists of the same length; 0 where one of them is even. */
function correlation(a: readonly number[], b: readonly number[]): number {
  const mean = (l: readonly number[]) => l.reduce((s, v) => s + v, 0) / l.length;
  const [ma, mb] = [mean(a), mean(b)];
  let [ab, aa, bb] = [0, 0, 0];
  for (let i = 0; i < a.length; i++) {
    const [x, y] = [a[i]! - ma, b[i]! - mb];
    ab += x * y;
    aa += x * x;
    bb += y * y;
  }
  return aa && bb ? ab / Math.sqrt(aa * bb) : 0;
}

/** A sentence with files called by the names that the user knows them by. */
export const calledBy = (sentence: string, files: string[], names: string[]) =>
  files.reduce((s, f, i) => s.replaceAll(basename(f), names[i] ?? basename(f)), sentence);
