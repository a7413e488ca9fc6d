/** What truly happens in the demo's clips, and where its people and trains are. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { vec3, type Quaternion } from '@glimbo/core/geometry/rotation';
import type { Box } from '@glimbo/core/follow/box';
import { root } from './measure.js';

export interface Truth {
  rate: number;
  frames: { orientation: Quaternion }[];
  subjects: { name: string; looks: [frame: number, x: number, y: number, z: number, size: number, seen: number][] }[];
  events: { name: string; in: number; out: number; subject: string }[];
}

/** Frames in a row in which a subject must be seen where it is pointed out. */
const BEGINS = 18;
/** How much of a subject is seen where it counts as visible. */
export const VISIBLE = 0.7;

export const clipOf = (name: string) => join(root, `packages/demo/clips/${name}.mp4`);
export const truthOf = (name: string) =>
  JSON.parse(readFileSync(join(root, `packages/demo/clips/${name}.truth.json`), 'utf8')) as Truth;

/** In which frame a subject is pointed out, and its box there. */
export function pointedOut(truth: Truth, name: string): { start: number; box: Box } {
  const { looks } = truth.subjects.find((s) => s.name === name)!;
  const begins = looks.findIndex((_, i) => looks.slice(i, i + BEGINS / 3).every((l) => l[5] >= VISIBLE));
  const [start, x, y, z, size] = looks[begins]!;
  const upright = name.includes('child') || name.includes('visitor');
  return { start, box: { direction: vec3([x, y, z]), width: size * (upright ? 0.36 : 0.9), height: size * 0.9 } };
}

export const quantile = (list: readonly number[], q: number) =>
  [...list].sort((a, b) => a - b)[Math.floor(q * (list.length - 1))] ?? NaN;
