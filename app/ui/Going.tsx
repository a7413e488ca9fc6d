/** How far a piece of work is that somebody waits for, and stopping it. */
import { useRevalidator } from 'react-router';
import { left } from './format';
import type { LiveJob } from './job-events';
import { Progress } from './Progress';
import { stopJob } from './send';

interface GoingProps {
  /** What is stopped. */
  id: string;
  /** How far it is; what comes before it, as long as it waits for that. */
  job: LiveJob;
  /** What is done, while it is. */
  words: string;
  label: string;
  testId: string;
  onStop?: () => void;
}

export function Going({ id, job, words, label, testId, onStop }: GoingProps) {
  const { revalidate } = useRevalidator();
  const stop = async () => {
    onStop?.();
    await stopJob(id);
    await revalidate();
  };
  return (
    <div className="flex items-center gap-3" data-testid={testId}>
      <span role="status" className="flex-none">
        {job.state === 'queued' ? 'Waiting for its turn' : words}
      </span>
      <Progress label={label} share={job.progress} className="min-w-10 flex-1" />
      <span className="figure text-muted">
        {Math.round(job.progress * 100)} % {left(job.left)}
      </span>
      <button className="button" onClick={() => void stop()}>
        Cancel
      </button>
    </div>
  );
}
