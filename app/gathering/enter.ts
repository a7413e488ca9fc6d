/** Entering a recording into the Library, wherever its files came from: looked at, recognised, and then gathered. */
import { basename } from 'node:path';
import type { Source } from '@glimbo/core/stitch/source';
import { calledBy, lookAtFiles, markOf, type Look } from '@glimbo/media/examine';
import { MediaError } from '@glimbo/media/ffmpeg';
import { placeOf } from '~/base/layout';
import { addFootage, findFootageByContent, remark } from '~/db/footage';
import type { GatherResult, PairChoice } from '~/model/gathering';
import { ask, PairQuestion } from '~/queue/ask';
import { queue } from '~/queue/queue';

export interface Wish {
  name: string;
  /** The user has seen the doubts and wants it all the same. */
  accepted: boolean;
  tags?: string[];
  pair?: PairChoice;
}

/** The name of a recording after its files: without ending, and without the lens's mark if there are two. */
export function stem(files: string[]): string {
  const name = basename(files[0]!).replace(/\.[^.]+$/, '');
  return files.length > 1 ? name.replace(/[-_ ][^-_ ]+$/, '') : name;
}

export type Ready = Look & { fingerprint: string };

/** The name under which content is in the Library, brought back if it was deleted; null if it is not there. */
export async function knownAs(mark: string): Promise<string | null> {
  const known = await findFootageByContent(mark);
  if (!known?.deleted) return known?.name ?? null;
  await remark(known.id, { deleted: null });
  return `${known.name}, which was deleted and is back now`;
}

/** Reads a recording's facts, recognises what it shows, and looks whether it is there already. */
export async function examine(
  files: string[],
  names: string[],
  { accepted, pair }: Wish,
): Promise<Exclude<GatherResult, { footageId: string }> | Ready> {
  const recognise = (videoStreams: number) =>
    ask<Source>({ kind: 'recognise', files: files.map(placeOf), streams: videoStreams, lenses: pair === 'lenses' });
  try {
    const fingerprint = await markOf(files);
    const known = await knownAs(fingerprint);
    if (known) return { known };
    const look = await lookAtFiles(files, names, (facts) => recognise(facts.videoStreams));
    return look.doubts.length && !accepted ? { doubts: look.doubts, name: names[0]! } : { ...look, fingerprint };
  } catch (error) {
    if (error instanceof PairQuestion) return { pair: calledBy(error.message, files, names), name: names.join(', ') };
    if (error instanceof MediaError) return { problem: `${calledBy(error.message, files, names)} Nothing was added.` };
    throw error;
  }
}

/** Enters it, and no more. */
export const add = (files: string[], wish: Wish, inPlace: boolean, { facts, source, doubts, fingerprint }: Ready) =>
  addFootage({
    facts,
    source,
    fingerprint,
    variableRate: doubts.some((d) => d.kind === 'variable-rate'),
    name: wish.name,
    file: files[0]!,
    secondFile: files[1] ?? null,
    inPlace,
    tags: wish.tags,
  });

/** Enters a recording whose files are in their place, and has its proxy made. */
export async function enter(files: string[], wish: Wish, inPlace: boolean, found: Ready): Promise<GatherResult> {
  const footageId = await add(files, wish, inPlace, found);
  await haveGathered(footageId);
  return { footageId, name: wish.name };
}

/** Has a footage's proxy made. */
export const haveGathered = (footageId: string) => queue().add({ kind: 'gather', params: {}, footageId, takeId: null });
