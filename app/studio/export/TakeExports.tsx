/** The exports of this take, how far they are, and what came of them. */
import { Link, useFetcher } from 'react-router';
import type { ClipSettings } from '@glimbo/core/export/settings';
import type { Job } from '~/model/job';
import { EXPORT_STATES } from '~/ui/export-words';
import { bytes, left } from '~/ui/format';
import { useJob, type LiveJob } from '~/ui/job-events';
import { Progress } from '~/ui/Progress';
import { useWork } from '../state/work';

export function TakeExports() {
  const { exports } = useWork();
  return (
    <section className="overflow-auto p-3" aria-label="Exports of this take">
      <h2 className="label mb-2">Exports of this take</h2>
      {exports.length === 0 && <p className="text-muted">None yet. They stay here and under Exports.</p>}
      <ul>
        {exports.map((job) => (
          <Export key={job.id} job={job} />
        ))}
      </ul>
      <Link className="underline" to="/exports">
        All exports
      </Link>
    </section>
  );
}

/** How it stands, in a few words. */
function words({ state, progress, left: seconds }: LiveJob, result: Job['result']): string {
  if (state === 'running') return `${Math.round(progress * 100)} %, ${left(seconds) || 'starting'}`;
  if (state === 'done') return `finished${result?.bytes ? `, ${bytes(Number(result.bytes))}` : ''}`;
  return state === 'removed' ? '' : EXPORT_STATES[state];
}

function Export({ job }: { job: Job }) {
  const fetcher = useFetcher();
  const live = useJob(job)!;
  const { state, progress, picture, error, going } = live;
  const { width, height, sphere } = job.params.settings as ClipSettings;
  return (
    <li className="mb-2 border-b border-rule pb-2">
      <div className="flex items-center gap-2">
        <span className="figure whitespace-nowrap">
          {width} × {height}
          {sphere && <span className="font-sans"> sphere</span>}
        </span>
        <span className="flex-1 text-right text-muted">{words(live, job.result)}</span>
        {state === 'done' && (
          <a className="underline" href={`/media/exports/${job.id}?download`}>
            Download
          </a>
        )}
        {going && (
          <fetcher.Form method="post" action={`/jobs/${job.id}`}>
            <button className="underline" name="intent" value="cancel">
              Cancel
            </button>
          </fetcher.Form>
        )}
      </div>
      {state === 'running' && picture && (
        <img
          className="mt-1 max-h-24 bg-well"
          src={`/media/exports/${job.id}/now?n=${picture}`}
          alt="The frame being written"
        />
      )}
      {state === 'running' && <Progress label={`Export ${width} × ${height}`} share={progress} className="mt-1" />}
      {state === 'failed' && <p className="text-error">{error}</p>}
    </li>
  );
}
