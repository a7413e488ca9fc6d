/** What the Frame sees as a small picture before any look, anew whenever it stands still; null until then. */
import { useEffect, useState } from 'react';
import { ratioOf } from '@glimbo/core/take/formats';
import { smallFrame, type SmallFrame } from '~/preview/small-frame';
import { usePicture, type SpherePicture } from '../frame/picture';
import { useCorrection, useStudio, useTake, useView } from '../state/store';

/** Milliseconds of calm before it is looked at. */
const CALM = 180;
/** Pixels of the small picture, whatever its shape. */
const PIXELS = 9000;

export function useSmallFrame(): SmallFrame | null {
  const picture = usePicture();
  const view = useView();
  const take = useTake();
  const correction = useCorrection();
  const time = useStudio((s) => s.time);
  const still = useStudio((s) => s.speed === 0);
  const [shown, setShown] = useState<SpherePicture | null>(null);
  const [count, setCount] = useState(0);
  const [frame, setFrame] = useState<SmallFrame | null>(null);
  useEffect(
    () =>
      picture.listen((now) => {
        setShown(now);
        // Planes come in the same memory again: the picture is another one all the same.
        setCount((n) => n + 1);
      }),
    [picture],
  );
  const ratio = ratioOf(take);
  useEffect(() => {
    if (!still || !shown) return;
    const timer = setTimeout(() => {
      const height = Math.max(2, Math.round(Math.sqrt(PIXELS / ratio)));
      setFrame(smallFrame(shown, view, correction.at(time), { width: Math.round(height * ratio), height }));
    }, CALM);
    return () => clearTimeout(timer);
  }, [still, shown, count, view, correction, time, ratio]);
  return frame;
}
