/** The subjects that a take follows, from their files. */
import { readFile } from 'node:fs/promises';
import { basename, resolve } from 'node:path';
import { DocumentError } from '@glimbo/core/boundary/document-error';
import { readSubject, type SubjectTrack } from '@glimbo/core/follow/subject';
import type { Take } from '@glimbo/core/take/take';
import { MediaError } from './ffmpeg.js';
import type { Recording } from './recording.js';

/** What is known of each subject by its name in the take. Throws MediaError with what is missing or broken. */
export async function tracksFor(
  { follows = [], lookouts }: Pick<Take, 'follows' | 'lookouts'>,
  { subjects = '.' }: Pick<Recording, 'subjects'>,
): Promise<(subject: string) => SubjectTrack | null> {
  const tracks = new Map<string, SubjectTrack>();
  const rules = [...follows, ...(lookouts?.views ?? []).flatMap((v) => v.follow ?? [])];
  for (const { subject } of rules)
    if (!tracks.has(subject)) tracks.set(subject, await trackIn(resolve(subjects, subject)));
  return (subject) => tracks.get(subject) ?? null;
}

async function trackIn(file: string): Promise<SubjectTrack> {
  const name = basename(file);
  const advice = 'Follow it once more, or take the Follow out.';
  const text = await readFile(file, 'utf8').catch(() => null);
  if (text === null) throw new MediaError(`The subject “${name}” that this take follows is missing. ${advice}`);
  try {
    return readSubject(JSON.parse(text));
  } catch (error) {
    const why = error instanceof DocumentError ? error.problem : 'it is not a JSON document';
    throw new MediaError(`The subject “${name}” that this take follows cannot be used: ${why}. ${advice}`);
  }
}
