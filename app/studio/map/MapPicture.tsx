/** The whole sphere as it is corrected, under what the Map draws. */
import { useEffect, useRef } from 'react';
import { correctionOf } from '@glimbo/core/correction/correction';
import { usePicture, type SpherePicture } from '../picture/picture';
import { drawTurned } from '../picture/turned';
import { useStudioStore } from '../state/store';

export function MapPicture({ width, height }: { width: number; height: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const picture = usePicture();
  const store = useStudioStore();
  useEffect(() => {
    const context = canvas.current?.getContext('2d', { willReadFrequently: true });
    if (!context || !width) return;
    let shown: SpherePicture | null = null;
    const draw = () => {
      const { correction, time, unsteadied, take } = store.getState();
      if (shown)
        drawTurned(
          context,
          shown,
          (unsteadied ? correctionOf({ orientation: take().orientation }) : correction()).at(time),
        );
    };
    // A played frame brings a new picture and a new time: both are drawn at once.
    let pending = 0;
    const drawSoon = () => {
      pending ||= requestAnimationFrame(() => {
        pending = 0;
        draw();
      });
    };
    const forget = picture.listen((video) => {
      shown = video;
      drawSoon();
    });
    const unsubscribe = store.subscribe(
      (now, before) =>
        (now.history !== before.history ||
          now.motion !== before.motion ||
          now.time !== before.time ||
          now.unsteadied !== before.unsteadied) &&
        drawSoon(),
    );
    return () => {
      forget();
      unsubscribe();
      cancelAnimationFrame(pending);
    };
  }, [picture, store, width, height]);
  return (
    <canvas
      ref={canvas}
      width={Math.max(2, Math.round(width))}
      height={Math.max(2, Math.round(height))}
      className="absolute inset-0 size-full"
    />
  );
}
