/** Puts the patch's middle in a direction of the world. */
import { apply, transpose, type Vec3 } from '@glimbo/core/geometry/rotation';
import { lonLatOf } from '@glimbo/core/geometry/sphere';
import { withLook } from '@glimbo/core/edit/look';
import type { StudioStore } from '../state/store';

export function putPatch(store: StudioStore, direction: Vec3 | null) {
  const { take, correction, time, edit } = store.getState();
  const patch = take().look?.patch;
  if (!direction || !patch) return;
  const own = patch.to === 'rig' ? apply(transpose(correction().at(time)), direction) : direction;
  const { longitude, latitude } = lonLatOf(own);
  const rounded = (v: number) => Math.round(v * 10) / 10;
  edit((t) => withLook(t, { patch: { ...patch, pan: rounded(longitude), tilt: rounded(latitude) } }), 'place-patch');
}
