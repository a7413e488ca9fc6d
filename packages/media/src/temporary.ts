/**
 * Temporary folders. Each bears the number of the process that owns it, so that what a killed process left behind can
 * be told from what is in use and cleared away. They lie in `GLIMBO_WORK` (the application gives every job a folder of
 * its own in the data folder), else in the system's folder for temporary things.
 */
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const NAME = /^glimbo-(\d+)-/;
const open = new Set<string>();
process.on('exit', () => open.forEach((folder) => rmSync(folder, { recursive: true, force: true })));

const place = () => process.env.GLIMBO_WORK ?? tmpdir();

/** A new, empty temporary folder for a purpose (a word that goes into its name). It goes with the process at the latest. */
export function temporaryFolder(purpose: string): string {
  const folder = mkdtempSync(join(place(), `glimbo-${process.pid}-${purpose}-`));
  open.add(folder);
  return folder;
}

/** Removes a temporary folder with all that is in it. */
export function removeTemporary(folder: string) {
  rmSync(folder, { recursive: true, force: true });
  open.delete(folder);
}

/** Whether a process with that number runs. */
function lives(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}

/** Clears away the temporary folders of processes that are no more. Gives how many there were. */
export function clearAbandoned(folder = place()): number {
  const left = readdirSync(folder).filter((name) => {
    const pid = Number(NAME.exec(name)?.[1] ?? NaN);
    return Number.isFinite(pid) && !lives(pid);
  });
  for (const name of left) rmSync(join(folder, name), { recursive: true, force: true });
  return left.length;
}
