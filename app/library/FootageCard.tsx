/** A footage as a wide card: its strip of the sphere, its Sweep, its facts and what is being done with it. */
import { AlertTriangle } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import { useFetcher } from 'react-router';
import type { Footage } from '~/db/footage';
import type { Job } from '~/db/jobs';
import type { JobEvent } from '~/jobs/queue';
import { bytes, clock, left, rateText } from '~/ui/format';

export function FootageCard({
  footage,
  job,
  event,
  children,
}: {
  footage: Footage;
  job: Job | null;
  event: JobEvent | undefined;
  children: ReactNode;
}) {
  const { facts, gathered } = footage;
  const [thumb, setThumb] = useState(1);
  const fetcher = useFetcher();
  const state = event && event.state !== 'removed' ? event.state : job?.state;
  const progress = event?.progress ?? job?.progress ?? 0;
  const media = `/media/footage/${footage.id}`;
  return (
    <li className="flex flex-col border border-rule bg-sheet" data-testid="footage">
      <div
        className="relative flex h-44 bg-well"
        onPointerMove={(e) => {
          if (!gathered) return;
          const box = e.currentTarget.getBoundingClientRect();
          setThumb(
            1 +
              Math.min(
                gathered.thumbnails.count - 1,
                Math.floor(((e.clientX - box.left) / box.width) * gathered.thumbnails.count),
              ),
          );
        }}
      >
        {gathered ? (
          <>
            <img
              className="h-full min-w-0 flex-1 object-cover"
              src={`${media}/thumb-${String(thumb).padStart(4, '0')}.jpg`}
              alt={`${footage.name}, the whole sphere flat`}
              draggable={false}
            />
            <img
              className="h-full w-28 border-l border-black/60"
              src={`${media}/sweep.png`}
              alt={`Sweep of ${footage.name}`}
              draggable={false}
            />
          </>
        ) : (
          <div className="m-auto w-64 text-center text-white">
            {state === 'failed' || state === 'cancelled' ? (
              <>
                <p>
                  {state === 'failed' ? (event?.error ?? job?.error) : 'The proxy was cancelled; the footage is kept.'}
                </p>
                <fetcher.Form method="post" action="/?index" className="mt-2">
                  <input type="hidden" name="footage" value={footage.id} />
                  <button className="button text-ink" name="intent" value="gather-again">
                    Try again
                  </button>
                </fetcher.Form>
              </>
            ) : (
              <>
                <p>{state === 'running' ? 'Making proxy, thumbnails and Sweep' : 'Waiting for its proxy'}</p>
                <div className="my-2 h-[3px] bg-white/20">
                  <div className="h-full bg-white" style={{ width: `${progress * 100}%` }} />
                </div>
                <p className="figure opacity-80">
                  {state === 'running' ? `${Math.round(progress * 100)} % ${left(event?.left ?? null)}` : ' '}
                </p>
                {job && (
                  <fetcher.Form method="post" action="/exports" className="mt-1">
                    <input type="hidden" name="id" value={job.id} />
                    <button className="underline" name="intent" value="cancel">
                      Cancel
                    </button>
                  </fetcher.Form>
                )}
              </>
            )}
          </div>
        )}
      </div>
      <div className="flex items-center gap-3 p-3">
        <div className="min-w-0 flex-1">
          <h2 className="truncate font-semibold">{footage.name}</h2>
          <p className="figure truncate text-muted">
            {clock(facts.duration)} · {facts.width} × {facts.height} · {rateText(facts.rate)} · {facts.codec} ·{' '}
            {bytes(facts.size)}
          </p>
          {footage.variableRate && (
            <p className="flex items-center gap-1 text-muted">
              <AlertTriangle size={12} /> variable frame rate, made constant
            </p>
          )}
        </div>
        {children}
      </div>
    </li>
  );
}
