import { useEffect } from 'react';
import { ArrowUpToLine, Download, RotateCw, Trash2, X } from 'lucide-react';
import { useFetcher, useLoaderData, Link, type ActionFunctionArgs, type LoaderFunctionArgs } from 'react-router';
import { amountInWords, codecFacts } from '@glimbo/core/export/codecs';
import type { ClipSettings } from '@glimbo/core/export/settings';
import { inFormat } from '@glimbo/core/take/formats';
import type { Take } from '@glimbo/core/take/take';
import { readClipSettings } from '@glimbo/core/export/validate-settings';
import { jobsOf, SHOWN, waitingInOrder } from '~/db/jobs';
import { presentTake } from '~/db/takes';
import { queue } from '~/queue/queue';
import { handled, readForm, Refusal } from '~/server/answer';
import { bytes, clock, left, rateText } from '~/ui/format';
import { PageHeader } from '~/ui/Header';
import { keepLast } from '~/ui/keep-last';
import { useJob, useJobEvents } from '~/ui/job-events';
import { Progress } from '~/ui/Progress';
import { EXPORT_STATES, waitingWords } from '~/ui/export-words';
import type { Job, JobEvent } from '~/model/job';

export async function loader({ request }: LoaderFunctionArgs) {
  const before = Number(new URL(request.url).searchParams.get('before') ?? Infinity);
  const found = await jobsOf({ kind: 'export' }, SHOWN + 1, before);
  const exports = found.slice(0, SHOWN);
  const waiting = await waitingInOrder('export');
  return {
    exports,
    waiting,
    newest: !Number.isFinite(before),
    older: found.length > SHOWN ? exports.at(-1)!.created : null,
  };
}

const last = keepLast<Awaited<ReturnType<typeof loader>>>();
export const clientLoader = last.clientLoader;

export const meta = () => [{ title: 'Exports - Glimbo' }];

/** The clips that are asked for: one of the take as it is, or several of formats of it. */
function wanted(form: FormData): { aspect?: unknown; settings: unknown }[] {
  try {
    const one = form.get('settings');
    const clips: unknown = one ? [{ settings: JSON.parse(String(one)) }] : JSON.parse(String(form.get('clips')));
    if (
      Array.isArray(clips) &&
      clips.length > 0 &&
      clips.length <= 12 &&
      clips.every((c) => typeof c === 'object' && c)
    )
      return clips as { aspect?: unknown; settings: unknown }[];
  } catch {
    // Told below.
  }
  throw new Refusal('Nothing was exported: the settings could not be read.', 400);
}

function formatted(take: Take, aspect: string): Take {
  try {
    return inFormat(take, aspect);
  } catch (error) {
    throw new Refusal(`Nothing was exported. ${(error as Error).message}`);
  }
}

export const action = handled(async ({ request }: ActionFunctionArgs) => {
  const form = await readForm(request);
  if (form.get('intent') !== 'export') throw new Refusal('That is not known here.', 400);
  const found = await presentTake(String(form.get('takeId')));
  if (!found) throw new Refusal('The take is gone.', 404);
  const { record, take } = found;
  // All are read before the first is begun: nothing is exported by halves.
  const clips = wanted(form).map(({ aspect, settings }) => ({
    take: aspect === undefined ? take : formatted(take, String(aspect)),
    settings: readClipSettings(settings),
  }));
  for (const { take: of, settings } of clips) {
    const name = clips.length > 1 ? `${record.name}, ${of.frame.aspect.replace(':', ' to ')}` : record.name;
    await queue().add({
      kind: 'export',
      params: { take: of, settings, name },
      footageId: record.footageId,
      takeId: record.id,
    });
  }
  return {};
});

const isExport = ({ kind }: JobEvent) => kind === 'export';

export default function Exports() {
  const loaded = useLoaderData<typeof loader>();
  useEffect(() => last.remember(loaded), [loaded]);
  const { exports, waiting, newest, older } = loaded;
  useJobEvents(isExport);
  return (
    <>
      <PageHeader />
      <main className="mx-auto max-w-5xl p-5">
        <h1 className="mb-4 text-lg font-semibold">Exports</h1>
        {exports.length === 0 && newest && (
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
            <Export key={job.id} job={job} before={waiting.indexOf(job.id)} />
          ))}
        </ul>
        {(!newest || older !== null) && (
          <nav className="mt-4 flex gap-2" aria-label="More exports">
            {!newest && (
              <Link className="button" to="/exports">
                Newest
              </Link>
            )}
            {older !== null && (
              <Link className="button" to={`/exports?before=${older}`}>
                Older
              </Link>
            )}
          </nav>
        )}
      </main>
    </>
  );
}

/** `before`: how many are begun before it while it waits. */
function Export({ job, before }: { job: Job; before: number }) {
  const fetcher = useFetcher();
  const live = useJob(job)!;
  const { progress, picture, error } = live;
  const state = live.state === 'removed' ? job.state : live.state;
  const settings = job.params.settings as ClipSettings;
  const amount = amountInWords(settings.codec, settings);
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
      <div className="grid h-40 w-64 shrink-0 grid-rows-[100%] place-items-center overflow-hidden bg-well">
        {state === 'done' ? (
          <video
            className="max-h-full max-w-full"
            src={`/media/exports/${job.id}`}
            controls
            preload="metadata"
            aria-label={`${String(job.params.name)}, exported clip`}
          />
        ) : state === 'running' && picture ? (
          <img
            className="max-h-full max-w-full"
            src={`/media/exports/${job.id}/now?n=${picture}`}
            alt="The frame being written"
            data-testid="frame-being-written"
          />
        ) : (
          <span className="figure text-white/80">
            {state === 'running' ? `${Math.round(progress * 100)} %` : EXPORT_STATES[state]}
          </span>
        )}
      </div>
      <div className="flex min-w-0 flex-1 flex-col">
        <h2 className="truncate font-semibold">{String(job.params.name)}</h2>
        <p className="figure mt-1 text-muted">
          {settings.width} × {settings.height} · {rateText(settings.rate ?? 30)} · {codecFacts(settings.codec).label}
          {amount && ` · ${amount}`}
          {report &&
            ` · ${clock(report.seconds)}, ${report.frames} frames${report.bytes ? ` · ${bytes(report.bytes)}` : ''}`}
        </p>
        <p className="mt-1 text-muted">
          <span role="status">{state === 'queued' && before >= 0 ? waitingWords(before) : EXPORT_STATES[state]}</span>
          {state === 'running' && live.left ? `, ${left(live.left)}` : ''}
          {job.ended && state === 'done' ? ` in ${clock((job.ended - (job.started ?? job.ended)) / 1000, 0)}` : ''}
        </p>
        {state === 'running' && (
          <Progress label={`Export of ${String(job.params.name)}`} share={progress} className="mt-2" />
        )}
        {state === 'failed' && <p className="mt-1 text-error">{error}</p>}
        <div className="mt-auto flex gap-2 pt-2">
          {state === 'done' && (
            <a className="button" href={`/media/exports/${job.id}?download`}>
              <Download size={14} /> Download
            </a>
          )}
          {state === 'queued' && before > 0 && act('ahead', <ArrowUpToLine size={14} />, 'Export next')}
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
