/** What is drawn at a moment, ready for the kernel: what a take's virtual camera sees, or the whole sphere. */
import { IDENTITY } from '@glimbo/core/geometry/rotation';
import { cameraOf } from '@glimbo/core/lens/view';
import { viewAt } from '@glimbo/core/path/path';
import type { Source } from '@glimbo/core/stitch/source';
import { cameraToSource, type Take } from '@glimbo/core/take/take';
import type { Shot } from '@glimbo/kernel';

/** The shot at a time (seconds of the footage) in a frame of width × height pixels; without a take the whole sphere as filmed. */
export function shotAt(take: Take | null, source: Source, time: number, width: number, height: number): Shot {
  if (!take) return { picture: { sphere: true, width, height }, toSource: IDENTITY, source, time };
  const picture = cameraOf(viewAt(take.path, time), width, height);
  return { picture, toSource: cameraToSource(take, picture.rotation), source, time };
}
