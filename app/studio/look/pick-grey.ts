/** Makes what is seen in a direction of the world grey, by temperature and tint. */
import { toast } from 'sonner';
import { apply, transpose, type Vec3 } from '@glimbo/core/geometry/rotation';
import { DIALS } from '@glimbo/core/look/settings';
import { neutralFor } from '@glimbo/core/look/neutral';
import { colourAt } from '~/preview/small-frame';
import type { Picture } from '../picture/picture';
import type { StudioStore } from '../state/store';

export function makeGrey(store: StudioStore, picture: Picture, direction: Vec3 | null) {
  const { correction, time, gradeDial, pickGrey } = store.getState();
  pickGrey(false);
  const shown = picture.present;
  const colour = shown && direction && colourAt(shown, apply(transpose(correction().at(time)), direction));
  if (!colour) return void toast.error('There is no colour to be read there. Nothing was changed.');
  const { temperature, tint } = neutralFor(colour);
  // One step of undo for both.
  gradeDial('temperature', Math.round(temperature * 10) / 10, 'grey');
  gradeDial('tint', Math.round(tint * 10) / 10, 'grey');
  if (Math.abs(temperature) === DIALS.temperature.most || Math.abs(tint) === DIALS.tint.most)
    toast('That has more colour than the dials can take out: it is as near to grey as they reach.');
}
