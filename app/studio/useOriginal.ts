/** Shows the frame at the playhead from the original while it stands still, if that is asked for. */
import { useEffect } from 'react';
import { toast } from 'sonner';
import { usePicture } from './picture';
import { useStudio, useStudioStore } from './store';

/** Milliseconds of calm before a frame of the original is asked for. */
const CALM = 250;

export function useOriginal() {
  const store = useStudioStore();
  const picture = usePicture();
  const wanted = useStudio((s) => s.preview === 'original');
  const still = useStudio((s) => s.speed === 0);
  const time = useStudio((s) => s.time);
  const id = useStudio((s) => s.footage.id);
  useEffect(() => {
    if (!wanted || !still) return;
    const stop = new AbortController();
    const timer = setTimeout(async () => {
      try {
        const answer = await fetch(`/footage/${id}/stitch`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ intent: 'original', time }),
          signal: stop.signal,
        });
        const { picture: address, problem } = (await answer.json()) as { picture?: string; problem?: string };
        if (!address) throw new Error(problem);
        const image = new Image();
        image.src = address;
        await image.decode();
        if (!stop.signal.aborted) picture.show(image);
      } catch (error) {
        if (stop.signal.aborted) return;
        store.getState().set({ preview: 'proxy' });
        toast.error((error as Error).message || 'The original could not be read. The proxy is shown.');
      }
    }, CALM);
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  }, [wanted, still, time, id, picture, store]);
}
