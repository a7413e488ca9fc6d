/** New takes of footage that is in the Library. */
import { basename } from 'node:path';
import { numbered, unique } from '@glimbo/core/gather/names';
import { newTake, type Take } from '@glimbo/core/take/take';
import { findFootage } from '~/db/footage';
import { addTake, projectNamed, takeNames } from '~/db/takes';

/** Starts a new take of a footage; gives its id, or null when the footage is gone. */
export async function startTake(
  footageId: string,
  {
    name,
    madeBy,
    range,
    path,
    frame,
  }: { name?: string; madeBy?: string } & Partial<Pick<Take, 'range' | 'path' | 'frame'>> = {},
): Promise<string | null> {
  const footage = await findFootage(footageId);
  if (!footage) return null;
  const projectId = await projectNamed('First project');
  const document = newTake(basename(footage.file), footage.facts.duration);
  const taken = await takeNames(footageId);
  return addTake({
    projectId,
    footageId,
    madeBy,
    name: name ? unique(name, taken) : numbered(`${footage.name}, take`, taken),
    document: {
      ...document,
      range: range ?? document.range,
      path: path ?? document.path,
      frame: frame ?? document.frame,
    },
  });
}
