import { rename, rm, writeFile } from 'node:fs/promises';

/**
 * Writes a text file whole or not at all: on a failure what was there stays, and nothing half written is left. Rejects
 * with the failure.
 */
export async function writeWhole(file: string, text: string): Promise<void> {
  const part = `${file}.part`;
  try {
    await writeFile(part, text);
    await rename(part, file);
  } catch (error) {
    await rm(part, { force: true });
    throw error;
  }
}
