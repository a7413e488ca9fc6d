/** What was found in a footage, as its document has it. */
import { readFile } from 'node:fs/promises';
import { readMoving, type Moving } from '@glimbo/core/moving/moving';

/** What was found; null where that is not there, or cannot be read. */
export const readFound = (file: string): Promise<Moving | null> =>
  readFile(file, 'utf8').then(
    (text) => readMoving(JSON.parse(text)),
    () => null,
  );
