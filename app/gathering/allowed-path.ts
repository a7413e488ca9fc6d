/** Which paths of this machine may be read: those in the folders that the owner allowed. */
import { constants } from 'node:fs';
import { access, realpath } from 'node:fs/promises';
import { basename, sep } from 'node:path';
import { config } from '~/base/config';

/** A path as the user gave it, if it lies inside a folder that the owner allowed. */
export async function allowedPath(path: string): Promise<{ path: string } | { problem: string }> {
  const file = await realpath(path.trim()).catch(() => null);
  if (!file) return { problem: `${path.trim() || 'That path'} was not found on this machine. Nothing was added.` };
  const allowed = await Promise.all(config.folders.map((f) => realpath(f).catch(() => f)));
  if (!allowed.some((folder) => file === folder || file.startsWith(folder + sep))) {
    return {
      problem: `${basename(file)} lies outside the folders that Glimbo may read (${config.folders.join(', ')}). See Settings.`,
    };
  }
  if (
    await access(file, constants.R_OK).then(
      () => false,
      () => true,
    )
  )
    return { problem: `${basename(file)} may not be read. Change its permissions and try again.` };
  return { path: file };
}
