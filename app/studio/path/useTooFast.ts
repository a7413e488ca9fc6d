/** Where the take's picture moves too fast, found once when the path has been left alone for a moment. */
import { useEffect, useState } from 'react';
import { isCutBetween } from '@glimbo/core/lookouts/lookouts';
import { ratioOf } from '@glimbo/core/take/formats';
import type { Take } from '@glimbo/core/take/take';
import { tooFast } from '@glimbo/core/view/comfort';
import { aimOf, type Followings } from '@glimbo/core/view/view-of';
import { useFollowed, useStudioStore, useTake } from '../state/store';

/** Milliseconds of calm. */
const CALM = 200;

type Stretch = { from: number; to: number };

/** What was found last: lane and bench ask for the same take. */
let last: { take: Take; followed: Followings; found: Stretch[] } | null = null;

function found(take: Take, followed: Followings, rate: number): Stretch[] {
  // What is blurred is carried by its blur.
  if (take.look?.shutter) return [];
  const { in: from, out: to } = take.range;
  const view = (t: number) => aimOf(take, followed, t);
  return tooFast(view, { from, to, rate: take.reading ?? rate, ratio: ratioOf(take) }, (a, b) =>
    isCutBetween(take.lookouts, a, b),
  );
}

export function useTooFast(): Stretch[] {
  const take = useTake();
  const followed = useFollowed();
  const store = useStudioStore();
  const [stretches, setStretches] = useState<Stretch[]>([]);
  useEffect(() => {
    const timer = setTimeout(() => {
      if (last?.take !== take || last.followed !== followed)
        last = { take, followed, found: found(take, followed, store.getState().footage.facts.rate) };
      setStretches(last.found);
    }, CALM);
    return () => clearTimeout(timer);
  }, [store, take, followed]);
  return stretches;
}
