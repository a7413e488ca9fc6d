/** Calibrations kept by camera, so that one recording's serves the others from the same camera. */
import type { Lens } from '@glimbo/core/stitch/lens';
import type { MediaFacts } from '@glimbo/media/probe';
import { db } from './database';
import type { CameraCalibration } from '~/model/stitch';

/** What recordings of one camera have in common as far as files tell: size of the joined picture, codec and rate. */
export const cameraOfFacts = (f: Pick<MediaFacts, 'width' | 'height' | 'codec'>) => `${f.width}x${f.height} ${f.codec}`;

export async function findCalibration(camera: string): Promise<CameraCalibration | null> {
  const row = await db<{ camera: string; lenses: string; footage_name: string }>('calibrations')
    .where({ camera })
    .first();
  return row ? { lenses: JSON.parse(row.lenses) as [Lens, Lens], footageName: row.footage_name } : null;
}

export const keepCalibration = (camera: string, { lenses, footageName }: CameraCalibration) =>
  db('calibrations')
    .insert({ camera, lenses: JSON.stringify(lenses), footage_name: footageName, changed: Date.now() })
    .onConflict('camera')
    .merge();
