/** Over the Sweep, where it is to show activity and what moves is not known: one press has it found. */
import { isWhole } from '~/model/footage';
import { useJob } from '~/ui/job-events';
import { useStudio } from '../../state/store';
import { useWork } from '../../state/work';
import { useFindSubjects } from './useFound';

export function ActivityNotYet() {
  const asked = useStudio((s) => s.sweepReading === 'activity' && s.found === null);
  return asked && <NotYet />;
}

function NotYet() {
  const { footage, finding, found } = useWork();
  const job = useJob(finding);
  const find = useFindSubjects();
  // It is known, and on its way.
  if (found !== null) return null;
  const words = !isWhole(footage)
    ? 'What moves is looked for in the proxy, which is still being made.'
    : job?.going
      ? `What moves is being looked for: ${Math.round(job.progress * 100)} %`
      : 'What moves in this footage is not known yet.';
  return (
    <div className="pointer-events-none absolute inset-x-0 top-3 flex justify-center" data-testid="activity-not-yet">
      <div className="pointer-events-auto flex items-center gap-2 border border-edge bg-sheet px-2 py-1" role="status">
        {words}
        {isWhole(footage) && !job?.going && (
          <button className="button h-6!" onClick={() => void find()}>
            Find what moves
          </button>
        )}
      </div>
    </div>
  );
}
