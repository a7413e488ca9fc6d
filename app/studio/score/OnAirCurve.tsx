/** What is on air where the path is not alone in saying so: the headings of followed subjects and Lookouts down the Sweep. */
import { useMemo } from 'react';
import type { Take } from '@glimbo/core/take/take';
import { framesOf } from '@glimbo/core/view/view-of';
import { useCorrection, useStudio, useStudioStore, useTake } from '../state/store';
import { headingLine } from '../axes/heading-line';
import type { Axis } from '../axes/lanes';

/** Whether something else than its path can have a say in a take's view. */
export const isLed = ({ follows, lookouts }: Take): boolean => !!follows?.length || lookouts !== undefined;

/** A leap of this share of the Sweep within a few pixels is a cut, which has no line. */
const CUT = 1 / 6;
/** Views that a picture shows at once, at most. */
const MOST_VIEWS = 4;

export function OnAirCurve({ width, height, y, timeAt }: Axis & { width: number }) {
  const store = useStudioStore();
  const take = useTake();
  const tracks = useStudio((s) => s.tracks);
  const triedOver = useStudio((s) => s.triedOver);
  const correction = useCorrection();
  const line = useMemo(() => {
    if (!isLed(take) || !width) return '';
    // A hand's shake is nothing that anybody steers by.
    const steady = { ...take, look: undefined };
    const followings = store.getState().followed(take);
    const seen = new Map<number, number[]>();
    const headingsAt = (time: number) => {
      const known = seen.get(time);
      if (known) return known;
      const found = framesOf(steady, followings, time).map(({ view }) => view.pan);
      seen.set(time, found);
      return found;
    };
    return Array.from({ length: MOST_VIEWS }, (_, k) =>
      headingLine((time) => headingsAt(time)[k] ?? NaN, { width, height, y, timeAt, leap: CUT }),
    ).join('');
    // eslint-disable-next-line react-hooks/exhaustive-deps -- tracks, correction and Follows tried say how it is followed
  }, [store, take, tracks, triedOver, correction, width, height, y, timeAt]);
  if (!line) return null;
  return (
    <g pointerEvents="none" fill="none">
      <path d={line} stroke="#000" strokeOpacity={0.5} strokeWidth={5} />
      <path d={line} stroke="#ff7048" strokeWidth={2} data-testid="on-air-curve" />
    </g>
  );
}
