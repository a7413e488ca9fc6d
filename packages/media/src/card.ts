/** What lies on a camera card: recordings of one or two files, with their low-resolution companions. */
import { readdir, stat } from 'node:fs/promises';
import { extname, join } from 'node:path';
import { groupRecordings } from '@glimbo/core/gather/recordings';

export interface CardRecording {
  /** Name of the first file without its ending; tells recordings of one folder apart. */
  name: string;
  /** Files relative to the card's folder. */
  files: string[];
  /** A small copy for a quick look, if the camera wrote one. */
  companion: string | null;
  /** Bytes of all files that would be copied. */
  size: number;
  /** Milliseconds since 1970. */
  filmed: number;
  /** What speaks against it that can be told from the files' names and sizes alone. */
  problem: string | null;
}

const VIDEO = new Set(['.mp4', '.mov', '.mkv', '.webm', '.avi', '.mxf', '.m4v', '.mts']);
const DEEPEST = 4;

/** The video files of a folder and its subfolders, relative, in order of name. Hidden folders are left out. */
export async function listVideos(folder: string, below = '', depth = 0): Promise<string[]> {
  const entries = await readdir(join(folder, below), { withFileTypes: true });
  const found: string[] = [];
  for (const entry of entries.sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }))) {
    if (entry.name.startsWith('.')) continue;
    const path = below ? `${below}/${entry.name}` : entry.name;
    if (entry.isDirectory() && depth < DEEPEST) found.push(...(await listVideos(folder, path, depth + 1)));
    else if (entry.isFile() && VIDEO.has(extname(entry.name).toLowerCase())) found.push(path);
  }
  return found;
}

/** The recordings of a card's folder. Rejects when it cannot be read. */
export async function readCard(folder: string): Promise<CardRecording[]> {
  const grouped = groupRecordings(await listVideos(folder));
  return Promise.all(
    grouped.map(async (recording) => {
      const infos = await Promise.all(recording.files.map((f) => stat(join(folder, f))));
      const empty = infos.some((i) => i.size === 0) ? 'One of its files is empty (0 bytes).' : null;
      return {
        ...recording,
        size: infos.reduce((sum, i) => sum + i.size, 0),
        filmed: Math.min(...infos.map((i) => i.mtimeMs)),
        problem: recording.problem ?? empty,
      };
    }),
  );
}
