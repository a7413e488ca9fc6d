/** Fetches the footage's motion analysis whenever there is another one. */
import { useEffect } from 'react';
import { toast } from 'sonner';
import { readMotionDocument } from '@glimbo/core/motion/validate';
import { useStudio, useStudioStore } from '../state/store';

export function useMotion() {
  const store = useStudioStore();
  const id = useStudio((s) => s.footage.id);
  const file = useStudio((s) => s.footage.motion?.file ?? null);
  useEffect(() => {
    if (!file) return;
    const stop = new AbortController();
    void (async () => {
      try {
        const answer = await fetch(`/footage/${id}/motion?file=${file}`, { signal: stop.signal });
        const motion = readMotionDocument(await answer.json());
        if (!stop.signal.aborted) store.getState().knowMotion(motion);
      } catch {
        if (!stop.signal.aborted)
          toast.error('The motion analysis could not be read. Analyse the motion again at the Level station.');
      }
    })();
    return () => stop.abort();
  }, [store, id, file]);
}
