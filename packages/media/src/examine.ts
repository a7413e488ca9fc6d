/** Looking at a recording before it is taken in: its facts, what it shows, and what speaks against it. */
import { basename } from 'node:path';
import type { Source } from '@glimbo/core/stitch/source';
import { fingerprint } from './copy.js';
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
  const source = saidSource(first.facts) ?? (await recognise(first.facts));
  const { facts, doubts } = await readRecording({ files, source });
  const told = [...doubts];
  if (source.kind === 'one-lens' && /[-_ ][ab]$/i.test(names[0]!.replace(/\.[^.]+$/, '')))
    told.push({
      kind: 'one-lens',
      sentence: `${names[0]} comes from one lens of two, and the other lens's file is not here. Glimbo can take it as half a sphere.`,
    });
  return { facts, source, doubts: told.map((d) => ({ ...d, sentence: calledBy(d.sentence, files, names) })) };
}

/** A sentence with files called by the names that the user knows them by. */
export const calledBy = (sentence: string, files: string[], names: string[]) =>
  files.reduce((s, f, i) => s.replaceAll(basename(f), names[i] ?? basename(f)), sentence);
