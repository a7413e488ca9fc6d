/** Where the take's picture moves too fast, found once when the path has been left alone for a moment. */
import { useEffect, useState } from 'react';
import { ratioOf } from '@glimbo/core/take/formats';
import type { Following } from '@glimbo/core/follow/following';
import type { Take } from '@glimbo/core/take/take';
import { tooFast } from '@glimbo/core/view/comfort';
import { aimOf } from '@glimbo/core/view/view-of';
import { useFollowed, useStudioStore, useTake } from '../state/store';

/** Milliseconds of calm. */
const CALM = 200;

type Stretch = { from: number; to: number };

/** What was found last: lane and bench ask for the same take. */
let last: { take: Take; following: Following | null; found: Stretch[] } | null = null;

function found(take: Take, following: Following | null, rate: number): Stretch[] {
  // What is blurred is carried by its blur.
  if (take.look?.shutter) return [];
  const { in: from, out: to } = take.range;
  const view = (t: number) => aimOf(take, { following }, t);
  return tooFast(view, { from, to, rate: take.reading ?? rate, ratio: ratioOf(take) });
}

export function useTooFast(): Stretch[] {
  const take = useTake();
  const following = useFollowed();
  const store = useStudioStore();
  const [stretches, setStretches] = useState<Stretch[]>([]);
  useEffect(() => {
    const timer = setTimeout(() => {
      if (last?.take !== take || last.following !== following)
        last = { take, following, found: found(take, following, store.getState().footage.facts.rate) };
      setStretches(last.found);
    }, CALM);
    return () => clearTimeout(timer);
  }, [store, take, following]);
  return stretches;
}
