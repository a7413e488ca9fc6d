/** Putting a move at the playhead on what is framed. */
import { clippingOfMove, type Move } from '@glimbo/core/moves/moves';
import { putHere } from './path-edits';
import type { StudioStore } from '../state/store';

export function placeMove(store: StudioStore, move: Move, values: Readonly<Record<string, number>>) {
  putHere(store, clippingOfMove(move, store.getState().view(), values));
}
