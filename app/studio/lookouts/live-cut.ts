/** Putting Lookouts on air: live while it plays, or at the playhead while it stands still. */
import { useEffect } from 'react';
import { toast } from 'sonner';
import { cutHere, cutOver, withCuts } from '@glimbo/core/edit/lookouts';
import type { Cut, Showing } from '@glimbo/core/lookouts/lookouts';
import { snap } from '@glimbo/core/path/edit';
import type { LiveCut } from '../state/frame-state';
import { useStudioStore, type StudioStore } from '../state/store';

/** One Lookout alone. */
export const only = (n: number): Showing => ({ layout: 'one', views: [n] });

/** The cuts with what was put on air live lasting until a time. */
const lasting = ({ over, from, shows }: Omit<LiveCut, 'made'>, until: number): Cut[] =>
  until > from ? cutOver(over, from, until, shows) : [...over];

/** Puts something on air: while it plays until something else is, or it stops; standing still up to the next cut. */
export function putOnAir(store: StudioStore, shows: Showing | null) {
  const { take, time, speed, cutting, cutLive, edit, footage } = store.getState();
  const { lookouts, range } = take();
  if (!lookouts) return void toast('This take has no Lookouts yet: set them up in Path, Lookouts.');
  if (shows && shows.views.some((v) => v >= lookouts.views.length)) return;
  if (speed === 0) {
    const at = snap(time, footage.facts.rate);
    return edit((t) => withCuts(t, (cuts) => cutHere(cuts, at, shows)));
  }
  const from = snap(time, footage.facts.rate);
  const over = cutting && cutting.made === take() ? lasting(cutting, from) : lookouts.cuts;
  edit((t) => withCuts(t, () => lasting({ over, from, shows }, range.out)));
  cutLive({ over, from, shows, made: take() });
}

/** Ends what was put on air live: what was there before goes on after it. */
function endLive(store: StudioStore, at: number) {
  const { cutting, cutLive, take, edit, amendStep, footage } = store.getState();
  if (!cutting) return;
  cutLive(null);
  const now = take();
  // Something else was changed since, or it was undone: then that is what counts.
  if (now !== cutting.made) return;
  const until = Math.max(cutting.from, snap(at, footage.facts.rate));
  const next = withCuts(now, () => lasting(cutting, until));
  if (until > cutting.from) amendStep(next);
  else edit(() => next);
}

/** While the Studio is open: what is cut live ends where it stops, or begins again. */
export function useLiveCuts() {
  const store = useStudioStore();
  useEffect(
    () =>
      store.subscribe((now, before) => {
        if (!now.cutting) return;
        if (now.speed === 0 && before.speed !== 0) endLive(store, now.time);
        else if (now.time < now.cutting.from - 0.3) endLive(store, now.take().range.out);
      }),
    [store],
  );
}
