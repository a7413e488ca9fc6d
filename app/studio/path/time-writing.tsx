/** How times are written in lists: seconds, frames or timecode, as somebody chose; kept in the browser. */
import { useMemo, useState } from 'react';
import { createStore, useStore } from 'zustand';
import { frameOfTimecode, timecode } from '@glimbo/core/time/timecode';
import { NumberField } from '~/ui/Dial';
import { useClock, useStudio } from '../state/store';
import { keepHere, keptHere } from '~/ui/kept-here';

export const WRITINGS = [
  ['seconds', 'seconds'],
  ['frames', 'frames'],
  ['timecode', 'timecode'],
] as const;
export type Writing = (typeof WRITINGS)[number][0];

const KEPT = 'glimbo-times-as';
const chosen = createStore<{ id: Writing }>()(() => {
  const kept = keptHere(KEPT);
  return { id: WRITINGS.find(([id]) => id === kept)?.[0] ?? 'seconds' };
});

function choose(id: Writing) {
  keepHere(KEPT, id);
  chosen.setState({ id });
}

interface FieldProps {
  label: string;
  /** Seconds of the footage. */
  value: number;
  onCommit: (seconds: number) => void;
}

/** The chosen way of writing times, and a field for one in it. */
export function useTimeWriting() {
  const { id } = useStore(chosen);
  return useMemo(() => ({ id, choose, Field: FIELDS[id] }), [id]);
}

const Seconds = ({ label, value, onCommit }: FieldProps) => {
  const times = useClock();
  const duration = useStudio((s) => s.footage.facts.duration);
  return (
    <NumberField
      label={label}
      className="h-6! w-18"
      value={times.shown(value)}
      min={0}
      max={times.shown(duration)}
      digits={3}
      unit=" s"
      onCommit={(t) => onCommit(times.footage(t))}
    />
  );
};

const Frames = ({ label, value, onCommit }: FieldProps) => {
  const { rate, duration } = useStudio((s) => s.footage.facts);
  return (
    <NumberField
      label={label}
      className="h-6! w-18"
      value={Math.round(value * rate)}
      min={0}
      max={Math.round(duration * rate)}
      digits={0}
      onCommit={(n) => onCommit(Math.round(n) / rate)}
    />
  );
};

const Timecode = ({ label, value, onCommit }: FieldProps) => {
  const { rate, duration } = useStudio((s) => s.footage.facts);
  const [text, setText] = useState<string | null>(null);
  const frame = text === null ? Math.round(value * rate) : frameOfTimecode(text, rate);
  const valid = frame >= 0 && frame / rate <= duration;
  const finish = () => {
    if (text !== null && valid) onCommit(frame / rate);
    setText(null);
  };
  return (
    <input
      className="number h-6! w-22"
      aria-label={label}
      aria-invalid={!valid}
      title={`${label}: hours, minutes, seconds, frames`}
      value={text ?? timecode(Math.round(value * rate), rate)}
      onChange={(e) => setText(e.target.value)}
      onFocus={(e) => e.target.select()}
      onBlur={finish}
      onKeyDown={(e) => {
        if (e.key === 'Escape') setText(null);
        if (e.key === 'Enter') e.currentTarget.blur();
      }}
    />
  );
};

const FIELDS: Record<Writing, typeof Seconds> = { seconds: Seconds, frames: Frames, timecode: Timecode };
