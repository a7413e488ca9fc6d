/** Handling the view and the look at the playhead: by dials, by dragging, by presets. */
import { followInForce, turnTake } from '@glimbo/core/edit/dial';
import { applyPreset, isPlanet } from '@glimbo/core/lens/presets';
import type { View } from '@glimbo/core/lens/view';
import { isSpun, panNear, setChannelKey } from '@glimbo/core/path/edit';
import { viewKeySelection } from '@glimbo/core/path/keys';
import { keysOf, viewAt } from '@glimbo/core/path/path';
import { correctTo, uncorrected } from '@glimbo/core/take/format-correction';
import { formatOf, ratioOf, withCorrection } from '@glimbo/core/take/formats';
import { aimOf, glanceOver } from '@glimbo/core/view/view-of';
import type { HandSlice, Slice } from './state';

export const handSlice = (): Slice<HandSlice> => (set, get) => {
  /** Whether what is being aimed was more than half a turn from its neighbour before. */
  let spun = false;
  return {
    tiltBefore: null,
    correcting: 'no',

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
  };
};
