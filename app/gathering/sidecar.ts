/** The motion sidecar of a footage: handed in, or lying beside its original. */
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { config } from '~/base/config';
import type { Footage } from '~/model/footage';

/** Where a sidecar that was handed in is kept. */
export const handedIn = (footageId: string) => join(config.motions, `${footageId}.csv`);

/** The sidecar's file; null if there is none. `NAME.motion.csv` beside NAME.mp4 counts. */
export function sidecarOf({ id, file }: Pick<Footage, 'id' | 'file'>): string | null {
  const places = [handedIn(id), `${file.replace(/\.[^.]+$/, '')}.motion.csv`];
  return places.find((p) => existsSync(p)) ?? null;
}
