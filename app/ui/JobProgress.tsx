/** One job as a row: what it does, how far it is, and what can be done about it. */
import { useFetcher } from 'react-router';
import type { Job } from '~/model/job';
import { left } from './format';
import { useJob } from './job-events';
import { Progress } from './Progress';

export function JobProgress({ job, name }: { job: Job; name: string }) {
  const fetcher = useFetcher();
  const { state, progress, error, going, left: seconds } = useJob(job)!;
  const act = (intent: string) => void fetcher.submit({ intent }, { method: 'post', action: `/jobs/${job.id}` });
  return (
    <div className="flex items-center gap-3 border-t border-rule py-2" data-testid="job">
      <span className="font-medium">{name}</span>
      {going ? (
        <>
          <Progress label={name} share={progress} className="flex-1" />
          <span className="figure text-muted">
            {state === 'queued' ? 'waiting' : `${Math.round(progress * 100)} % ${left(seconds)}`}
          </span>
          <button className="button" onClick={() => act('cancel')}>
            Cancel
          </button>
        </>
      ) : (
        <>
          <span role="status" className={`flex-1 ${state === 'failed' ? 'text-error' : 'text-muted'}`}>
            {state === 'failed' ? error : state === 'cancelled' ? 'Cancelled; what was done before is kept.' : 'Done.'}
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
