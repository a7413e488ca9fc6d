/** What was found in the footage: fetched whenever it was looked for anew, and having it looked for. */
import { useEffect } from 'react';
import { toast } from 'sonner';
import { readMoving } from '@glimbo/core/moving/moving';
import { sendJson } from '~/ui/send';
import { useStudioStore } from '../../state/store';
import { useWork } from '../../state/work';

export const findSubjects = (footageId: string) => sendJson<{ id: string }>(`/footage/${footageId}/found`, {});

/** Keeps what the Studio knows as the server has it. */
export function useFound() {
  const store = useStudioStore();
  const { found, footage } = useWork();
  useEffect(() => {
    if (found === null) return store.getState().knowFound(null);
    const stop = new AbortController();
    void (async () => {
      try {
        const answer = await fetch(`/footage/${footage.id}/found?v=${found}`, { signal: stop.signal });
        const moving = readMoving(await answer.json());
        if (!stop.signal.aborted) store.getState().knowFound(moving);
      } catch {
        if (!stop.signal.aborted)
          toast.error('What was found in the footage could not be read. Find subjects once more.', { id: 'found' });
      }
    })();
    return () => stop.abort();
  }, [store, found, footage.id]);
}
