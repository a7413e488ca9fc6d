/** Making a direction "ahead". Only the heading is taken: the horizon stays where it is. */
import type { Vec3 } from '@glimbo/core/geometry/rotation';
import { sightOf } from '@glimbo/core/view/view-of';
import { centreOn } from '@glimbo/core/edit/framing';
import type { StudioStore } from '../state/store';

function centre(store: StudioStore, direction: Vec3) {
  const { take, correct } = store.getState();
  const { orientation } = take();
  correct({
    orientation: {
      ...orientation,
      centre: { pan: centreOn(take(), direction).pan, tilt: orientation?.centre?.tilt ?? 0 },
    },
  });
}

/** What the Frame looks at becomes ahead. */
export const centreHere = (store: StudioStore) => centre(store, sightOf(store.getState().view()));

/** What is under the pointer becomes ahead; without one, what the Frame looks at. */
export function centrePointed(store: StudioStore) {
  const direction = store.getState().pointed();
  if (direction) centre(store, direction);
  else centreHere(store);
}
