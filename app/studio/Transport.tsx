/** Playing and going about in time; the picture format stands here too, since every framing depends on it. */
import { ChevronFirst, ChevronLast, Pause, Play, Repeat, StepBack, StepForward } from 'lucide-react';
import { ASPECTS } from '@glimbo/core/lens/format';
import { momentsOf } from '@glimbo/core/path/edit';
import { readOut } from '@glimbo/core/lens/view';
import { aspectRatio } from '@glimbo/core/lens/format';
import { viewAt } from '@glimbo/core/path/path';
import { NumberField } from '~/ui/Dial';
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
        value={time}
        min={0}
        max={duration}
        digits={3}
        unit=" s"
        onCommit={(t) => store.getState().setTime(t)}
      />
      <span className="figure ml-1 text-muted" title="Frame number">
        f {Math.round(time * rate)}
      </span>
      {speed !== 0 && speed !== 1 && <span className="figure text-camera">{speed}×</span>}
      <span className="flex-1" />
      <span
        className="figure hidden text-muted min-[1180px]:inline"
        title="Horizontal and vertical angle, and 35 mm equivalent focal length"
      >
        {angles.horizontal.toFixed(0)}° × {angles.vertical.toFixed(0)}° · {angles.focalLength.toFixed(1)} mm
      </span>
      <label className="ml-3 flex items-center gap-2">
        <span className="label">Format</span>
        <select
          className="field"
          aria-label="Format"
          value={take.frame.aspect}
          onChange={(e) => store.getState().edit((t) => ({ ...t, frame: { ...t.frame, aspect: e.target.value } }))}
        >
          {[...new Set([...ASPECTS, take.frame.aspect])].map((a) => (
            <option key={a}>{a}</option>
          ))}
        </select>
      </label>
    </div>
  );
}

/** The moments before and after a time, for going from keyframe to keyframe. */
export function neighbours(take: Parameters<typeof momentsOf>[0], time: number) {
  const times = momentsOf(take).map((m) => m.time);
  return { previous: times.findLast((t) => t < time - 1e-6), next: times.find((t) => t > time + 1e-6) };
}
