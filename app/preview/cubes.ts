/** LUTs that looks name, fetched and read once. */
import { readCube } from '@glimbo/core/look/cube';
import type { Cubes } from '@glimbo/core/look/treatment';

const fetched = new Map<string, Promise<Cubes>>();

/** The LUT of a file; empty where it cannot be had. */
export function cubesOf(file: string | undefined): Promise<Cubes> {
  if (!file) return Promise.resolve(new Map());
  let cubes = fetched.get(file);
  if (!cubes) fetched.set(file, (cubes = fetchCubes(file)));
  return cubes;
}

async function fetchCubes(file: string): Promise<Cubes> {
  try {
    const answer = await fetch(`/media/materials/${encodeURIComponent(file)}`);
    if (!answer.ok) throw new Error(answer.statusText);
    return new Map([[file, readCube(await answer.text())]]);
  } catch {
    // What is missing now may be there once it is asked for again.
    fetched.delete(file);
    return new Map();
  }
}
