/** What was found in the footage: fetched whenever it was looked for anew, and having it looked for. */
import { useEffect } from 'react';
import { useRevalidator } from 'react-router';
import { toast } from 'sonner';
import { readMoving } from '@glimbo/core/moving/moving';
import { sendJson } from '~/ui/send';
import { useStudioStore } from '../../state/store';
import { useWork } from '../../state/work';

/** Has subjects found in the footage; says whether that was begun. */
export function useFindSubjects(): () => Promise<boolean> {
  const { footage } = useWork();
  const { revalidate } = useRevalidator();
  return async () => {
    const { problem } = await sendJson<{ id: string }>(`/footage/${footage.id}/found`, {});
    if (problem) toast.error(problem);
    await revalidate();
    return !problem;
  };
}

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
