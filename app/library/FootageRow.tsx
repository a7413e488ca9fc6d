/** A footage as one line of the list. */
import { bytes, clock, rateText } from '~/ui/format';
import { useJob } from '~/ui/job-events';
import { Actions } from './Actions';
import { Remarks, type FootageProps } from './FootageCard';
import { Thumbnails } from './Thumbnails';

export function FootageRow({ footage, missing, takes, onInfo }: FootageProps) {
  const job = useJob(footage.job);
  return (
    <article
      className="flex min-w-0 items-center gap-3 border-b border-rule bg-sheet pr-2"
      data-testid="footage"
      data-whole={footage.reach >= footage.duration || undefined}
      aria-label={footage.name}
    >
      <div className="h-12 w-24 shrink-0 bg-well text-white">
        {footage.thumbnails ? (
          <Thumbnails footage={footage} />
        ) : (
          <span className="figure grid h-full place-items-center">
            {job?.state === 'failed' ? 'failed' : `${Math.round((job?.progress ?? 0) * 100)} %`}
          </span>
        )}
      </div>
      <div className="min-w-0 flex-1">
        <h2 className="truncate font-semibold" title={footage.name}>
          {footage.name}
        </h2>
        <p className="flex items-center gap-2 overflow-hidden whitespace-nowrap text-muted">
          <Remarks footage={footage} missing={missing} />
        </p>
      </div>
      <span className="figure w-16 text-right">{clock(footage.duration)}</span>
      <span className="figure hidden w-28 text-right text-muted xl:block">
        {footage.width} × {footage.height}
      </span>
      <span className="figure hidden w-16 text-right text-muted xl:block">{rateText(footage.rate)}</span>
      <span className="figure w-18 text-right text-muted">{bytes(footage.size)}</span>
      <Actions footage={footage} takes={takes} onInfo={onInfo} />
    </article>
  );
}
