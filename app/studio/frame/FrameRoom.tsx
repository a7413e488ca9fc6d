/** The room of the Frame: the Frame itself, or what is to be waited for until there is a picture. */
import { left } from '~/ui/format';
import { useJob } from '~/ui/job-events';
import { Kept as Boundary } from '~/ui/Kept';
import { Progress } from '~/ui/Progress';
import { useStudio } from '../state/store';
import { useWork } from '../work';
import { FrameView } from './FrameView';
import { LargeFrame } from './LargeFrame';

export function FrameRoom({ take }: { take: string }) {
  const gathered = useStudio((s) => s.footage.gathered);
  return (
    <>
      <LargeFrame>
        <Boundary name="The Frame" of={take}>
          <FrameView />
        </Boundary>
      </LargeFrame>
      {!gathered && <Waiting />}
    </>
  );
}

function Waiting() {
  const job = useJob(useWork().gathering);
  return (
    <div className="absolute inset-0 grid place-items-center bg-well text-white">
      {job?.state === 'failed' ? (
        <p className="max-w-sm text-center">{job.error}</p>
      ) : (
        <div className="w-64 text-center">
          <p>The proxy is being made.</p>
          <Progress label="Proxy" share={job?.progress ?? 0} className="my-2" overPicture />
          <p className="figure opacity-80">
            {Math.round((job?.progress ?? 0) * 100)} % {left(job?.left ?? null)}
          </p>
        </div>
      )}
    </div>
  );
}
