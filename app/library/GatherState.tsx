/** What is being made of a footage, or what went wrong with it. */
import { useFetcher } from 'react-router';
import { left } from '~/ui/format';
import { useJob } from '~/ui/job-events';
import { Progress } from '~/ui/Progress';
import type { LibraryFootage } from '~/model/footage';

export function GatherState({ footage }: { footage: LibraryFootage }) {
  const job = useJob(footage.job);
  const fetcher = useFetcher();
  if (job?.state === 'failed' || job?.state === 'cancelled')
    return (
      <div className="m-auto max-w-80 p-3 text-center">
        <p>{job.state === 'failed' ? job.error : 'The proxy was cancelled; the footage is kept.'}</p>
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
      <p>{job?.state === 'running' ? 'Making proxy and Sweep' : 'Waiting for its proxy'}</p>
      <Progress label={`Proxy of ${footage.name}`} share={job?.progress ?? 0} className="my-2" overPicture />
      <p className="figure opacity-80">
        {job?.state === 'running' ? `${Math.round(job.progress * 100)} % ${left(job.left)}` : ' '}
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
