/** The take's pace in the Studio: its map, and changing it. */
import { useMemo } from 'react';
import { toast } from 'sonner';
import { keepsSpeed, paceMap, type Pace, type PaceMap } from '@glimbo/core/pace/pace';
import { keepTiming } from '@glimbo/core/pace/keep-timing';
import type { Take } from '@glimbo/core/take/take';
import { clockOf } from '@glimbo/core/time/clock';
import { useStudio, useTake, type StudioStore } from '../state/store';

/** Between the take's clip and its footage; as it is read where it has no pace. */
export function usePaceMap(): PaceMap {
  const { pace, range, reading } = useTake();
  const rate = useStudio((s) => s.footage.facts.rate);
  return useMemo(() => paceMap(pace, range, clockOf({ reading }, rate).speed), [pace, range, reading, rate]);
}

/** The speed at a time of the footage, 1 being as it is read. */
export function paceSpeedAt(store: StudioStore, time: number): number {
  const { pace, range } = store.getState().take();
  return paceMap(pace, range).speedAt(time);
}

/** Changes the pace, unless it would stand still or go back between two keys. */
export function changePace(store: StudioStore, change: (pace: Pace | undefined) => Pace | undefined, gesture?: string) {
  const { footage, paceKeepsTiming, edit } = store.getState();
  const { rate, duration } = footage.facts;
  edit((was) => {
    const is = paced(was, change);
    if (!paceKeepsTiming || is.pace === was.pace) return is;
    const unit = clockOf(was, rate).speed;
    const [before, now] = [was, is].map((t) => paceMap(t.pace, t.range, unit)) as [PaceMap, PaceMap];
    return { ...is, path: keepTiming(was.path, before, now, { rate, end: duration - 1 / rate }) };
  }, gesture);
}

/** A take with its pace changed, if that can be. */
function paced({ pace, ...take }: Take, change: (pace: Pace | undefined) => Pace | undefined): Take {
  const next = change(pace);
  const kept =
    next?.keys.every((k, i) => !next.keys[i + 1] || keepsSpeed(k.ease, k.speed, next.keys[i + 1]!.speed)) ?? true;
  if (kept) return next?.keys.length ? { ...take, pace: next } : take;
  toast('With that curve the footage would stand still or go back. Hold the frame instead.');
  return pace ? { ...take, pace } : take;
}
