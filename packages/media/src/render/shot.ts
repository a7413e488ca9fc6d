/** What is drawn at a moment, ready for the kernel: what a take's virtual camera sees, or the whole sphere. */
import { multiply, transpose, type Matrix3 } from '@glimbo/core/geometry/rotation';
import { cameraOf } from '@glimbo/core/lens/view';
import { viewAt } from '@glimbo/core/path/path';
import type { Source } from '@glimbo/core/stitch/source';
import type { Take } from '@glimbo/core/take/take';
import type { Shot } from '@glimbo/kernel';

/**
 * The shot at a time (seconds of the footage) in a frame of width × height pixels, with the correction C there; without
 * a take the whole corrected sphere.
 */
export function shotAt(
  take: Take | null,
  correction: Matrix3,
  source: Source,
  time: number,
  width: number,
  height: number,
): Shot {
  const back = transpose(correction);
  if (!take) return { picture: { sphere: true, width, height }, toSource: back, source, time };
  const picture = cameraOf(viewAt(take.path, time), width, height);
  return { picture, toSource: multiply(back, picture.rotation), source, time };
}
