/** The Export station: format, size, rate and quality with the size it will give; and this take's exports. */
import { Film } from 'lucide-react';
import { useState } from 'react';
import { Link, useFetcher } from 'react-router';
import { ASPECTS, sizeOf } from '@glimbo/core/lens/format';
import { CODECS, DEFAULT_QUALITY, estimateSize, type ClipSettings, type Codec } from '@glimbo/core/take/clip';
import { frameCount } from '@glimbo/core/take/take';
import { NumberField } from '~/ui/Dial';
import { bytes, clock, left } from '~/ui/format';
import type { Job } from '~/db/jobs';
import type { JobEvent } from '~/jobs/queue';
import { useStudio, useStudioStore, useTake } from './store';

interface Choice {
  sizeClass: '1080' | '2160' | 'free';
  width: number;
  height: number;
  rate: number;
  codec: Codec;
  by: 'quality' | 'bitRate';
  quality: number;
  megabits: number;
}

export function ExportBench({ takeId, jobs, events }: { takeId: string; jobs: Job[]; events: Map<string, JobEvent> }) {
  const store = useStudioStore();
  const take = useTake();
  const saved = useStudio((s) => s.save === 'saved');
  const { facts } = store.getState().footage;
  const fetcher = useFetcher<{ problem?: string }>();
  const [c, setChoice] = useState<Choice>({
    sizeClass: '1080',
    width: 1920,
    height: 1080,
    rate: facts.rate,
    codec: 'h264',
    by: 'quality',
    quality: DEFAULT_QUALITY,
    megabits: 18,
  });
  const set = (change: Partial<Choice>) => setChoice({ ...c, ...change });
  const size =
    c.sizeClass === 'free' ? { width: c.width, height: c.height } : sizeOf(take.frame.aspect, Number(c.sizeClass));
  const settings: ClipSettings = {
    ...size,
    rate: c.rate,
    codec: c.codec,
    ...(c.by === 'quality' ? { quality: c.quality } : { bitRate: Math.round(c.megabits * 1e6) }),
  };
  const seconds = take.range.out - take.range.in;
  const estimate = estimateSize(settings, seconds, c.rate, facts.sound !== null);
  const send = () =>
    fetcher.submit(
      { intent: 'export', takeId, settings: JSON.stringify(settings) },
      { method: 'post', action: '/exports' },
    );
  const row = 'flex h-8 items-center gap-2';
  const label = 'w-20 shrink-0 text-muted';
  return (
    <div className="grid h-full grid-cols-[minmax(330px,1.2fr)_minmax(220px,1fr)] divide-x divide-rule">
      <section className="overflow-auto px-3 py-2" aria-label="Export settings">
        <div className={row}>
          <span className={label}>Format</span>
          <select
            className="field"
            aria-label="Export format"
            value={take.frame.aspect}
            onChange={(e) => store.getState().edit((t) => ({ ...t, frame: { ...t.frame, aspect: e.target.value } }))}
          >
            {[...new Set([...ASPECTS, take.frame.aspect])].map((a) => (
              <option key={a}>{a}</option>
            ))}
          </select>
          <select
            className="field"
            aria-label="Size class"
            value={c.sizeClass}
            onChange={(e) => set({ sizeClass: e.target.value as Choice['sizeClass'], ...size })}
          >
            <option value="1080">1080 class</option>
            <option value="2160">2160 class</option>
            <option value="free">Own size</option>
          </select>
          {c.sizeClass === 'free' ? (
            <>
              <NumberField
                label="Width"
                className="w-16"
                digits={0}
                min={16}
                max={8192}
                value={c.width}
                onCommit={(v) => set({ width: Math.round(v / 2) * 2 })}
              />
              ×
              <NumberField
                label="Height"
                className="w-16"
                digits={0}
                min={16}
                max={8192}
                value={c.height}
                onCommit={(v) => set({ height: Math.round(v / 2) * 2 })}
              />
            </>
          ) : (
            <span className="figure">
              {size.width} × {size.height}
            </span>
          )}
        </div>
        <div className={row}>
          <span className={label}>Frame rate</span>
          <NumberField
            label="Frame rate"
            className="w-20"
            digits={2}
            min={1}
            max={240}
            unit=" fps"
            value={c.rate}
            onCommit={(rate) => set({ rate })}
          />
          <span className="text-muted">footage: {Number(facts.rate.toFixed(2))}</span>
        </div>
        <div className={row}>
          <span className={label}>Codec</span>
          <select
            className="field"
            aria-label="Codec"
            value={c.codec}
            onChange={(e) => set({ codec: e.target.value as Codec })}
          >
            {CODECS.map((k) => (
              <option key={k} value={k}>
                {k === 'h264' ? 'H.264 in MP4' : 'H.265 in MP4'}
              </option>
            ))}
          </select>
        </div>
        <div className={row}>
          <span className={label}>Amount</span>
          <select
            className="field"
            aria-label="Quality or bit rate"
            value={c.by}
            onChange={(e) => set({ by: e.target.value as Choice['by'] })}
          >
            <option value="quality">by quality</option>
            <option value="bitRate">by bit rate</option>
          </select>
          {c.by === 'quality' ? (
            <>
              <NumberField
                label="Quality"
                className="w-14"
                digits={0}
                min={0}
                max={51}
                value={c.quality}
                onCommit={(quality) => set({ quality })}
              />
              <span className="whitespace-nowrap text-muted">0 best, to 51</span>
            </>
          ) : (
            <NumberField
              label="Bit rate"
              className="w-24"
              digits={1}
              min={0.1}
              max={500}
              unit=" Mbit/s"
              value={c.megabits}
              onCommit={(megabits) => set({ megabits })}
            />
          )}
        </div>
        <div className="mt-2 flex flex-wrap items-center gap-2">
          <button className="button main h-8!" onClick={send} disabled={!saved || fetcher.state !== 'idle'}>
            <Film size={14} /> Export clip
          </button>
          <span className="figure whitespace-nowrap">
            {c.by === 'quality' ? 'about ' : ''}
            {bytes(estimate)}
          </span>
          <span className="figure whitespace-nowrap text-muted">
            {clock(seconds)}, {frameCount(take.range, c.rate)} frames
          </span>
        </div>
        {fetcher.data?.problem && <p className="mt-2 text-camera">{fetcher.data.problem}</p>}
      </section>
      <section className="overflow-auto p-3" aria-label="Exports of this take">
        <h2 className="label mb-2">Exports of this take</h2>
        {jobs.length === 0 && <p className="text-muted">None yet. They stay here and under Exports.</p>}
        {jobs.map((job) => {
          const event = events.get(job.id);
          const state = event && event.state !== 'removed' ? event.state : job.state;
          const progress = event?.progress ?? job.progress;
          const s = job.params.settings as ClipSettings;
          return (
            <div key={job.id} className="mb-2 border-b border-rule pb-2">
              <div className="flex items-center gap-2">
                <span className="figure">
                  {s.width} × {s.height}
                </span>
                <span className="flex-1 text-right text-muted">
                  {state === 'running'
                    ? `${Math.round(progress * 100)} %, ${left(event?.left ?? null) || 'starting'}`
                    : state === 'done'
                      ? 'finished'
                      : state}
                </span>
                {state === 'done' && (
                  <a className="underline" href={`/media/exports/${job.id}?download`}>
                    Download
                  </a>
                )}
                {(state === 'running' || state === 'queued') && (
                  <fetcher.Form method="post" action="/exports">
                    <input type="hidden" name="id" value={job.id} />
                    <button className="underline" name="intent" value="cancel">
                      Cancel
                    </button>
                  </fetcher.Form>
                )}
              </div>
              {state === 'running' && (
                <div className="bar mt-1">
                  <div style={{ width: `${progress * 100}%` }} />
                </div>
              )}
              {state === 'failed' && <p className="text-camera">{event?.error ?? job.error}</p>}
            </div>
          );
        })}
        <Link className="underline" to="/exports">
          All exports
        </Link>
      </section>
    </div>
  );
}
