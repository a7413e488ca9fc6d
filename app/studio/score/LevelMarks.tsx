/** Level keys on the Sweep: a spirit level's tube at its left edge; a drag moves one in time. */
import { useRef } from 'react';
import { leanOf, type LevelKey } from '@glimbo/core/level/level';
import { snap } from '@glimbo/core/path/edit';
import { openStretches } from '@glimbo/core/edit/levelling';
import { clock } from '~/ui/format';
import { pressed } from '~/ui/pressed';
import { moveLevel } from '../level/useHorizon';
import { useClock, useStudio, useStudioStore, useTake } from '../state/store';
import type { Axis } from '../axes/lanes';

const NO_KEYS: LevelKey[] = [];

export function LevelMarks({ y, timeAt }: Axis) {
  const store = useStudioStore();
  const take = useTake();
  const { rate, duration } = useStudio((s) => s.footage.facts);
  /** The key that is held, and all keys, as they were when the drag began. */
  const from = useRef<{ time: number; y: number; now: number; keys: readonly LevelKey[] } | null>(null);
  const times = useClock();
  const keys = take.level?.keys ?? NO_KEYS;
  const open = openStretches(
    useStudio((s) => s.unlevelled),
    keys,
  );
  return (
    <g data-testid="level-marks">
      {open.map(({ from, to }) => (
        <rect
          key={from}
          x={0}
          y={y(from)}
          width={8}
          height={Math.max(3, y(to) - y(from))}
          fill="none"
          stroke="var(--level)"
          strokeDasharray="3 3"
          data-testid="unsure-stretch"
        >
          <title>Not sure where up is: left alone by levelling the whole take</title>
        </rect>
      ))}
      {keys.map(({ time, up }, i) => {
        // Where many stand close they are ticks, so that each can still be told.
        const crowded = [keys[i - 1], keys[i + 1]].some((k) => k && Math.abs(y(k.time) - y(time)) < 12);
        const { roll, pitch } = leanOf(up);
        return (
          <g
            // By number: a key that is being moved in time stays the same one.
            key={i}
            role="button"
            tabIndex={0}
            className="cursor-pointer"
            aria-label={`Level key at ${clock(times.shown(time))}, roll ${roll.toFixed(1)}°, pitch ${pitch.toFixed(1)}°`}
            onPointerDown={(e) => {
              e.stopPropagation();
              e.currentTarget.setPointerCapture(e.pointerId);
              from.current = { time, y: e.clientY, now: time, keys };
              store.getState().setTime(time);
            }}
            onPointerMove={(e) => {
              if (!from.current) return;
              e.stopPropagation();
              const to = snap(from.current.time + timeAt(e.clientY - from.current.y) - timeAt(0), rate);
              const at = Math.max(0, Math.min(duration - 1 / rate, to));
              if (Math.abs(at - from.current.now) < 0.5 / rate) return;
              from.current.now = at;
              moveLevel(store, from.current.keys, from.current.time, at, 'level-move');
            }}
            onPointerUp={(e) => {
              e.stopPropagation();
              from.current = null;
              store.getState().endGesture();
            }}
            onKeyDown={(e) => {
              pressed(() => store.getState().setTime(time))(e);
              if (e.key !== 'ArrowUp' && e.key !== 'ArrowDown') return;
              e.preventDefault();
              e.stopPropagation();
              const frames = (e.key === 'ArrowUp' ? -1 : 1) * (e.shiftKey ? 10 : 1);
              const at = Math.max(0, Math.min(duration - 1 / rate, snap(time + frames / rate, rate)));
              moveLevel(store, keys, time, at, `level-step-${i}`);
              store.getState().setTime(at);
            }}
          >
            {crowded ? (
              <rect
                x={0}
                y={y(time) - 1.5}
                width={20}
                height={3}
                fill="var(--level)"
                stroke="var(--sheet)"
                strokeWidth={0.7}
              />
            ) : (
              <>
                <rect x={-2} y={y(time) - 5} width={24} height={10} rx={5} fill="var(--level)" stroke="var(--sheet)" />
                <circle cx={11} cy={y(time)} r={2.8} fill="var(--sheet)" />
              </>
            )}
          </g>
        );
      })}
    </g>
  );
}
