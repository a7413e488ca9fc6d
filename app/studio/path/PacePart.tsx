/** Pace: how fast the footage goes by along the take, with ramps, held frames, and what becomes of the sound. */
import { Plus, Trash2 } from 'lucide-react';
import {
  evenPace,
  heldIn,
  PACE_LIMITS,
  withPaceKey,
  withoutPaceKey,
  withSlowMoment,
  type Pace,
  type PaceKey,
} from '@glimbo/core/pace/pace';
import { EASES, type Ease } from '@glimbo/core/curve/ease';
import { snap } from '@glimbo/core/path/edit';
import { clipLength } from '@glimbo/core/take/timing';
import { Choice } from '~/ui/Choice';
import { NumberField } from '~/ui/Dial';
import { clock } from '~/ui/format';
import { IconButton } from '~/ui/IconButton';
import { Select } from '~/ui/Select';
import { useStudio, useStudioStore, useTake } from '../state/store';
import { useTimeWriting } from './time-writing';
import { EASE_NAMES } from './ease-names';
import { changePace, paceSpeedAt } from './pace-edits';

/** Frames a second that most clips have. */
const CLIP_RATE = 30;

export function PacePart() {
  const store = useStudioStore();
  const take = useTake();
  const { pace } = take;
  const time = useStudio((s) => s.time);
  const { rate, duration } = useStudio((s) => s.footage.facts);
  const keeps = useStudio((s) => s.paceKeepsTiming);
  const add = (key: Partial<PaceKey>) =>
    changePace(store, (p) => withPaceKey(p, { time, speed: paceSpeedAt(store, time), ...key }));
  return (
    <div className="@container h-full">
      <div className="grid h-full grid-cols-[minmax(0,1fr)_minmax(0,1.1fr)] divide-x divide-rule">
        <div className="flex flex-col gap-2 overflow-auto p-3">
          <p>
            The speed at a moment; between two it goes from one to the other. 1 is as the footage is read. <Lengths />
          </p>
          <div className="flex flex-wrap gap-1">
            <button className="button h-6!" onClick={() => add({})}>
              <Plus size={13} /> Speed here
            </button>
            {[0.25, 0.5, 1, 2, 4].map((speed) => (
              <button
                key={speed}
                className="button h-6! px-1.5!"
                onClick={() => add({ speed })}
                title={`${speed} × from here on`}
              >
                {speed}×
              </button>
            ))}
            <button
              className="button h-6!"
              onClick={() => add({ held: 1 })}
              title="The frame at the playhead stands for a second"
            >
              Hold the frame 1 s
            </button>
            <button
              className="button h-6!"
              onClick={() => changePace(store, (p) => withSlowMoment(p, time, { rate, end: duration }))}
              title="Down to a third over half a second, and back after one"
            >
              Slow moment
            </button>
          </div>
          {rate / CLIP_RATE >= 1.5 && (
            <button
              className="button h-6! self-start"
              onClick={() => changePace(store, () => evenPace(take.range.in, CLIP_RATE / (take.reading ?? rate)))}
              title={`The footage has ${Math.round(rate)} frames a second: slowed so that a clip of ${CLIP_RATE} shows each of them`}
            >
              Every frame, at {CLIP_RATE} a second
            </button>
          )}
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={keeps}
              onChange={(e) => store.getState().setPaceKeepsTiming(e.target.checked)}
            />
            The path keeps its timing in the clip
          </label>
          {pace && <Options pace={pace} />}
        </div>
        <Keys pace={pace} />
      </div>
    </div>
  );
}

function Lengths() {
  const take = useTake();
  const { rate } = useStudio((s) => s.footage.facts);
  const length = clipLength(take, rate);
  return (
    <span className="figure text-muted" data-testid="clip-length">
      {clock(clipLength({ ...take, pace: undefined }, rate))} become {clock(length)}.
    </span>
  );
}

function Options({ pace }: { pace: Pace }) {
  const store = useStudioStore();
  const set = (change: Partial<Pace>) => changePace(store, (p) => p && { ...p, ...change });
  return (
    <>
      <Choice
        label="In between"
        value={pace.blend ?? 'nearest'}
        options={[
          ['nearest', 'Nearest frame'],
          ['mean', 'Mixed', 'The two neighbours mixed; the preview shows the nearest'],
        ]}
        onChange={(blend) => set({ blend })}
      />
      <Choice
        label="Sound"
        value={pace.sound ?? 'follow'}
        options={[
          ['follow', 'Pitch kept'],
          ['off', 'None'],
        ]}
        onChange={(sound) => set({ sound })}
      />
      {pace.sound !== 'off' && (
        <div className="flex flex-wrap items-center gap-2">
          Quiet below
          <NumberField
            label="Quiet below this speed"
            className="h-6! w-14"
            value={pace.quietBelow ?? 0}
            min={0}
            max={PACE_LIMITS.fastest}
            digits={2}
            unit="×"
            onCommit={(quietBelow) => set({ quietBelow })}
          />
          above
          <NumberField
            label="Quiet above this speed"
            className="h-6! w-14"
            value={pace.quietAbove ?? PACE_LIMITS.fastest}
            min={0}
            max={PACE_LIMITS.fastest}
            digits={2}
            unit="×"
            onCommit={(quietAbove) => set({ quietAbove })}
          />
        </div>
      )}
      <button className="button self-start" onClick={() => changePace(store, () => undefined)}>
        As it is read again
      </button>
    </>
  );
}

function Keys({ pace }: { pace: Pace | undefined }) {
  const take = useTake();
  if (!pace?.keys.length)
    return (
      <p className="p-3 text-muted">
        It goes by as it is read. Go to a moment and set a speed there; the path stays on the moments of the footage.
      </p>
    );
  const held = heldIn(pace, take.range).reduce((sum, k) => sum + k.held!, 0);
  return (
    <div className="overflow-auto">
      <table className="w-full">
        <thead>
          <tr className="label text-left">
            <th className="pl-3 font-medium">time</th>
            <th className="font-medium">speed</th>
            <th className="font-medium">held</th>
            <th className="font-medium">to the next</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {pace.keys.map((key, i) => (
            <Row key={i} of={key} number={i + 1} />
          ))}
        </tbody>
      </table>
      {held > 0 && <p className="px-3 pt-1 text-muted">Frames are held for {held.toFixed(1)} s in all.</p>}
    </div>
  );
}

function Row({ of: key, number }: { of: PaceKey; number: number }) {
  const store = useStudioStore();
  const writing = useTimeWriting();
  const { rate } = store.getState().footage.facts;
  const change = (to: Partial<PaceKey>) =>
    changePace(store, (p) => withPaceKey(to.time === undefined ? p : withoutPaceKey(p, key.time), { ...key, ...to }));
  return (
    <tr>
      <td className="py-px pl-3">
        <writing.Field
          label={`Time of speed ${number}`}
          value={key.time}
          onCommit={(t) => change({ time: snap(t, rate) })}
        />
      </td>
      <td>
        <NumberField
          label={`Speed ${number}`}
          className="h-6! w-16"
          value={key.speed}
          min={PACE_LIMITS.slowest}
          max={PACE_LIMITS.fastest}
          digits={2}
          unit="×"
          onCommit={(speed) => change({ speed })}
        />
      </td>
      <td>
        <NumberField
          label={`Held at speed ${number}`}
          className="h-6! w-15"
          value={key.held ?? 0}
          min={0}
          max={PACE_LIMITS.longestHeld}
          digits={2}
          unit=" s"
          onCommit={(held) => change({ held: held || undefined })}
        />
      </td>
      <td>
        <Select<Ease & string>
          label={`Ease after speed ${number}`}
          className="h-6! w-full py-0"
          value={(typeof key.ease === 'string' ? key.ease : 'smooth') as Ease & string}
          options={EASES.map((e) => [e, EASE_NAMES[e]] as const)}
          onChange={(ease) => change({ ease })}
        />
      </td>
      <td className="pr-2 text-right">
        <IconButton
          label={`Remove speed ${number}`}
          className="size-6!"
          onClick={() => changePace(store, (p) => withoutPaceKey(p, key.time))}
        >
          <Trash2 size={13} />
        </IconButton>
      </td>
    </tr>
  );
}
