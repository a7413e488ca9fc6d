/** Shows the frame at the playhead from the original while it stands still: if that is asked for, or where there is no proxy yet. */
import { useEffect } from 'react';
import { toast } from 'sonner';
import { usePicture } from './picture';
import { askStitch, loadImage } from './stitch-requests';
import { needsOriginal, useStudio, useStudioStore } from '../state/store';

/** Milliseconds of calm before a frame of the original is asked for. */
const CALM = 250;

export function useOriginal() {
  const store = useStudioStore();
  const picture = usePicture();
  const asked = useStudio((s) => s.preview === 'original');
  const needed = useStudio(needsOriginal);
  const wanted = asked || needed;
  const still = useStudio((s) => s.speed === 0);
  const time = useStudio((s) => s.time);
  const id = useStudio((s) => s.footage.id);
  useEffect(() => {
    if (!wanted || !still) return;
    const stop = new AbortController();
    const timer = setTimeout(async () => {
      try {
        const { picture: address, problem } = await askStitch<{ picture?: string }>(
          id,
          { intent: 'original', time },
          stop.signal,
        );
        if (!address) throw new Error(problem);
        const image = await loadImage(address);
        if (!stop.signal.aborted) picture.show(image, time);
      } catch (error) {
        if (stop.signal.aborted) return;
        if (asked) store.getState().drawFrom('proxy');
        if (asked) toast.error((error as Error).message || 'The original could not be read. The proxy is shown.');
      }
    }, CALM);
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  }, [wanted, asked, still, time, id, picture, store]);
  // Back at the proxy, its own picture is shown again.
  useEffect(() => (wanted ? () => picture.backToProxy() : undefined), [wanted, picture]);
}
