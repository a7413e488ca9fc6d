/** What the Frame sees as a small picture before any look, anew whenever it stands still; null until then. */
import { useEffect, useState } from 'react';
import { ratioOf } from '@glimbo/core/take/formats';
import { smallFrame, type SmallFrame } from '~/preview/small-frame';
import { usePicture } from '../picture/picture';
import { useCorrection, useStillTime, useTake, useStillView } from '../state/store';

/** Milliseconds of calm before it is looked at. */
const CALM = 180;
/** Pixels of the small picture, whatever its shape. */
const PIXELS = 9000;

export function useSmallFrame(): SmallFrame | null {
  const picture = usePicture();
  const view = useStillView();
  const take = useTake();
  const correction = useCorrection();
  const time = useStillTime();
  const [frame, setFrame] = useState<SmallFrame | null>(null);
  const ratio = ratioOf(take);
  useEffect(() => {
    if (time === null) return;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const forget = picture.listen((shown) => {
      clearTimeout(timer);
      timer = setTimeout(() => {
        const height = Math.max(2, Math.round(Math.sqrt(PIXELS / ratio)));
        setFrame(smallFrame(shown, view, correction.at(time), { width: Math.round(height * ratio), height }));
      }, CALM);
    });
    return () => {
      clearTimeout(timer);
      forget();
    };
  }, [picture, view, correction, time, ratio]);
  return frame;
}
