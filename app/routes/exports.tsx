import { useEffect } from 'react';
import { Download, RotateCw, Trash2, X } from 'lucide-react';
import { useFetcher, useLoaderData, Link, type ActionFunctionArgs } from 'react-router';
import { CODEC_NAMES, type ClipSettings } from '@glimbo/core/take/clip';
import { present } from '@glimbo/core/take/history';
import { readClipSettings } from '@glimbo/core/take/validate-clip';
import { listJobs, type Job } from '~/db/jobs';
import { findTake } from '~/db/takes';
import type { JobEvent } from '~/jobs/events';
import { enqueue } from '~/jobs/queue';
import { handled, readForm, Refusal } from '~/server/answer';
import { bytes, clock, left, rateText } from '~/ui/format';
import { PageHeader } from '~/ui/Header';
import { keepLast } from '~/ui/keep-last';
import { useJobs } from '~/ui/useJobs';

export async function loader() {
  return { exports: (await listJobs()).filter((j) => j.kind === 'export') };
}

const last = keepLast<Awaited<ReturnType<typeof loader>>>();
export const clientLoader = last.clientLoader;

export const meta = () => [{ title: 'Exports - Glimbo' }];

export const action = handled(async ({ request }: ActionFunctionArgs) => {
  const form = await readForm(request);
  if (form.get('intent') !== 'export') throw new Refusal('That is not known here.', 400);
  const found = await findTake(String(form.get('takeId')));
  if (!found) throw new Refusal('The take is gone.', 404);
  let plain: unknown;
  try {
    plain = JSON.parse(String(form.get('settings')));
  } catch {
    throw new Refusal('Nothing was exported: the settings could not be read.', 400);
  }
  const settings = readClipSettings(plain);
  const { record, history } = found;
  await enqueue({
    kind: 'export',
    params: { take: present(history), settings, name: record.name, file: 'clip.mp4' },
    footageId: record.footageId,
    takeId: record.id,
  });
  return {};
});

export default function Exports() {
  const loaded = useLoaderData<typeof loader>();
  useEffect(() => last.remember(loaded), [loaded]);
  const { exports } = loaded;
  const events = useJobs();
  return (
    <>
      <PageHeader />
      <main className="mx-auto max-w-5xl p-5">
        <h1 className="mb-4 text-lg font-semibold">Exports</h1>
        {exports.length === 0 && (
          <p className="text-muted">
            No exports yet. Open a take from the{' '}
            <Link className="underline" to="/">
              Library
            </Link>
            , go to its Export station, and press Export clip.
          </p>
        )}
        <ul className="grid gap-3">
          {exports.map((job) => (
            <Export key={job.id} job={job} event={events.get(job.id)} />
          ))}
        </ul>
      </main>
    </>
  );
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
  const report = job.result as { seconds: number; frames: number; bytes?: number } | null;
  const act = (intent: string, icon: React.ReactNode, name: string) => (
    <button
      className="button"
      onClick={() => void fetcher.submit({ intent }, { method: 'post', action: `/jobs/${job.id}` })}
    >
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
        ) : state === 'running' && event?.picture ? (
          <img
            className="max-h-full max-w-full"
            src={`/media/exports/${job.id}/now?n=${event.picture}`}
            alt="The frame being written"
            data-testid="frame-being-written"
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
          {settings.width} × {settings.height} · {rateText(settings.rate ?? 30)} · {CODEC_NAMES[settings.codec]}
          {settings.codec === 'prores'
            ? ''
            : settings.bitRate
              ? ` · ${settings.bitRate / 1e6} Mbit/s`
              : ` · quality ${settings.quality}`}
          {report &&
            ` · ${clock(report.seconds)}, ${report.frames} frames${report.bytes ? ` · ${bytes(report.bytes)}` : ''}`}
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
