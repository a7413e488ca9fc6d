/** The Export station: format, size, rate and quality with the size it will give; and this take's exports. */
import { Film } from 'lucide-react';
import { useState } from 'react';
import { Link, useFetcher } from 'react-router';
import { ASPECTS, sizeOf } from '@glimbo/core/lens/format';
import {
  CODECS,
  CODEC_NAMES,
  DEFAULT_QUALITY,
  sizeWithBefore,
  type ClipSettings,
  type Codec,
  type Comparison,
} from '@glimbo/core/take/clip';
import { estimateSize, ratioKey, type SizeRatios } from '@glimbo/core/take/estimate';
import { stretchOf } from '@glimbo/core/take/take';
import { framesIn } from '@glimbo/core/take/timing';
import { NumberField } from '~/ui/Dial';
import { Select } from '~/ui/Select';
import { bytes, clock, left } from '~/ui/format';
import type { Job } from '~/db/jobs';
import type { JobEvent } from '~/jobs/events';
import { useStudio, useStudioStore, useTake } from './store';

interface Choice {
  /** The whole sphere instead of the take's view. */
  sphere: boolean;
  /** Before beside, over or in a corner of after; only after when it is none. */
  compare: 'none' | Comparison;
  sizeClass: '1080' | '2160' | 'free';
  width: number;
  height: number;
  rate: number;
  codec: Codec;
  by: 'quality' | 'bitRate';
  quality: number;
  megabits: number;
}

const SIZE_CLASSES = [
  ['1080', '1080 class'],
  ['2160', '2160 class'],
  ['free', 'Own size'],
] as const;
const COMPARE_NAMES = [
  ['none', 'Only after'],
  ['beside', 'Before beside it'],
  ['over', 'Before over it'],
  ['inset', 'Before in a corner'],
] as const;
interface ExportBenchProps {
  takeId: string;
  jobs: Job[];
  events: Map<string, JobEvent>;
  /** What clips came out as, over what was guessed. */
  ratios: SizeRatios;
}

export function ExportBench({ takeId, jobs, events, ratios }: ExportBenchProps) {
  const store = useStudioStore();
  const take = useTake();
  const saved = useStudio((s) => s.save.kind === 'saved');
  const { facts, sphereWidth } = store.getState().footage;
  const fetcher = useFetcher<{ problem?: string }>();
  const [c, setChoice] = useState<Choice>({
    sphere: false,
    compare: 'none',
    sizeClass: '1080',
    width: 1920,
    height: 1080,
    rate: take.reading ?? facts.rate,
    codec: 'h264',
    by: 'quality',
    quality: DEFAULT_QUALITY,
    megabits: 18,
  });
  const compare = c.compare === 'none' ? undefined : c.compare;
  const set = (change: Partial<Choice>) => setChoice({ ...c, ...change });
  const size =
    c.sizeClass === 'free'
      ? { width: c.width, height: c.height }
      : sizeWithBefore(sizeOf(take.frame.aspect, Number(c.sizeClass)), compare);
  const sphere = { width: sphereWidth, height: sphereWidth / 2 };
  const settings: ClipSettings = {
    ...(c.sphere ? sphere : size),
    ...(c.sphere ? { sphere: true } : compare ? { compare } : {}),
    rate: c.rate,
    codec: c.codec,
    ...(c.by === 'quality' ? { quality: c.quality } : { bitRate: Math.round(c.megabits * 1e6) }),
  };
  const seconds = (take.range.out - take.range.in) * stretchOf(take, facts.rate);
  const learned = ratios[ratioKey(settings)];
  const estimate = estimateSize(settings, seconds, c.rate, facts.sound !== null) * (learned ?? 1);
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
          <span className={label}>Picture</span>
          <Select
            label="What is exported"
            className="w-36"
            value={c.sphere ? 'sphere' : 'view'}
            options={[
              ['view', "This take's view"],
              ['sphere', 'The whole sphere, corrected'],
            ]}
            onChange={(v) => set({ sphere: v === 'sphere' })}
          />
          {!c.sphere && (
            <Select
              label="Before and after"
              className="min-w-0 flex-1"
              value={c.compare}
              options={COMPARE_NAMES}
              onChange={(compare) => set({ compare })}
            />
          )}
          {c.sphere && (
            <span className="figure">
              {sphere.width} × {sphere.height}
            </span>
          )}
        </div>
        <div className={row} hidden={c.sphere}>
          <span className={label}>Format</span>
          <Select
            label="Export format"
            value={take.frame.aspect}
            options={[...new Set([...ASPECTS, take.frame.aspect])].map((a) => [a, a] as const)}
            onChange={(aspect) => store.getState().edit((t) => ({ ...t, frame: { ...t.frame, aspect } }))}
            disabled={c.sphere}
          />
          <Select
            label="Size class"
            value={c.sizeClass}
            options={SIZE_CLASSES}
            onChange={(sizeClass) => set({ sizeClass, ...size })}
          />
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
          <Select
            label="Codec"
            value={c.codec}
            options={CODECS.map((k) => [k, CODEC_NAMES[k]] as const)}
            onChange={(codec) => set({ codec })}
          />
        </div>
        <div className={row} hidden={c.codec === 'prores'}>
          <span className={label}>Amount</span>
          <Select
            label="Quality or bit rate"
            value={c.by}
            options={[
              ['quality', 'by quality'],
              ['bitRate', 'by bit rate'],
            ]}
            onChange={(by) => set({ by })}
          />
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
          <span
            className="figure whitespace-nowrap"
            data-testid="estimate"
            title={learned ? 'Reckoned with how large your clips came out' : 'A guess; it gets better with every clip'}
          >
            {c.by === 'quality' ? 'about ' : ''}
            {bytes(estimate)}
          </span>
          <span className="figure whitespace-nowrap text-muted">
            {clock(seconds)}, {framesIn(seconds, c.rate)} frames
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
                <span className="figure whitespace-nowrap">
                  {s.width} × {s.height}
                  {s.sphere && <span className="font-sans"> sphere</span>}
                </span>
                <span className="flex-1 text-right text-muted">
                  {state === 'running'
                    ? `${Math.round(progress * 100)} %, ${left(event?.left ?? null) || 'starting'}`
                    : state === 'done'
                      ? `finished${job.result?.bytes ? `, ${bytes(Number(job.result.bytes))}` : ''}`
                      : state}
                </span>
                {state === 'done' && (
                  <a className="underline" href={`/media/exports/${job.id}?download`}>
                    Download
                  </a>
                )}
                {(state === 'running' || state === 'queued') && (
                  <fetcher.Form method="post" action={`/jobs/${job.id}`}>
                    <button className="underline" name="intent" value="cancel">
                      Cancel
                    </button>
                  </fetcher.Form>
                )}
              </div>
              {state === 'running' && event?.picture && (
                <img
                  className="mt-1 max-h-24 bg-well"
                  src={`/media/exports/${job.id}/now?n=${event.picture}`}
                  alt="The frame being written"
                />
              )}
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
