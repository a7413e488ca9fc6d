/** The room of the Frame: the Frame itself, and what is still to come of its picture. */
import { isWhole, reachOf } from '~/model/footage';
import { clock, left } from '~/ui/format';
import { useJob } from '~/ui/job-events';
import { Kept as Boundary } from '~/ui/Kept';
import { Progress } from '~/ui/Progress';
import { playableIn, useStudio } from '../state/store';
import { useWork } from '../state/work';
import { FrameView } from './FrameView';
import { LargeFrame } from './LargeFrame';

export function FrameRoom({ take }: { take: string }) {
  const whole = useStudio((s) => isWhole(s.footage));
  return (
    <>
      <LargeFrame>
        <Boundary name="The Frame" of={take}>
          <FrameView />
        </Boundary>
      </LargeFrame>
      {!whole && <Growing />}
    </>
  );
}

/** How far the proxy has come: it is used as far as it is there, and beyond it the original's frames are shown one by one. */
function Growing() {
  const job = useJob(useWork().gathering);
  const footage = useStudio((s) => s.footage);
  const reach = reachOf(footage);
  const beyond = useStudio((s) => s.time >= playableIn(s));
  const original = useStudio((s) => s.playsOriginal);
  const companion = !original && footage.gathered?.companion;
  if (job && !job.going && reach === 0 && !companion)
    return (
      <div className="absolute inset-0 grid place-items-center bg-well text-white">
        <p className="max-w-sm text-center">
          {job.state === 'failed' ? job.error : 'There is no proxy: it was cancelled. Make it in the Library.'}
        </p>
      </div>
    );
  return (
    <div
      className="absolute bottom-3 left-3 w-64 bg-black/75 px-2.5 py-1 text-white"
      data-testid="growing"
      role="status"
    >
      <p className="flex justify-between gap-3">
        <span>
          Proxy{' '}
          <span className="figure">
            {clock(reach, 0)} of {clock(footage.facts.duration, 0)}
          </span>
        </span>
        <span>{left(job?.left ?? null)}</span>
      </p>
      <Progress label="Proxy" share={job?.progress ?? 0} className="my-1" overPicture />
      {beyond && <p className="text-[11px]">Beyond the proxy: single frames of the original.</p>}
      {original && <p className="text-[11px]">Until then the original is played.</p>}
      {companion && <p className="text-[11px]">Until then its companion of low resolution is played.</p>}
    </div>
  );
}
