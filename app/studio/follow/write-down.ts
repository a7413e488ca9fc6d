/** Writing what leads the camera down: as keyframes of the path, or as a turn of the whole sphere. */
import { toast } from 'sonner';
import { softTrack } from '@glimbo/core/follow/following';
import { withoutFollow } from '@glimbo/core/edit/follows';
import { withCuts } from '@glimbo/core/edit/lookouts';
import type { Take } from '@glimbo/core/take/take';
import { toKeyframes } from '@glimbo/core/edit/to-keyframes';
import { turnFollowing } from '@glimbo/core/take/turn';
import { subjectOf } from '~/model/subject';
import type { StudioStore } from '../state/store';

/** Degrees that keyframes may be off from what was seen. */
export const TOLERANCE = 0.3;

/** What is seen in a stretch becomes keyframes; `without`: the take without what led there. */
function writeDown(
  store: StudioStore,
  { in: from, out: to }: { in: number; out: number },
  without: (take: Take) => Take,
) {
  const { take, edit, followed, footage } = store.getState();
  const stretch = { from, to, rate: footage.facts.rate, tolerance: TOLERANCE };
  const { path, keys, deviation } = toKeyframes(take(), followed(), stretch);
  edit((t) => ({ ...without(t), path }));
  toast(`${keys} keyframes, ${deviation.toFixed(2)}° from what was seen at most. Undo brings back what led there.`);
}

/** What the n-th Follow of the take shows becomes keyframes; the Follow goes. */
export function writeFollow(store: StudioStore, n: number) {
  const rule = store.getState().take().follows?.[n];
  if (rule) writeDown(store, rule, (take) => withoutFollow(take, n));
}

/** All that is seen becomes keyframes; the Lookouts stay, with nothing on air, and nobody is followed. */
export const writeCuts = (store: StudioStore) =>
  writeDown(store, store.getState().take().range, ({ follows: _, ...take }) => withCuts(take, () => []));

/** The sphere turns so that the n-th Follow's subject stays ahead; the path stays on what it was on. */
export function keepAhead(store: StudioStore, n: number) {
  const { take, correct, correction, tracks } = store.getState();
  const rule = take().follows?.[n];
  const track = rule && tracks.get(subjectOf(rule.subject))?.track;
  const { orientation } = take();
  const unturned = correction({ ...take(), orientation: { ...orientation, turn: undefined } });
  const soft = track && softTrack(track, rule, unturned);
  if (!soft) return void toast.error('Where this subject is is not known yet. Track it first.');
  const { turn, deviation } = turnFollowing(soft, { from: rule.in, to: rule.out, tolerance: TOLERANCE });
  correct({ orientation: { ...orientation, turn } });
  toast(`The sphere turns with it, ${deviation.toFixed(2)}° off at most. See Level, Orient for its keys.`);
}
