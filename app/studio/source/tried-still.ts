/** A draft of the source, tried out: the playhead's frame is drawn with it, and where its lenses meet. */
import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import { seamLine } from '@glimbo/core/stitch/seam-line';
import type { Source } from '@glimbo/core/stitch/source';
import { usePicture } from '../picture/picture';
import { askStitch, loadImage } from '../picture/stitch-requests';
import { useStudio, useStudioStore } from '../state/store';

/** Asks for a still of the whole sphere with a source. */
export const stillOf = (id: string, source: Source, time: number, signal?: AbortSignal) =>
  askStitch<{ picture: string; source: Source }>(id, { intent: 'still', source: withoutTrack(source), time }, signal);

/** Brightness and seam are looked at anew in each still. */
export const withoutTrack = (source: Source): Source => {
  if (source.kind !== 'two-lenses') return source;
  const { track: _, ...rest } = source;
  return rest;
};

/** Milliseconds of calm before a still is asked for. */
const CALM = 350;

interface Tried {
  draft: Source | null;
  /** Whether it differs from what is kept, and so from what the proxy shows. */
  changed: boolean;
  showSeam: boolean;
}

/** Gives whether a still is being drawn. */
export function useTriedStill({ draft, changed, showSeam }: Tried): boolean {
  const store = useStudioStore();
  const picture = usePicture();
  const { id } = useStudio((s) => s.footage);
  const time = useStudio((s) => s.time);
  const speed = useStudio((s) => s.speed);
  const comparing = useStudio((s) => s.compare !== null);
  const [drawing, setDrawing] = useState(false);

  useEffect(() => {
    if (!draft || !changed || comparing || speed !== 0) return;
    const stop = new AbortController();
    const timer = setTimeout(async () => {
      setDrawing(true);
      try {
        const { picture: address, source, problem } = await stillOf(id, draft, time, stop.signal);
        if (problem) return void toast.error(problem);
        const image = await loadImage(address);
        if (stop.signal.aborted) return;
        picture.show(image, time);
        if (showSeam) store.getState().drawSeam(seamLine(source, 0));
      } catch {
        if (!stop.signal.aborted)
          toast.error('The still could not be drawn: no answer from the server. Nothing was changed.');
      } finally {
        setDrawing(false);
      }
    }, CALM);
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  }, [draft, changed, comparing, speed, time, id, picture, showSeam, store]);
  // With nothing left to try, the proxy's own picture is shown again.
  const trying = changed || comparing;
  useEffect(() => (trying ? () => picture.backToProxy() : undefined), [trying, picture]);

  useEffect(() => {
    store.getState().drawSeam(showSeam && draft ? seamLine(draft, time) : null);
  }, [showSeam, draft, time, store]);
  useEffect(
    () => () => {
      store.getState().drawSeam(null);
      store.getState().compareStills(null);
    },
    [store],
  );
  return drawing;
}
