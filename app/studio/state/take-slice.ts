/** The take and its history: every change of it goes through `edit`, and one gesture is one undo step. */
import { glanceOver, aimOf, followingsOf, type Followings, type ViewContext } from '@glimbo/core/view/view-of';
import { applyPreset, isPlanet } from '@glimbo/core/lens/presets';
import { isSpun, panNear, setChannelKey } from '@glimbo/core/path/edit';
import { onAir } from '@glimbo/core/lookouts/lookouts';
import { followInForce, turnTake } from '@glimbo/core/edit/dial';
import { correctTo, uncorrected } from '@glimbo/core/take/format-correction';
import { formatOf, ratioOf, withCorrection } from '@glimbo/core/take/formats';
import { keysOf, viewAt } from '@glimbo/core/path/path';
import { curvesOf, withCurves } from '@glimbo/core/edit/curves';
import { viewKeySelection } from '@glimbo/core/path/keys';
import { amend, commit, present, redo, undo, type History } from '@glimbo/core/document/history';
import { correctionOf, type Correction } from '@glimbo/core/correction/correction';
import { carriedAlong, changeCorrection } from '@glimbo/core/edit/framing';
import { meteringOf, type Metering } from '@glimbo/core/edit/metering';
import type { Motion } from '@glimbo/core/motion/motion';
import type { Take } from '@glimbo/core/take/take';
import type { View } from '@glimbo/core/lens/view';
import { subjectOf } from '~/model/subject';
import { isPressed } from './pressing';
import type { Slice, StudioState, TakeSlice } from './state';

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

export const takeSlice =
  (history: History<Take>): Slice<TakeSlice> =>
  (set, get) => {
    /** Whether what is being aimed was more than half a turn from its neighbour before. */
    let spun = false;
    /** What the Meter came to last, and what that depends on. */
    let metered: { needs: unknown[]; metering: Metering | null } | null = null;
    return {
      history,
      gesture: null,
      tiltBefore: null,
      keepFraming: true,
      paceKeepsTiming: false,
      correcting: 'no',

      take: () => present(get().history),
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
      dial(change, key) {
        const { time, glance, take, correcting, steering } = get();
        if (steering) return steering(change);
        const lookout = get().aimed();
        const now = aimOf(take(), { ...get().followed(), lookout }, time);
        // Handling a glance takes it over: from here on it is the view.
        const seen = { ...now, ...glanceOver(glance, now), ...change };
        if (glance) get().glanceAt(null);
        const gesture = key && `${key}@${time}`;
        if (correcting !== 'no') {
          get().edit((t) => {
            const { correction } = formatOf(t);
            const path = lookout === null ? t.path : t.lookouts!.views[lookout]!.path;
            return withCorrection(t, correctTo(correction, viewAt(path, time), seen, time, correcting === 'keys'));
          }, gesture);
          return;
        }
        get().edit((t) => {
          const { correction } = formatOf(t);
          const bare = (view: View): View => ({ ...view, ...uncorrected(view, correction, time) });
          const path = viewAt(lookout === null ? t.path : t.lookouts!.views[lookout]!.path, time);
          return turnTake(t, { time, lookout, from: bare(now), to: bare(seen), path, ratio: ratioOf(t) });
        }, gesture);
        if (lookout !== null) return;
        const here = viewKeySelection(take().path, time);
        if (here.size) set({ selection: here });
      },
      aim({ pan, tilt }, key) {
        const { time, take, dial, gesture, correcting, steering } = get();
        if (steering) return dial({ pan, tilt }, key);
        const { path } = take();
        const led = get().aimed() !== null || followInForce(take(), time) >= 0;
        if (correcting !== 'no' || led) return dial({ pan, tilt }, key);
        const off = formatOf(take()).correction ? aimOf(take(), {}, time).pan - viewAt(path, time).pan : 0;
        // Somebody's spin of more than half a turn stays one.
        if (gesture?.key !== `${key}@${time}`) spun = isSpun(path, time);
        dial({ pan: spun ? pan : panNear(path, time, pan - off) + off, tilt }, key);
      },
      gradeDial(name, value, key) {
        const { time } = get();
        get().editCurves(
          (curves) =>
            keysOf(curves, name).length > 0 ? setChannelKey(curves, name, time, value) : { ...curves, [name]: value },
          key && `${key}@${time}`,
        );
      },
      usePreset(preset) {
        get().tryLens(null);
        const { view, tiltBefore, dial } = get();
        const now = view();
        if (preset.tilt !== undefined && !isPlanet(now)) set({ tiltBefore: now.tilt });
        dial(applyPreset(preset, now, tiltBefore));
      },
      correctFormat: (correcting) => set({ correcting }),
      setPaceKeepsTiming: (paceKeepsTiming) => set({ paceKeepsTiming }),
      setKeepFraming: (keepFraming) => set({ keepFraming }),
      goOnWith: (found) => set({ history: found, gesture: null }),
      endGesture: () => set({ gesture: null }),
      undo: () => set({ history: undo(get().history), gesture: null }),
      redo: () => set({ history: redo(get().history), gesture: null }),
    };
  };
