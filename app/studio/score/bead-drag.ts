/** Moving keyframes by their beads, in time and value: all that are selected, always from where the drag began. */
import { useRef } from 'react';
import { laterBy, sameTime, selectedTimes, type Selection } from '@glimbo/core/path/keys';
import { movableBy, shiftKeys, type Offsets } from '@glimbo/core/path/group';
import { snap, viewKeysOf } from '@glimbo/core/path/edit';
import type { Curves } from '@glimbo/core/path/path';
import { curvesOf } from '@glimbo/core/edit/curves';
import type { Take } from '@glimbo/core/take/take';
import { caught } from '@glimbo/core/path/snapping';
import type { Held } from '../axes/Bead';
import { momentsNear } from '../axes/catching';
import { useStudioStore, type StudioStore } from '../state/store';
import type { Axis } from '../axes/lanes';

/** Pixels within which a dragged keyframe catches. */
const CATCH = 6;
/** Pixels after which a drag along one axis knows which. */
const AXIS_FROM = 4;

interface Begun {
  take: Take;
  selection: Selection;
  time: number;
  moments: number[];
  axis: 'time' | 'value' | null;
}

/** What a dragged keyframe catches on: that, the playhead, and keyframes that stay. */
function momentsFor(store: StudioStore, path: Curves, selection: Selection, reach: number): number[] {
  const going = selectedTimes(path, selection);
  const staying = viewKeysOf(path)
    .map((k) => k.time)
    .filter((t) => !going.some((g) => sameTime(g, t)));
  return [...momentsNear(store, reach), store.getState().time, ...staying];
}

export function useBeadDrag({ timeAt }: Axis) {
  const store = useStudioStore();
  const begun = useRef<Begun | null>(null);
  const put = ({ take, selection, time }: Pick<Begun, 'take' | 'selection' | 'time'>, by: number, values: Offsets) => {
    const { editCurves, select, follow, footage } = store.getState();
    const path = curvesOf(take);
    const { rate, duration } = footage.facts;
    const late = movableBy(path, selection, by, duration - 1 / rate);
    editCurves((curves) => shiftKeys(curves, selection, late, values), 'beads', take);
    select(laterBy(path, selection, late));
    // The Frame shows the keyframe that is being moved.
    follow(time + late);
  };
  return {
    /** By pixels since the drag began; `values` are what goes with the movement across. */
    drag(key: { time: number }, dx: number, dy: number, values: Offsets, { oneAxis, free }: Held) {
      const { selection, take, footage } = store.getState();
      const reach = timeAt(CATCH) - timeAt(0);
      const start = (begun.current ??= {
        take: take(),
        selection,
        time: key.time,
        moments: momentsFor(store, curvesOf(take()), selection, reach),
        axis: null,
      });
      if (!oneAxis) start.axis = null;
      else if (!start.axis && Math.hypot(dx, dy) > AXIS_FROM)
        start.axis = Math.abs(dy) >= Math.abs(dx) ? 'time' : 'value';
      const wanted = start.time + timeAt(dy) - timeAt(0);
      const to = snap(free ? wanted : caught(wanted, start.moments, reach), footage.facts.rate);
      put(start, start.axis === 'value' ? 0 : to - start.time, start.axis === 'time' ? {} : values);
    },
    /** By whole frames down, and by values. */
    step(key: { time: number }, frames: number, values: Offsets) {
      const { selection, take, footage } = store.getState();
      put({ take: take(), selection, time: key.time }, frames / footage.facts.rate, values);
    },
    end() {
      begun.current = null;
      store.getState().endGesture();
    },
  };
}
