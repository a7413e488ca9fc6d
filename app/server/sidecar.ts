/** The motion sidecar of a footage: handed in, or lying beside its original. */
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import type { Footage } from '~/db/footage';
import { config } from './config';

/** Not at all; in place of what the picture shows; or only where the picture was not to be trusted. */
export const SIDECAR_USES = ['no', 'replace', 'anchor'] as const;
export type SidecarUse = (typeof SIDECAR_USES)[number];

/** Where a sidecar that was handed in is kept. */
export const handedIn = (footageId: string) => join(config.motions, `${footageId}.csv`);

/** The sidecar's file; null if there is none. `NAME.motion.csv` beside NAME.mp4 counts. */
export function sidecarOf({ id, file }: Pick<Footage, 'id' | 'file'>): string | null {
  const places = [handedIn(id), `${file.replace(/\.[^.]+$/, '')}.motion.csv`];
  return places.find((p) => existsSync(p)) ?? null;
}
