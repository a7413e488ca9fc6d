/** What can be done with the keyframes that are selected, or with the path at the playhead: each one undo step. */
import { toast } from 'sonner';
import { clippingOf, clippingOfView, pasteClipping, type Clipping } from '@glimbo/core/path/clipping';
import { readClipping } from '@glimbo/core/path/validate-clipping';
import { neighbours, removeKeys, setChannelKey, setViewKey, snap } from '@glimbo/core/path/edit';
import { evenChannel, evenSpeed, spanOfKeys } from '@glimbo/core/path/even';
import { backToFirst, otherWayRound, turnAcross } from '@glimbo/core/path/gestures';
import {
  easeEnds,
  mirrorKeys,
  movableBy,
  reverseKeys,
  scaleKeys,
  shiftKeys,
  type Offsets,
} from '@glimbo/core/path/group';
import { setEase } from '@glimbo/core/path/edit';
import {
  allKeys,
  keyId,
  laterBy,
  sameTime,
  selectedKeys,
  selectedTimes,
  viewKeySelection,
  type Selection,
} from '@glimbo/core/path/keys';
import {
  curveAt,
  familyOf,
  keysOf,
  type ChannelName,
  type CurveName,
  type Curves,
  type Path,
} from '@glimbo/core/path/path';
import { curvesOf } from '@glimbo/core/edit/curves';
import { insertBetween } from '@glimbo/core/path/split';
import type { StudioStore } from '../state/store';
import { keepHere, keptHere } from '~/ui/kept-here';

/** The selected keyframes, or those at the playhead where none is selected. */
export function chosenKeys(store: StudioStore): Selection {
  const { selection, time } = store.getState();
  const path = curvesIn(store);
  return selectedKeys(path, selection).length ? selection : viewKeySelection(path, time);
}

const onPath = (store: StudioStore, change: (path: Path) => Path, gesture?: string) =>
  store.getState().edit((t) => ({ ...t, path: change(t.path) }), gesture);

/** The same for whatever is keyed: the path and the dials of the look. */
const onCurves = (store: StudioStore, change: (curves: Curves) => Curves, gesture?: string) =>
  store.getState().editCurves(change, gesture);

const curvesIn = (store: StudioStore): Curves => curvesOf(store.getState().take());

/** Sets a keyframe of the view at the playhead. */
export function keyHere(store: StudioStore) {
  const { time, selectView, glance, dial, tried, keepTried } = store.getState();
  if (tried) return keepTried();
  // A glance is taken over by the keyframe.
  if (glance) dial({});
  onPath(store, (path) => setViewKey(path, time));
  selectView(time);
}

/** Sets a keyframe between others where the curve is, or at the ends one of the view as it is. */
export function insertHere(store: StudioStore) {
  const { time, selectView } = store.getState();
  onPath(store, (path) => {
    const { previous, next } = neighbours(path, time);
    return previous !== undefined && next !== undefined ? insertBetween(path, time) : setViewKey(path, time);
  });
  selectView(time);
}

/** Sets a key of one channel at the playhead, or takes the one that is there away. */
export function toggleChannelKey(store: StudioStore, channel: CurveName) {
  const { time, pick } = store.getState();
  const here = keysOf(curvesIn(store), channel).find((k) => sameTime(k.time, time));
  if (here) return onCurves(store, (c) => removeKeys(c, new Set([keyId({ channel, time })])));
  onCurves(store, (c) => setChannelKey(c, channel, time, curveAt(c, channel, time)));
  pick([{ channel, time }], 'only');
}

/** Goes to the key of a channel before or after the playhead. */
export function toChannelKey(store: StudioStore, channel: CurveName, which: 'previous' | 'next') {
  const { time, setTime, pick } = store.getState();
  const keys = keysOf(curvesIn(store), channel);
  const to = which === 'next' ? keys.find((k) => k.time > time + 1e-6) : keys.findLast((k) => k.time < time - 1e-6);
  if (!to) return;
  setTime(to.time);
  pick([{ channel, time: to.time }], 'only');
}

/** Removes the selected keyframes, or those at the playhead. */
export function removeHere(store: StudioStore) {
  const chosen = chosenKeys(store);
  onCurves(store, (curves) => removeKeys(curves, chosen));
  store.getState().deselect();
}

export const selectAll = (store: StudioStore) => store.getState().select(allKeys(store.getState().take().path));

const CLIPBOARD = 'glimbo-keys';

/** Copies the selected keyframes; without any, the view that is seen as one. */
export function copyKeys(store: StudioStore): boolean {
  const { selection, view } = store.getState();
  const clipping = clippingOf(curvesIn(store), selection) ?? clippingOfView(view());
  keepHere(CLIPBOARD, JSON.stringify(clipping));
  return selection.size > 0;
}

export function cutKeys(store: StudioStore) {
  if (copyKeys(store)) removeHere(store);
}

/** What was copied last, in this tab or another; null when there is none that can be used. */
export function copied(): Clipping | null {
  try {
    return readClipping(JSON.parse(keptHere(CLIPBOARD) ?? 'null'));
  } catch {
    return null;
  }
}

/** Puts keyframes into the path at the playhead and selects them. */
export function putHere(store: StudioStore, clipping: Clipping, channels?: readonly CurveName[]) {
  const { time, footage, editCurves, select, glanceAt } = store.getState();
  const { rate, duration } = footage.facts;
  let put: Selection = new Set();
  editCurves((curves) => {
    const { path, selection } = pasteClipping(curves, clipping, time, { rate, end: duration, channels });
    put = selection;
    return path;
  });
  glanceAt(null);
  select(put);
}

export function pasteKeys(store: StudioStore) {
  const clipping = copied();
  if (!clipping) return void toast('Nothing was copied yet. Select keyframes and copy them first.');
  putHere(store, clipping);
}

/** Copies the selected keyframes to the playhead. */
export function duplicateHere(store: StudioStore) {
  const { selection, time } = store.getState();
  const [from] = selectedTimes(curvesIn(store), selection);
  const clipping = clippingOf(curvesIn(store), selection);
  if (clipping && from !== undefined && !sameTime(from, time)) putHere(store, clipping);
}

/** Moves the selected keyframes by frames, or their values by degrees. */
export function nudgeKeys(store: StudioStore, frames: number, values: Offsets = {}) {
  const { footage, select } = store.getState();
  const { rate, duration } = footage.facts;
  const curves = curvesIn(store);
  const chosen = chosenKeys(store);
  const by = movableBy(curves, chosen, frames / rate, duration - 1 / rate);
  onCurves(store, (p) => shiftKeys(p, chosen, by, values), `nudge-keys-${Object.keys(values).join()}`);
  select(laterBy(curves, chosen, by));
}

export const mirrorSelected = (store: StudioStore) => onCurves(store, (p) => mirrorKeys(p, chosenKeys(store)));

export function reverseSelected(store: StudioStore) {
  const { select } = store.getState();
  const chosen = chosenKeys(store);
  const times = selectedTimes(curvesIn(store), chosen);
  const sum = (times[0] ?? 0) + (times.at(-1) ?? 0);
  const mirrored = selectedKeys(curvesIn(store), chosen).map(({ channel, time }) =>
    keyId({ channel, time: sum - time }),
  );
  onCurves(store, (p) => reverseKeys(p, chosen));
  select(new Set(mirrored));
}

/** Stretches the selected keyframes about the playhead. */
export function stretchSelected(store: StudioStore, factor: number) {
  const { time, footage, select } = store.getState();
  const { rate } = footage.facts;
  const chosen = chosenKeys(store);
  const before = selectedKeys(curvesIn(store), chosen);
  onCurves(store, (p) => scaleKeys(p, chosen, time, factor, rate));
  const to = (t: number) => Math.max(0, snap(time + (t - time) * factor, rate));
  select(new Set(before.map(({ channel, time: t }) => keyId({ channel, time: to(t) }))));
}

export function offsetSelected(store: StudioStore, channel: ChannelName, by: number) {
  const chosen = chosenKeys(store);
  onCurves(store, (p) => shiftKeys(p, chosen, 0, { [channel]: by }));
}

export function loopToFirst(store: StudioStore) {
  const { take, footage, setTime, selectView } = store.getState();
  const { rate } = footage.facts;
  const last = take().range.out - 1 / rate;
  onPath(store, (p) => backToFirst(p, last, rate));
  setTime(last);
  selectView(snap(last, rate));
}

export function goOtherWay(store: StudioStore) {
  const { take, time } = store.getState();
  if (turnAcross(take().path, time) === null)
    return void toast('There is no turn at the playhead. Go between two keyframes first.');
  onPath(store, (p) => otherWayRound(p, time));
}

/** What a change of shape is made to: one segment's channel, a channel, what is selected, or everything. */
export type Scope = 'segment' | 'channel' | 'selection' | 'all';

/** The keyframes of a scope; of a segment those at its two ends. */
export function keysOfScope(store: StudioStore, scope: Scope, channel: CurveName): Selection {
  const { selection, time } = store.getState();
  const path = curvesIn(store);
  if (scope === 'all') return allKeys(path, familyOf(channel));
  if (scope === 'channel') return allKeys(path, [channel]);
  if (scope === 'selection') return selection;
  const keys = keysOf(path, channel);
  const next = keys.findIndex((k) => k.time > time + 1e-6);
  const ends = next > 0 ? [keys[next - 1]!, keys[next]!] : [];
  return new Set(ends.map((k) => keyId({ channel, time: k.time })));
}

/** Makes keyframes smooth, all but what is held. */
export const smoothKeys = (store: StudioStore, chosen: Selection) =>
  onCurves(store, (p) => setEase(p, chosen, 'smooth'));
export const easeKeyEnds = (store: StudioStore, chosen: Selection) => onCurves(store, (p) => easeEnds(p, chosen));

/** Even speed over a scope: of one channel along its values, else of the whole view along its way. */
export function evenKeys(store: StudioStore, scope: Scope, channel: ChannelName) {
  if (scope === 'channel') return onPath(store, (p) => evenChannel(p, channel));
  const chosen = keysOfScope(store, scope, channel);
  onPath(store, (p) => {
    const times = selectedTimes(p, chosen);
    const span = scope === 'all' ? spanOfKeys(p) : { from: times[0] ?? 0, to: times.at(-1) ?? 0 };
    return span ? evenSpeed(p, span.from, span.to) : p;
  });
}
