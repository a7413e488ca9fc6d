/** The data folder: whose it is, that one server alone works in it, and what is put by in it. */
import { closeSync, existsSync, mkdirSync, openSync, readdirSync, readSync, statSync } from 'node:fs';
import { mkdir, readdir, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { config, makeFolders } from '../base/config';
import { log } from '../base/log';
import { StartProblem } from './start-problem';

const LOCK = 'glimbo.lock';
const DATABASE = 'glimbo.sqlite';
/** By these a folder is known as one of Glimbo's. */
const SIGNS = [LOCK, DATABASE];
/** What lies in folders that people call empty. */
const isNothing = (name: string) => name.startsWith('.') || name === 'lost+found';

/** Takes the data folder for this server alone. Throws StartProblem, and has changed nothing then. Gives what lets go of it. */
export function takeDataFolder(): () => void {
  try {
    mkdirSync(config.data, { recursive: true });
    if (!statSync(config.data).isDirectory()) throw new StartProblem(`${config.data} is a file. Name a folder.`);
    const names = readdirSync(config.data).filter((name) => !isNothing(name));
    if (names.length && !names.some((name) => SIGNS.includes(name)))
      throw new StartProblem(
        `${config.data} has files in it and is no data folder of Glimbo's. Nothing was changed; name an empty or a new folder with --data.`,
      );
    const release = lock();
    checkDatabase();
    makeFolders();
    return release;
  } catch (error) {
    if (error instanceof StartProblem) throw error;
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'EEXIST' || code === 'ENOTDIR') throw new StartProblem(`${config.data} is a file. Name a folder.`);
    throw new StartProblem(`The data folder ${config.data} cannot be used: ${(error as Error).message}.`);
  }
}

/** With what every database of SQLite begins (its file format, section 1.3). */
const HEAD = 'SQLite format 3\0';

/** Refuses a file in the database's place that is none: opening it is tried for a minute before that is told. */
function checkDatabase() {
  const file = join(config.data, DATABASE);
  if (!existsSync(file) || statSync(file).size === 0) return;
  const head = Buffer.alloc(HEAD.length);
  const opened = openSync(file, 'r');
  readSync(opened, head, 0, head.length, 0);
  closeSync(opened);
  if (head.toString('latin1') !== HEAD)
    throw new StartProblem(
      `${file} is damaged, or no database. Nothing was changed; put a copy of it in its place, or move it away to begin anew.`,
    );
}

/** A lock that the system lets go of when this process ends, however it ends. */
function lock(): () => void {
  const held = new Database(join(config.data, LOCK), { timeout: 0 });
  try {
    held.exec('BEGIN EXCLUSIVE');
  } catch (error) {
    held.close();
    if (/^SQLITE_BUSY/.test((error as { code?: string }).code ?? ''))
      throw new StartProblem(
        `Another Glimbo works on the data folder ${config.data}. Use that one, end it, or name another folder with --data.`,
      );
    throw error;
  }
  return () => void held.close();
}

const today = new Date().toISOString().replace(/[:.]/g, '-');

/** Puts something that nobody here knows where it is in nobody's way, and nothing deletes it. */
export async function setAside(folder: string, name: string) {
  const place = join(config.setAside, today, folder);
  await mkdir(place, { recursive: true });
  await rename(join(config.data, folder, name), join(place, name));
  log.warn({ folder, name, place }, 'a file that belongs to nothing here was set aside');
}

/** What the ids of footage, takes and jobs look like. */
export const ID = '[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}';
/** Temporary things of ours, by the folder that they lie in. */
const TEMPORARY = {
  work: new RegExp(`^(ask-|material-)?${ID}$`),
  stills: /^[0-9a-f]{32}\.png(\.part)?$/,
};

/** Empties the folders for what is temporary; what was put there by somebody else is set aside. */
export async function clearTemporary() {
  for (const [folder, ours] of Object.entries(TEMPORARY))
    for (const name of await readdir(join(config.data, folder)))
      if (ours.test(name)) await rm(join(config.data, folder, name), { recursive: true, force: true });
      else await setAside(folder, name);
}
