/** Where the application keeps its data and how it listens: from the environment that the launcher sets. */
import { mkdirSync } from 'node:fs';
import { homedir } from 'node:os';
import { join, resolve } from 'node:path';

const root = process.env.GLIMBO_ROOT ?? process.cwd();
const data = resolve(process.env.GLIMBO_DATA ?? join(root, 'data'));

export const config = {
  root,
  data,
  host: process.env.GLIMBO_HOST ?? '127.0.0.1',
  port: Number(process.env.GLIMBO_PORT ?? 4360),
  passphrase: process.env.GLIMBO_PASSPHRASE ?? '',
  demo: process.env.GLIMBO_DEMO === '1',
  /** Folders whose files may be used in place, by path. */
  folders: (process.env.GLIMBO_FOLDERS ?? homedir())
    .split(':')
    .filter(Boolean)
    .map((f) => resolve(f)),
  /** Addresses of proxies that are believed, as Express takes them. */
  proxies: process.env.GLIMBO_PROXIES ?? 'loopback',
  /** Largest upload in bytes. */
  largestUpload: Number(process.env.GLIMBO_LARGEST_UPLOAD ?? 200e9),
  engine: join(root, 'build', 'engine'),
  uploads: join(data, 'uploads'),
  originals: join(data, 'originals'),
  footage: join(data, 'footage'),
  exports: join(data, 'exports'),
  /** Motion analyses and sidecars that were handed in. */
  motions: join(data, 'motions'),
  /** What is followed in footages, frame by frame. */
  subjects: join(data, 'subjects'),
  /** Files that takes name: LUTs and pictures, by their content. */
  materials: join(data, 'materials'),
  /** Small pictures of takes, made when the Library shows them. */
  takes: join(data, 'takes'),
  /** What lay in the data folder and belongs to nothing in it. Made when it is needed; nothing is deleted there. */
  setAside: join(data, 'set-aside'),
  /** The demo's simulated card, and pictures of what is on cards. */
  cards: join(data, 'cards'),
  /** Stills of whole spheres, made to look at; emptied at start. */
  stills: join(data, 'stills'),
  /** Temporary folders, one for each piece of work that runs; emptied at start. */
  work: join(data, 'work'),
};

/** Addresses that only this machine can reach. */
const LOCAL = new Set(['127.0.0.1', 'localhost', '::1', '[::1]']);
export const isLocal = (host: string) => LOCAL.has(host);

export function makeFolders() {
  for (const folder of [
    config.stills,
    config.work,
    config.uploads,
    config.originals,
    config.footage,
    config.exports,
    config.motions,
    config.subjects,
    config.materials,
    config.takes,
  ])
    mkdirSync(folder, { recursive: true });
}
