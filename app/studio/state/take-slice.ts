/** The take and its history: every change of it goes through `edit`, and one gesture is one undo step. */
import { amend, commit, present, redo, undo, type History } from '@glimbo/core/document/history';
import { curvesOf, withCurves } from '@glimbo/core/edit/curves';
import { carriedAlong, changeCorrection } from '@glimbo/core/edit/framing';
import type { Take } from '@glimbo/core/take/take';
import { isPressed } from './pressing';
import type { Slice, TakeSlice } from './state';

/** Changes of one dial that follow each other within this many milliseconds, or while it is dragged, are one undo step. */
const GESTURE_GAP = 900;

/** Whether two documents say the same; what they share is not looked into, so that a drag costs little however long the path. */
function sameMembers(a: object, b: object, deeper = true): boolean {
  if (a === b) return true;
  const [one, other] = [a, b] as [Record<string, unknown>, Record<string, unknown>];
  return [...new Set([...Object.keys(a), ...Object.keys(b)])].every((name) => {
    const [x, y] = [one[name], other[name]];
    if (x === y) return true;
    if (deeper && name === 'path') return sameMembers(x as object, y as object, false);
    return JSON.stringify(x) === JSON.stringify(y);
  });
}

export const takeSlice =
  (history: History<Take>): Slice<TakeSlice> =>
  (set, get) => ({
    history,
    gesture: null,
    keepFraming: true,
    paceKeepsTiming: false,

    take: () => present(get().history),
    correct(change, key) {
      const { correction, keepFraming, time: now, edit } = get();
      edit((take) => changeCorrection(take, change, (t) => correction(t), { keepFraming, now }), key);
    },
    editCurves(change, key, from) {
      const { correction, keepFraming, time: now, edit } = get();
      edit((take) => {
        const before = from ?? take;
        const after = withCurves(before, change(curvesOf(before)));
        return carriedAlong(before, after, (t) => correction(t), { keepFraming, now });
      }, key);
    },
    edit(change, key) {
      const { history: before, gesture, triedOver } = get();
      const next = change(present(before));
      // A change that changes nothing is no undo step.
      if (sameMembers(next, present(before))) return;
      // What was tried was tried on another path, or with other Follows.
      if (triedOver || next.path !== present(before).path) set({ tried: null, triedOver: null });
      const now = performance.now();
      const continued = key !== undefined && gesture?.key === key && (isPressed() || now - gesture.at < GESTURE_GAP);
      set({
        history: continued ? amend(before, next) : commit(before, next),
        gesture: key === undefined ? null : { key, at: now },
      });
    },
    amendStep: (take) => set({ history: amend(get().history, take) }),
    setPaceKeepsTiming: (paceKeepsTiming) => set({ paceKeepsTiming }),
    setKeepFraming: (keepFraming) => set({ keepFraming }),
    goOnWith: (found) => set({ history: found, gesture: null }),
    endGesture: () => set({ gesture: null }),
    undo: () => set({ history: undo(get().history), gesture: null }),
    redo: () => set({ history: redo(get().history), gesture: null }),
  });
