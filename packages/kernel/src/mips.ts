/** When mip levels are needed. */
import { MIXED, SHRINK } from '@glimbo/core/lens/filter';
import { cosineAt } from '@glimbo/core/lens/projection';
import type { Picture } from '@glimbo/core/plan/shot';
import { TILE } from '../assembly/record.js';

/**
 * How many pixels of the source one of the frame may cover before the kernel mixes in the first mip level: a quarter of a
 * level past its SHRINK, less what lenses, the corners of its grid and its rough logarithm may add.
 */
const FINE = SHRINK * 2 ** MIXED * 0.85;

/**
 * Whether one pixel of the frame anywhere covers so many pixels of the source that mip levels are needed. The footprint
 * depends on the distance from the optical centre alone and changes one way with it, so the centre and the farthest corner
 * decide. `sourceWidth` is that of the whole sphere in source pixels.
 */
export function needsMips(camera: Picture, sourceWidth: number): boolean {
  if ('sphere' in camera) return sourceWidth > FINE * camera.width;
  if ('flat' in camera) return (camera.right - camera.left) * sourceWidth > FINE * camera.width;
  const farX = (Math.max(camera.centreX, camera.width - camera.centreX) + TILE) * camera.scale;
  const farY = (Math.max(camera.centreY, camera.height - camera.centreY) + TILE) * camera.scale;
  return [0, farX * farX + farY * farY].some((r2) => {
    const cos = cosineAt(r2, camera.bend);
    if (Number.isNaN(cos)) return true;
    const across = (camera.bend + cos) / (1 + camera.bend);
    const along = ((camera.bend + cos) * across) / Math.max(1 + camera.bend * cos, 1e-4);
    return (camera.scale * Math.max(across, along) * sourceWidth) / (2 * Math.PI) > FINE;
  });
}
