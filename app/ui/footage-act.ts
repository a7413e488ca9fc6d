/** Sends what was said or decided about a footage, and has the page loaded again. */
import { useCallback } from 'react';
import { useRevalidator } from 'react-router';
import { toast } from 'sonner';
import type { Mark, Range } from '@glimbo/core/gather/remarks';
import { sendJson } from './send';

export interface FootageAnswer {
  problem?: string;
  id?: string | null;
  /** What is said about the footage after a change. */
  said?: { marks: Mark[]; ranges: Range[]; tags: string[]; notes: string };
}

export const sendFootage = (id: string, body: object) => sendJson<FootageAnswer>(`/footage/${id}`, body);

export function useFootageAct() {
  const { revalidate } = useRevalidator();
  return useCallback(
    async (id: string, body: object): Promise<boolean> => {
      const { problem } = await sendFootage(id, body);
      if (problem) toast.error(problem);
      await revalidate();
      return !problem;
    },
    [revalidate],
  );
}
