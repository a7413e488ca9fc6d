/** One job as a row: what it does, how far it is, and what can be done about it. */
import { useFetcher } from 'react-router';
import type { Job } from '~/db/jobs';
import type { JobEvent } from '~/jobs/events';
import { left } from './format';

export function JobProgress({ job, event, name }: { job: Job; event: JobEvent | undefined; name: string }) {
  const fetcher = useFetcher();
  const state = event?.state ?? job.state;
  const progress = event?.progress ?? job.progress;
  const act = (intent: string) => void fetcher.submit({ intent }, { method: 'post', action: `/jobs/${job.id}` });
  const going = state === 'running' || state === 'queued';
  return (
    <div className="flex items-center gap-3 border-t border-rule py-2" role="status" data-testid="job">
      <span className="font-medium">{name}</span>
      {going ? (
        <>
          <div className="bar flex-1">
            <div style={{ width: `${progress * 100}%` }} />
          </div>
          <span className="figure text-muted">
            {state === 'queued' ? 'waiting' : `${Math.round(progress * 100)} % ${left(event?.left ?? null)}`}
          </span>
          <button className="button" onClick={() => act('cancel')}>
            Cancel
          </button>
        </>
      ) : (
        <>
          <span className={`flex-1 ${state === 'failed' ? 'text-camera' : 'text-muted'}`}>
            {state === 'failed'
              ? (event?.error ?? job.error)
              : state === 'cancelled'
                ? 'Cancelled; what was done before is kept.'
                : 'Done.'}
          </span>
          {state !== 'done' && (
            <button className="button" onClick={() => act('again')}>
              Try again
            </button>
          )}
          <button className="button" onClick={() => act('remove')}>
            Close
          </button>
        </>
      )}
    </div>
  );
}

/** What a copy from a card is called. */
export const copyName = (job: Job) => {
  const n = (job.params.recordings as unknown[]).length;
  return `Copying ${n} ${n === 1 ? 'recording' : 'recordings'} from the card`;
};
