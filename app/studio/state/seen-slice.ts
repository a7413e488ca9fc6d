/** What the take comes to at the playhead: its correction, how it follows, what is aimed at, and its light. Asked for often, found once. */
import { correctionOf, type Correction } from '@glimbo/core/correction/correction';
import { meteringOf, type Metering } from '@glimbo/core/edit/metering';
import { onAir } from '@glimbo/core/lookouts/lookouts';
import type { Motion } from '@glimbo/core/motion/motion';
import type { Take } from '@glimbo/core/take/take';
import { aimOf, followingsOf, type Followings, type ViewContext } from '@glimbo/core/view/view-of';
import { subjectOf } from '~/model/subject';
import type { SeenSlice, Slice, StudioState } from './state';

/** What a state has to say in what its take sees. */
export const contextIn = (s: StudioState): ViewContext => ({
  glance: s.glance,
  tryOut: s.tryOut,
  tried: s.tried,
  ...s.followed(),
});

const NO_FOLLOWINGS: Followings = {};

/** How takes follow, by what that depends on. */
const followings = new WeakMap<Take, { tracks: StudioState['tracks']; correction: Correction; found: Followings }>();
/** Corrections that were asked for: playing asks for the same one for every frame. */
const corrections = new WeakMap<Take, { motion: Motion | null; correction: Correction }>();

export const seenSlice = (): Slice<SeenSlice> => (_, get) => {
  /** What the Meter came to last, and what that depends on. */
  let metered: { needs: unknown[]; metering: Metering | null } | null = null;
  return {
    aimed() {
      const { grid, lookoutChosen, station, take, time } = get();
      const { lookouts } = take();
      if (!lookouts) return null;
      if (grid !== 'off' && station === 'path') return Math.min(lookoutChosen, lookouts.views.length - 1);
      const shown = onAir(lookouts, time)?.views ?? [];
      return shown.includes(lookoutChosen) ? lookoutChosen : (shown[0] ?? null);
    },
    view: () => aimOf(get().take(), { ...contextIn(get()), lookout: get().aimed() }, get().time),
    followed(take) {
      const { tracks, correction } = get();
      const of = take ?? get().triedOver ?? get().take();
      if (!of.follows && !of.lookouts?.views.some((v) => v.follow)) return NO_FOLLOWINGS;
      const known = followings.get(of);
      const c = correction(of);
      if (known?.tracks === tracks && known.correction === c) return known.found;
      const trackOf = (file: string) => tracks.get(subjectOf(file))?.track ?? null;
      const found = followingsOf(of, trackOf, c);
      followings.set(of, { tracks, correction: c, found });
      return found;
    },
    correction(take) {
      const { motion } = get();
      const of = take ?? get().take();
      const known = corrections.get(of);
      if (known?.motion === motion) return known.correction;
      const correction = correctionOf(of, motion);
      corrections.set(of, { motion, correction });
      return correction;
    },
    metering() {
      const { take, light, motion, correction, tracks } = get();
      const of = take();
      const { path, frame, look, orientation, steady, level, follows, lookouts } = of;
      const needs = [path, frame, look?.meter, orientation, steady, level, follows, lookouts, tracks, motion, light];
      // Turning any other dial leaves it as it is.
      if (!metered || needs.some((need, i) => need !== metered!.needs[i]))
        metered = { needs, metering: meteringOf(of, light, correction(), get().followed()) };
      return metered.metering;
    },
  };
};
