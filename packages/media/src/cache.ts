/** Where the command line keeps what was measured of files, so that it need not be measured again: in the user's cache. */
import { createHash } from 'node:crypto';
import { mkdir, realpath, stat } from 'node:fs/promises';
import { homedir } from 'node:os';
import { join } from 'node:path';

/**
 * The place for what is known of a file, by its path, size and time of change; null where there is none. `kind` names what is known.
 * It follows XDG_CACHE_HOME, as the XDG Base Directory Specification has it.
 */
export async function cachePlace(file: string, kind: string): Promise<string | null> {
  try {
    const path = await realpath(file);
    const { size, mtimeMs } = await stat(path);
    const key = createHash('sha256').update(`${path}\0${size}\0${mtimeMs}`).digest('hex').slice(0, 32);
    const folder = join(process.env.XDG_CACHE_HOME ?? join(homedir(), '.cache'), 'glimbo', kind);
    await mkdir(folder, { recursive: true });
    return join(folder, key);
  } catch {
    return null;
  }
}
