/** Putting the horizon straight: from an up-direction in the corrected picture to a level key. */
import { apply, multiply, transpose, type Vec3 } from '@glimbo/core/geometry/rotation';
import { removeLevel, setLevel, type LevelKey } from '@glimbo/core/level/level';
import type { StudioStore } from '../state/store';

/** Sets a level key at the playhead: `up` as the steadied picture has it. */
export function setLevelHere(store: StudioStore, up: Vec3, gesture?: string) {
  const { take, time, correct } = store.getState();
  correct({ level: { keys: setLevel(take().level?.keys ?? [], time, up) } }, gesture);
}

/** Sets a level key at the playhead, so that a direction of the corrected picture becomes up. */
export function levelToWorld(store: StudioStore, up: Vec3) {
  const { correction, time } = store.getState();
  const c = correction();
  setLevelHere(store, apply(multiply(c.steadied(time), transpose(c.at(time))), up));
}

export function removeLevelAt(store: StudioStore, time: number) {
  const { take, correct } = store.getState();
  correct({ level: { keys: removeLevel(take().level?.keys ?? [], time) } });
}

/**
 * Moves one of some level keys in time; what it puts straight is the same direction of the steadied picture. One that
 * is there is overwritten: during a drag `keys` are those at its start, so that only the last place counts.
 */
export function moveLevel(store: StudioStore, keys: readonly LevelKey[], from: number, to: number, gesture?: string) {
  const key = keys.find((k) => Math.abs(k.time - from) < 1e-6);
  if (key) store.getState().correct({ level: { keys: setLevel(removeLevel(keys, from), to, key.up) } }, gesture);
}
