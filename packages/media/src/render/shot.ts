/** What the virtual camera of a take sees at a moment, ready for the kernel. */
import { viewAt } from '@glimbo/core/path/path';
import { cameraToSource, type Take } from '@glimbo/core/take/take';
import { cameraOf } from '@glimbo/core/lens/view';
import type { Shot } from '@glimbo/kernel';

/** The shot of a take at a time (seconds) in a frame of width × height pixels. */
export function shotAt(take: Take, time: number, width: number, height: number): Shot {
  const camera = cameraOf(viewAt(take.path, time), width, height);
  return { camera, toSource: cameraToSource(take, camera.rotation) };
}
