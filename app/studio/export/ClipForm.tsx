/** What the clip is to be like: picture, format, size, rate, codec and amount, with the size it will have. */
import { Film } from 'lucide-react';
import { useState } from 'react';
import { useFetcher, useParams } from 'react-router';
import { CODECS, codecFacts } from '@glimbo/core/export/codecs';
import { chosenSize, expectedSize, firstChoice, settingsOf, type ClipChoice } from '@glimbo/core/export/choice';
import { formatsOf, inFormat, shapesFor, withFormat } from '@glimbo/core/take/formats';
import { clipLength, framesIn } from '@glimbo/core/take/timing';
import { NumberField } from '~/ui/Dial';
import { bytes, clock } from '~/ui/format';
import { Select } from '~/ui/Select';
import { useStudio, useStudioStore, useTake } from '../state/store';
import { useWork } from '../state/work';

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

export function ClipForm() {
  const store = useStudioStore();
  const take = useTake();
  const { ratios } = useWork();
  const saved = useStudio((s) => s.save.kind === 'saved');
  const { takeId } = useParams();
  const { facts, sphereWidth } = store.getState().footage;
  const fetcher = useFetcher<{ problem?: string }>();
  const [c, setChoice] = useState<ClipChoice>(() => firstChoice(take.reading ?? facts.rate));
  const set = (change: Partial<ClipChoice>) => setChoice({ ...c, ...change });
  const size = chosenSize(c, take);
  const scale = codecFacts(c.codec).quality;
  const settings = settingsOf(c, take, sphereWidth);
  const seconds = clipLength(take, facts.rate);
  const expected = expectedSize(settings, seconds, facts.sound !== null, ratios);
  const formats = formatsOf(take);
  const send = (aspects: string[]) => {
    const each = aspects.map((aspect) => ({ aspect, settings: settingsOf(c, inFormat(take, aspect), sphereWidth) }));
    return fetcher.submit(
      { intent: 'export', takeId: takeId!, clips: JSON.stringify(each) },
      { method: 'post', action: '/exports' },
    );
  };
  const busy = !saved || fetcher.state !== 'idle';
  const row = 'flex h-8 items-center gap-2';
  const label = 'w-20 shrink-0 text-muted';
  return (
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
            {sphereWidth} × {sphereWidth / 2}
          </span>
        )}
      </div>
      <div className={row} hidden={c.sphere}>
        <span className={label}>Format</span>
        <Select
          label="Export format"
          value={take.frame.aspect}
          options={shapesFor(take).map((a) => [a, a] as const)}
          onChange={(aspect) => store.getState().edit((t) => withFormat(t, aspect))}
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
          options={CODECS.map((k) => [k, codecFacts(k).label] as const)}
          onChange={(codec) => set({ codec })}
        />
      </div>
      <div className={row} hidden={!scale}>
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
              min={scale?.best}
              max={scale?.least}
              value={c.quality}
              onCommit={(quality) => set({ quality })}
            />
            <span className="whitespace-nowrap text-muted">
              {scale?.best} best, to {scale?.least}
            </span>
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
        <button className="button main h-8!" onClick={() => void send([take.frame.aspect])} disabled={busy}>
          <Film size={14} /> Export clip
        </button>
        {formats.length > 1 && !c.sphere && c.sizeClass !== 'free' && (
          <button
            className="button h-8!"
            onClick={() => void send(formats.map((f) => f.aspect))}
            disabled={busy}
            title={formats.map((f) => f.aspect).join(', ')}
          >
            Export all {formats.length} formats
          </button>
        )}
        <span
          className="figure whitespace-nowrap"
          data-testid="estimate"
          title={
            expected.learned ? 'Reckoned with how large your clips came out' : 'A guess; it gets better with every clip'
          }
        >
          {expected.exact ? '' : 'about '}
          {bytes(expected.bytes)}
        </span>
        <span className="figure whitespace-nowrap text-muted">
          {clock(seconds)}, {framesIn(seconds, c.rate)} frames
        </span>
      </div>
      {fetcher.data?.problem && <p className="mt-2 text-error">{fetcher.data.problem}</p>}
    </section>
  );
}
