/**
 * Where everything of ours lies: by its root and its path in it, so that whoever does the work looks for it on a disk of its
 * own. Nobody else knows in which folder what lies.
 */
import { isAbsolute, join, relative, sep } from 'node:path';
import type { Place, Root } from '@glimbo/cli/place';
import { config } from './config';

const at = (root: Root, path: string): Place => ({ root, path });

export const layout = {
  upload: (id: string) => at('uploads', id),
  /** What is known of an upload. */
  uploadAbout: (id: string) => at('uploads', `${id}.json`),
  original: (name: string) => at('originals', name),
  /** What was made of a footage when it was gathered. */
  gathered: (footage: string) => at('footage', footage),
  /** The same while it is made. */
  gathering: (footage: string) => at('footage', `${footage}.part`),
  proxy: (footage: string) => at('footage', `${footage}/proxy.mp4`),
  /** What moves in it: a folder. */
  moving: (footage: string) => at('footage', `${footage}/moving`),
  /** What was found in it: a document. */
  found: (footage: string) => at('footage', `${footage}/found.json`),
  activity: (footage: string) => at('footage', `${footage}/activity.png`),
  light: (footage: string) => at('footage', `${footage}/light.u8`),
  /** A motion analysis by its file's name. */
  motion: (file: string) => at('motions', file),
  /** A sidecar that was handed in. */
  sidecar: (footage: string) => at('motions', `${footage}.csv`),
  /** What a subject is in, or its picture, by its file's name. */
  subject: (file: string) => at('subjects', file),
  /** Where a subject that is being followed is, as far as that is known. */
  growingTrack: (job: string) => at('subjects', `${job}.part`),
  exported: (job: string, ending: string) => at('exports', `${job}.${ending}`),
  /** The picture of the frame that is being written. */
  exportPicture: (job: string) => at('exports', `${job}.now.jpg`),
  material: (file: string) => at('materials', file),
  takePicture: (file: string) => at('takes', file),
  still: (file: string) => at('stills', file),
  /** Something that lasts as long as a piece of work. */
  work: (name: string) => at('work', name),
  /** A file of somebody's own. */
  disk: (path: string) => at('disk', path),
  /** The whole folder of a root. */
  all: (root: Root) => at(root, ''),
};

/** The same place with an ending more. */
export const ended = ({ root, path }: Place, ending: string): Place => ({ root, path: path + ending });

/** The path of a place on this machine. */
export const onDisk = ({ root, path }: Place): string => (root === 'disk' ? path : join(config[root], path));

/** What lies at a path: an upload or original of ours, or somebody's own file. */
export function placeOf(path: string): Place {
  for (const root of ['originals', 'uploads'] as const) {
    const below = relative(config[root], path);
    if (below && !isAbsolute(below) && !below.startsWith('..') && !below.includes(sep)) return at(root, below);
  }
  return layout.disk(path);
}
