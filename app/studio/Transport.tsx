/** Playing and going about in time; the picture format stands here too, since every framing depends on it. */
import { ChevronFirst, ChevronLast, Grid2x2, Pause, Play, Repeat, StepBack, StepForward } from 'lucide-react';
import { ASPECTS } from '@glimbo/core/lens/format';
import { momentsOf } from '@glimbo/core/path/edit';
import { readOut } from '@glimbo/core/lens/view';
import { aspectRatio } from '@glimbo/core/lens/format';
import { viewAt } from '@glimbo/core/path/path';
import { stretchOf } from '@glimbo/core/take/take';
import { NumberField } from '~/ui/Dial';
import { Select } from '~/ui/Select';
import { useStudio, useStudioStore, useTake } from './store';
import { usePlayer } from './player-context';

export function Transport() {
  const store = useStudioStore();
  const take = useTake();
  const time = useStudio((s) => s.time);
  const speed = useStudio((s) => s.speed);
  const loop = useStudio((s) => s.loop);
  const player = usePlayer();
  const { rate, duration } = store.getState().footage.facts;
  const ratio = aspectRatio(take.frame.aspect);
  const stretch = stretchOf(take, rate);
  const angles = readOut(viewAt(take.path, time), ratio * 1000, 1000);
  return (
    <div className="flex h-10 items-center gap-1 border-b border-rule px-3">
      <button
        className="icon-button"
        title="To the in point"
        aria-label="To the in point"
        onClick={() => store.getState().setTime(take.range.in)}
      >
        <ChevronFirst size={16} />
      </button>
      <button
        className="icon-button"
        title="One frame back (←)"
        aria-label="One frame back"
        onClick={() => store.getState().setTime(time - 1 / rate)}
      >
        <StepBack size={15} />
      </button>
      <button
        className="icon-button bg-ink! text-paper!"
        title={speed ? 'Pause (Space)' : 'Play (Space)'}
        aria-label={speed ? 'Pause' : 'Play'}
        onClick={() => player.toggle()}
      >
        {speed ? <Pause size={15} /> : <Play size={15} />}
      </button>
      <button
        className="icon-button"
        title="One frame on (→)"
        aria-label="One frame on"
        onClick={() => store.getState().setTime(time + 1 / rate)}
      >
        <StepForward size={15} />
      </button>
      <button
        className="icon-button"
        title="To the out point"
        aria-label="To the out point"
        onClick={() => store.getState().setTime(take.range.out - 1 / rate)}
      >
        <ChevronLast size={16} />
      </button>
      <button
        className="icon-button"
        aria-pressed={loop}
        title="Loop between in and out"
        aria-label="Loop between in and out"
        onClick={() => store.getState().set({ loop: !loop })}
      >
        <Repeat size={14} />
      </button>
      <NumberField
        label="Time in seconds"
        className="ml-1 w-20"
        value={time * stretch}
        min={0}
        max={duration * stretch}
        digits={3}
        unit=" s"
        onCommit={(t) => store.getState().setTime(t / stretch)}
      />
      <span className="figure ml-1 text-muted" title="Frame number">
        f {Math.round(time * rate)}
      </span>
      {speed !== 0 && speed !== 1 && <span className="figure text-camera">{speed}×</span>}
      <PreviewChoice />
      <span className="flex-1" />
      <span
        className="figure hidden text-muted min-[1500px]:inline"
        title="Horizontal and vertical angle, and 35 mm equivalent focal length"
      >
        {angles.horizontal.toFixed(0)}° × {angles.vertical.toFixed(0)}° · {angles.focalLength.toFixed(1)} mm
      </span>
      <label className="ml-3 flex items-center gap-2">
        <span className="label">Format</span>
        <Select
          label="Format"
          value={take.frame.aspect}
          options={[...new Set([...ASPECTS, take.frame.aspect])].map((a) => [a, a] as const)}
          onChange={(aspect) => store.getState().edit((t) => ({ ...t, frame: { ...t.frame, aspect } }))}
        />
      </label>
    </div>
  );
}

const SHARES = [['auto', 'Suited'], ['1', 'Full'], ['0.5', 'Half'], ['0.25', 'Quarter'], ['0.125', 'Eighth']] as const; // prettier-ignore

/** What the Frame is drawn from while it stands, how finely while it plays, and the look all round. */
function PreviewChoice() {
  const store = useStudioStore();
  const preview = useStudio((s) => s.preview);
  const share = useStudio((s) => s.share);
  const lookRound = useStudio((s) => s.lookRound);
  return (
    <span className="ml-2 flex items-center gap-1">
      <button
        className="icon-button"
        aria-pressed={lookRound}
        title="Look all round: front, right, back and left at once (G)"
        aria-label="Look all round"
        onClick={() => store.getState().set({ lookRound: !lookRound })}
      >
        <Grid2x2 size={15} />
      </button>
      <Select
        label="Picture while it stands still"
        value={preview}
        options={[
          ['proxy', 'Proxy'],
          ['original', 'Original'],
        ]}
        onChange={(v) => store.getState().set({ preview: v })}
      />
      <Select
        label="Resolution while it plays"
        value={share === null ? 'auto' : String(share)}
        options={SHARES}
        onChange={(v) => store.getState().set({ share: v === 'auto' ? null : Number(v) })}
      />
    </span>
  );
}

/** The moments before and after a time, for going from keyframe to keyframe. */
export function neighbours(take: Parameters<typeof momentsOf>[0], time: number) {
  const times = momentsOf(take).map((m) => m.time);
  return { previous: times.findLast((t) => t < time - 1e-6), next: times.find((t) => t > time + 1e-6) };
}
