/** The subjects that a take follows, from their files. */
import { readFile, stat } from 'node:fs/promises';
import { basename, relative, resolve, isAbsolute } from 'node:path';
import { DocumentError } from '@glimbo/core/boundary/document-error';
import { readSubject, type SubjectTrack } from '@glimbo/core/follow/subject';
import type { Take } from '@glimbo/core/take/take';
import { MediaError } from './ffmpeg.js';
import type { Recording } from './recording.js';

/**
 * What is known of each subject by its name in the take: a file in the folder of subjects, or in one below it. Throws
 * MediaError with what is missing or broken.
 */
export async function tracksFor(
  { follows = [], lookouts }: Pick<Take, 'follows' | 'lookouts'>,
  { subjects = '.' }: Pick<Recording, 'subjects'>,
): Promise<(subject: string) => SubjectTrack | null> {
  const tracks = new Map<string, SubjectTrack>();
  const rules = [...follows, ...(lookouts?.views ?? []).flatMap((v) => v.follow ?? [])];
  for (const { subject } of rules) if (!tracks.has(subject)) tracks.set(subject, await trackIn(subjects, subject));
  return (subject) => tracks.get(subject) ?? null;
}

/** A take says no more of what lies elsewhere on this machine than that it is not looked at. */
function within(folder: string, name: string): string {
  const file = resolve(folder, name);
  const inside = relative(resolve(folder), file);
  if (inside.startsWith('..') || isAbsolute(inside) || isAbsolute(name))
    throw new MediaError(
      `The take follows “${basename(name)}” from outside the folder of its subjects. Put the file there and name it by itself.`,
    );
  return file;
}

async function trackIn(folder: string, subject: string): Promise<SubjectTrack> {
  const file = within(folder, subject);
  const name = basename(file);
  const advice = 'Follow it once more, or take the Follow out.';
  // A pipe or a device would be waited for without end.
  const regular = await stat(file).then(
    (found) => found.isFile(),
    () => false,
  );
  const text = regular ? await readFile(file, 'utf8').catch(() => null) : null;
  if (text === null) throw new MediaError(`The subject “${name}” that this take follows is missing. ${advice}`);
  try {
    return readSubject(JSON.parse(text));
  } catch (error) {
    const why = error instanceof DocumentError ? error.problem : 'it is not a JSON document';
    throw new MediaError(`The subject “${name}” that this take follows cannot be used: ${why}. ${advice}`);
  }
}
