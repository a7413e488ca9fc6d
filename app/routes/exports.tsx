import { Download, RotateCw, Trash2, X } from 'lucide-react';
import { useFetcher, useLoaderData, Link, type ActionFunctionArgs } from 'react-router';
import { parseSize } from '@glimbo/core/lens/format';
import { CODECS, COMPARISONS, type ClipSettings } from '@glimbo/core/take/clip';
import { listJobs, type Job } from '~/db/jobs';
import { findTake } from '~/db/takes';
import { cancelJob, enqueue, removeJob, repeatJob, type JobEvent } from '~/jobs/queue';
import { clock, left, rateText } from '~/ui/format';
import { PageHeader } from '~/ui/Header';
import { useJobs } from '~/ui/useJobs';

export async function loader() {
  return { exports: (await listJobs()).filter((j) => j.kind === 'export') };
}

export const meta = () => [{ title: 'Exports - Glimbo' }];

export async function action({ request }: ActionFunctionArgs) {
  const form = await request.formData();
  const id = String(form.get('id'));
  switch (form.get('intent')) {
    case 'export':
      return startExport(String(form.get('takeId')), String(form.get('settings')));
    case 'cancel':
      await cancelJob(id);
      return {};
    case 'again':
      await repeatJob(id);
      return {};
    case 'remove':
      await removeJob(id);
      return {};
  }
  return {};
}

async function startExport(takeId: string, text: string) {
  const found = await findTake(takeId);
  if (!found) return { problem: 'The take is gone.' };
  const { record, history } = found;
  const take = history.steps[history.at]!;
  let settings: ClipSettings;
  try {
    settings = JSON.parse(text) as ClipSettings;
    parseSize(`${settings.width}x${settings.height}`);
  } catch (error) {
    return { problem: error instanceof RangeError ? error.message : 'These settings could not be read.' };
  }
  const inside = (v: number | undefined, low: number, high: number) => v === undefined || (v >= low && v <= high);
  if (
    !CODECS.includes(settings.codec) ||
    (settings.compare !== undefined && !COMPARISONS.includes(settings.compare)) ||
    !inside(settings.rate, 1, 240) ||
    !inside(settings.quality, 0, 51) ||
    !inside(settings.bitRate, 1e5, 5e8)
  ) {
    return { problem: 'A setting is out of its range. Nothing was exported.' };
  }
  await enqueue({
    kind: 'export',
    params: { take, settings, name: record.name, file: 'clip.mp4' },
    footageId: record.footageId,
    takeId,
  });
  return {};
}

export default function Exports() {
  const { exports } = useLoaderData<typeof loader>();
  const events = useJobs();
  return (
    <>
      <PageHeader />
      <main className="mx-auto max-w-5xl p-5">
        <h1 className="mb-4 text-lg font-semibold">Exports</h1>
        {exports.length === 0 && (
          <p className="text-muted">
            No exports yet. Open a take from the <Link className="underline" to="/">Library</Link>, go to its Export station, and press Export clip.
          </p>
        )}
        <ul className="grid gap-3">
          {exports.map((job) => (
            <Export key={job.id} job={job} event={events.get(job.id)} />
          ))}
        </ul>
      </main>
    </>
  ); // prettier-ignore
}

const STATES: Record<Job['state'], string> = {
  queued: 'waiting',
  running: 'exporting',
  done: 'finished',
  failed: 'failed',
  cancelled: 'cancelled',
};

function Export({ job, event }: { job: Job; event: JobEvent | undefined }) {
  const fetcher = useFetcher();
  const state = event && event.state !== 'removed' ? event.state : job.state;
  const progress = event?.progress ?? job.progress;
  const settings = job.params.settings as ClipSettings;
  const report = job.result as { seconds: number; frames: number } | null;
  const act = (intent: string, icon: React.ReactNode, name: string) => (
    <button className="button" onClick={() => void fetcher.submit({ intent, id: job.id }, { method: 'post' })}>
      {icon} {name}
    </button>
  );
  return (
    <li className="flex gap-4 border border-rule bg-sheet p-3" data-testid="export">
      <div className="grid h-40 w-64 shrink-0 place-items-center bg-well">
        {state === 'done' ? (
          <video
            className="max-h-full max-w-full"
            src={`/media/exports/${job.id}`}
            controls
            preload="metadata"
            aria-label={`${String(job.params.name)}, exported clip`}
          />
        ) : (
          <span className="figure text-white/80">
            {state === 'running' ? `${Math.round(progress * 100)} %` : STATES[state]}
          </span>
        )}
      </div>
      <div className="flex min-w-0 flex-1 flex-col">
        <h2 className="truncate font-semibold">{String(job.params.name)}</h2>
        <p className="figure mt-1 text-muted">
          {settings.width} × {settings.height} · {rateText(settings.rate ?? 30)} ·{' '}
          {settings.codec === 'h265' ? 'H.265' : 'H.264'} ·{' '}
          {settings.bitRate ? `${settings.bitRate / 1e6} Mbit/s` : `quality ${settings.quality}`}
          {report && ` · ${clock(report.seconds)}, ${report.frames} frames`}
        </p>
        <p className="mt-1 text-muted" role="status">
          {STATES[state]}
          {state === 'running' && event?.left ? `, ${left(event.left)}` : ''}
          {job.ended && state === 'done' ? ` in ${clock((job.ended - (job.started ?? job.ended)) / 1000, 0)}` : ''}
        </p>
        {state === 'running' && (
          <div className="bar mt-2">
            <div style={{ width: `${progress * 100}%` }} />
          </div>
        )}
        {state === 'failed' && <p className="mt-1 text-camera">{event?.error ?? job.error}</p>}
        <div className="mt-auto flex gap-2 pt-2">
          {state === 'done' && (
            <a className="button" href={`/media/exports/${job.id}?download`}>
              <Download size={14} /> Download
            </a>
          )}
          {(state === 'running' || state === 'queued') && act('cancel', <X size={14} />, 'Cancel')}
          {(state === 'done' || state === 'failed' || state === 'cancelled') &&
            act('again', <RotateCw size={14} />, 'Export again')}
          {(state === 'done' || state === 'failed' || state === 'cancelled') &&
            act('remove', <Trash2 size={14} />, 'Remove')}
          {job.takeId && (
            <Link className="button" to={`/studio/${job.takeId}?station=export`}>
              Open the take
            </Link>
          )}
        </div>
      </div>
    </li>
  );
}
