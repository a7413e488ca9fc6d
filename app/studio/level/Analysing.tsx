/** How far the motion analysis of the footage is, and stopping it. */
import { useRevalidator } from 'react-router';
import { left } from '~/ui/format';
import type { LiveJob } from '~/ui/job-events';
import { Progress } from '~/ui/Progress';
import { stopJob } from '~/ui/send';

interface AnalysingProps {
  id: string;
  job: LiveJob;
  onStop?: () => void;
}

export function Analysing({ id, job, onStop }: AnalysingProps) {
  const { revalidate } = useRevalidator();
  const stop = async () => {
    onStop?.();
    await stopJob(id);
    await revalidate();
  };
  return (
    <div className="flex items-center gap-3" data-testid="analysing">
      <span role="status">{job.state === 'queued' ? 'Waiting for its turn' : 'Analysing the motion'}</span>
      <Progress label="Motion analysis" share={job.progress} className="flex-1" />
      <span className="figure text-muted">
        {Math.round(job.progress * 100)} % {left(job.left)}
      </span>
      <button className="button" onClick={() => void stop()}>
        Cancel
      </button>
    </div>
  );
}
