/** What was found in a footage, as its document has it (docs/formats/moving.md). */
import { readFile } from 'node:fs/promises';
import { basename } from 'node:path';
import { readMoving, type Moving } from '@glimbo/core/moving/moving';
import { MediaError } from './ffmpeg.js';

const read = async (file: string): Promise<Moving> => readMoving(JSON.parse(await readFile(file, 'utf8')));

/** What was found; null where that is not there, or cannot be read. */
export const readFound = (file: string): Promise<Moving | null> => read(file).catch(() => null);

/** The same in a file that somebody names. Throws MediaError. */
export const namedFound = (file: string): Promise<Moving> =>
  read(file).catch(() => {
    throw new MediaError(`${basename(file)} is not what ./glimbo find wrote, or cannot be read. Nothing was followed.`);
  });
