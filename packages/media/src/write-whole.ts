import { rename, rm, writeFile } from 'node:fs/promises';

/**
 * Writes a file whole or not at all: on a failure what was there stays, and nothing half written is left. Rejects
 * with the failure.
 */
export async function writeWhole(file: string, content: string | Uint8Array): Promise<void> {
  const part = `${file}.part`;
  try {
    await writeFile(part, content);
    await rename(part, file);
  } catch (error) {
    await rm(part, { force: true });
    throw error;
  }
}
