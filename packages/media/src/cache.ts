/** Where the command line keeps what was measured of files, so that it need not be measured again: in the user's cache. */
import { createHash } from 'node:crypto';
import { mkdir, readdir, realpath, rm, stat, utimes } from 'node:fs/promises';
import { homedir } from 'node:os';
import { join } from 'node:path';

/** Files of whom something of a kind is kept at most: those that were asked for last. */
const KEPT = 24;

/**
 * The place for what is known of a file, by its path, size and time of change; null where there is none. `kind` names what is known.
 * It follows XDG_CACHE_HOME, as the XDG Base Directory Specification has it. What was kept of files that nobody asked for lately is
 * removed.
 */
export async function cachePlace(file: string, kind: string): Promise<string | null> {
  try {
    const path = await realpath(file);
    const { size, mtimeMs } = await stat(path);
    const key = createHash('sha256').update(`${path}\0${size}\0${mtimeMs}`).digest('hex').slice(0, 32);
    const folder = join(process.env.XDG_CACHE_HOME ?? join(homedir(), '.cache'), 'glimbo', kind);
    await mkdir(folder, { recursive: true });
    await forgetOldest(folder, key);
    return join(folder, key);
  } catch {
    return null;
  }
}

/** Marks what is asked for as used now, and removes what was used longest ago where there is more than is kept. */
async function forgetOldest(folder: string, key: string): Promise<void> {
  const now = new Date();
  await utimes(join(folder, key), now, now).catch(() => undefined);
  const others = (await readdir(folder)).filter((name) => name !== key);
  if (others.length < KEPT) return;
  const used = await Promise.all(
    others.map(async (name) => ({ name, at: (await stat(join(folder, name)).catch(() => null))?.mtimeMs ?? 0 })),
  );
  used.sort((a, b) => b.at - a.at);
  for (const { name } of used.slice(KEPT - 1)) await rm(join(folder, name), { recursive: true, force: true });
}
