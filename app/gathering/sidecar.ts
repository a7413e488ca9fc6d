/** The motion sidecar of a footage: handed in, or lying beside its original. */
import { existsSync } from 'node:fs';
import type { Place } from '@glimbo/cli/place';
import { layout, onDisk, placeOf } from '~/base/layout';
import type { Footage } from '~/model/footage';

/** Where the sidecar is; null if there is none. `NAME.motion.csv` beside NAME.mp4 counts. */
export function sidecarOf({ id, file }: Pick<Footage, 'id' | 'file'>): Place | null {
  const places = [layout.sidecar(id), placeOf(`${file.replace(/\.[^.]+$/, '')}.motion.csv`)];
  return places.find((p) => existsSync(onDisk(p))) ?? null;
}
