/** What is dragged along time catches on what lies near. */
import type { StudioStore } from '../state/store';

/** What anything that is dragged catches on within a reach in seconds: marks, in and out, and beats where there is room between them. */
export function momentsNear(store: StudioStore, reach: number): number[] {
  const { footage, take, beats } = store.getState();
  const { range } = take();
  const apart = beats.filter((t, i) => i === 0 || t - beats[i - 1]! > 1.2 * reach);
  const struck = apart.length > beats.length / 2 ? beats : [];
  return [...footage.marks.map((m) => m.time), range.in, range.out, ...struck];
}
