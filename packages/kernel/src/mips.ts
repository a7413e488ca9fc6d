import { cosineAt } from '@glimbo/core/lens/projection';
import type { Camera } from '@glimbo/core/lens/view';
import type { SpherePicture } from './camera.js';

/**
 * Whether one pixel of the frame anywhere covers more than about one pixel of the source, so that mip levels
 * are needed. The footprint depends on the distance from the optical centre alone and changes one way with
 * it, so the centre and the farthest corner decide. `sourceWidth` is that of the whole sphere in source pixels.
 */
export function needsMips(camera: Camera | SpherePicture, sourceWidth: number): boolean {
  if ('sphere' in camera) return sourceWidth > 1.05 * camera.width;
  const farX = Math.max(camera.centreX, camera.width - camera.centreX) * camera.scale;
  const farY = Math.max(camera.centreY, camera.height - camera.centreY) * camera.scale;
  return [0, farX * farX + farY * farY].some((r2) => {
    const cos = cosineAt(r2, camera.bend);
    if (Number.isNaN(cos)) return true;
    const across = (camera.bend + cos) / (1 + camera.bend);
    const along = ((camera.bend + cos) * across) / Math.max(1 + camera.bend * cos, 1e-4);
    return (camera.scale * Math.max(across, along) * sourceWidth) / (2 * Math.PI) > 1.05;
  });
}
