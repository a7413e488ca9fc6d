/** Looking through a folder on the machine that runs Glimbo: a job there, followed here. */
import { adding, blank, change, changedLibrary, settle } from './adding-store';
import type { ExamineResult, GatherResult } from '~/model/gathering';

/** A row of its own for each result that somebody has to hear of. */
export function tellEach(results: (GatherResult & { path: string })[]) {
  for (const result of results.filter((r) => !('footageId' in r))) {
    const one = crypto.randomUUID();
    adding.setState((s) => ({
      items: [...s.items, { ...blank, key: one, name: result.path.split('/').at(-1)!, path: result.path }],
    }));
    settle(one, result);
  }
}

interface FolderLook {
  state: string;
  progress: number;
  error: string | null;
  result: ExamineResult | null;
}

/** Milliseconds from one look at a folder's job to the next. */
const LOOK_AGAIN = 700;

/** Follows a folder's job to its end; what it finds comes into the Library meanwhile. */
export async function lookThrough(key: string, job: string, recordings: number) {
  let told = -1;
  for (;;) {
    const { state, progress, error, result } = (await (await fetch(`/jobs/${job}`)).json()) as FolderLook;
    const added = result?.added ?? 0;
    const ended = state !== 'queued' && state !== 'running';
    change(key, {
      state: 'looking',
      job,
      share: progress,
      text: `${Math.round(progress * recordings)} of ${recordings} looked at, ${added} added`,
    });
    if (added !== told || ended) changedLibrary();
    told = added;
    if (ended) {
      tellEach(result?.results ?? []);
      const end = state === 'done' ? '' : state === 'cancelled' ? ' The rest was not looked at.' : ` ${error ?? ''}`;
      return change(key, {
        state: state === 'failed' ? 'problem' : 'added',
        text: `${added} of ${recordings} recordings were added.${end}`,
      });
    }
    await new Promise((resolve) => setTimeout(resolve, LOOK_AGAIN));
  }
}
