/** The work on the take and its footage, as the page was last loaded with it. What happens since is in `ui/job-events`. */
import { createContext, useContext } from 'react';
import type { StudioWork } from '~/model/studio';

export const WorkContext = createContext<StudioWork | null>(null);

export function useWork(): StudioWork {
  const work = useContext(WorkContext);
  if (!work) throw new Error('The work is missing round this component.');
  return work;
}
