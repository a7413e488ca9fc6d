/** What is being made of a footage, or what went wrong with it. */
import { useFetcher } from 'react-router';
import type { JobEvent } from '~/jobs/events';
import type { LibraryFootage } from '~/server/library';
import { left } from '~/ui/format';

interface StateProps {
  footage: LibraryFootage;
  event: JobEvent | undefined;
}

/** What is known of the latest gathering: what came in last, else what the page was loaded with. */
export function gatherState({ footage: { job }, event }: StateProps) {
  const state = event && event.state !== 'removed' ? event.state : job?.state;
  return { state, progress: event?.progress ?? job?.progress ?? 0, error: event?.error ?? job?.error ?? null };
}

export function GatherState(props: StateProps) {
  const { footage, event } = props;
  const { state, progress, error } = gatherState(props);
  const fetcher = useFetcher();
  if (state === 'failed' || state === 'cancelled')
    return (
      <div className="m-auto max-w-80 p-3 text-center">
        <p>{state === 'failed' ? error : 'The proxy was cancelled; the footage is kept.'}</p>
        <fetcher.Form method="post" action="/?index" className="mt-2">
          <input type="hidden" name="footage" value={footage.id} />
          <button className="button text-ink" name="intent" value="gather-again">
            Try again
          </button>
        </fetcher.Form>
      </div>
    );
  return (
    <div className="m-auto w-60 text-center">
      <p>{state === 'running' ? 'Making proxy and Sweep' : 'Waiting for its proxy'}</p>
      <div className="my-2 h-[3px] bg-white/20">
        <div className="h-full bg-white" style={{ width: `${progress * 100}%` }} />
      </div>
      <p className="figure opacity-80">
        {state === 'running' ? `${Math.round(progress * 100)} % ${left(event?.left ?? null)}` : ' '}
      </p>
      {footage.job && (
        <fetcher.Form method="post" action={`/jobs/${footage.job.id}`} className="mt-1">
          <button className="underline" name="intent" value="cancel">
            Cancel
          </button>
        </fetcher.Form>
      )}
    </div>
  );
}
