/** A dial: a name that resets on a double click, a slider, and a number field. */
import { RotateCcw } from 'lucide-react';
import { Slider } from 'radix-ui';
import { useEffect, useRef, useState, type ReactNode } from 'react';

interface NumberFieldProps {
  label: string;
  value: number;
  min?: number;
  max?: number;
  digits?: number;
  unit?: string;
  className?: string;
  onCommit: (value: number) => void;
}

const shown = (value: number, digits: number) => {
  const text = value.toFixed(digits);
  return Number(text) === 0 ? (0).toFixed(digits) : text;
};

/** What was typed as a number, with or without its unit; NaN where there is none. */
function typed(text: string): number {
  const digits = text.replace(',', '.').replace(/[^\d.eE+-]/g, '');
  return digits === '' ? NaN : Number(digits);
}

/** A number that can be typed; takes effect on Enter or on leaving the field, and comes back when it is no number. */
export function NumberField({
  label,
  value,
  min = -Infinity,
  max = Infinity,
  digits = 1,
  unit = '',
  className = 'w-18',
  onCommit,
}: NumberFieldProps) {
  const [text, setText] = useState<string | null>(null);
  const dropped = useRef(false);
  const number = text === null ? value : typed(text);
  const valid = Number.isFinite(number) && number >= min && number <= max;
  const finish = () => {
    if (!dropped.current && text !== null && valid && Math.abs(number - value) > 1e-9) onCommit(number);
    dropped.current = false;
    setText(null);
  };
  return (
    <input
      className={`number ${className}`}
      aria-label={label}
      aria-invalid={!valid}
      title={Number.isFinite(min) ? `${label}: ${min} to ${max}${unit}` : label}
      value={text ?? `${shown(value, digits)}${unit}`}
      onChange={(e) => setText(e.target.value)}
      onFocus={(e) => e.target.select()}
      onBlur={finish}
      onKeyDown={(e) => {
        if (e.key === 'Escape') dropped.current = true;
        if (e.key === 'Enter' || e.key === 'Escape') e.currentTarget.blur();
        if (e.key === 'ArrowUp' || e.key === 'ArrowDown') {
          e.preventDefault();
          const step = (e.key === 'ArrowUp' ? 1 : -1) * (e.shiftKey ? 10 : 1) * 10 ** -Math.min(digits, 1);
          onCommit(Math.max(min, Math.min(max, value + step)));
        }
      }}
    />
  );
}

interface DialProps {
  name: string;
  value: number;
  /** Range of the slider; the field takes what lies between `least` and `most`. */
  min: number;
  max: number;
  least?: number;
  most?: number;
  step: number;
  digits?: number;
  unit: string;
  reset: number;
  /** Stands behind the number, such as the dial's keys. */
  more?: ReactNode;
  onChange: (value: number) => void;
  /** When a drag, or what keys do to the slider, is over. */
  onEnd?: () => void;
}

export function Dial({
  name,
  value,
  min,
  max,
  least = min,
  most = max,
  step,
  digits = 1,
  unit,
  reset,
  more,
  onChange,
  onEnd,
}: DialProps) {
  const [focused, setFocused] = useState(false);
  useEffect(() => {
    if (!focused) return;
    return () => onEnd?.();
  }, [focused]); // eslint-disable-line react-hooks/exhaustive-deps -- only leaving the slider ends the gesture
  return (
    <div className={`flex min-w-0 items-center ${more ? 'gap-1.5' : 'gap-2'}`}>
      <span
        className={`shrink-0 truncate ${more ? 'w-20' : 'w-22'}`}
        onDoubleClick={() => onChange(reset)}
        title={`${name}: double-click resets`}
      >
        {name}
      </span>
      <Slider.Root
        className="relative flex h-6 min-w-10 flex-1 touch-none items-center select-none"
        min={min}
        max={max}
        step={step}
        value={[Math.max(min, Math.min(max, value))]}
        onValueChange={([v]) => v !== undefined && onChange(v)}
        onValueCommit={onEnd}
        onFocus={() => setFocused(true)}
        onBlur={() => setFocused(false)}
      >
        <Slider.Track className="track">
          <span
            className="absolute top-[-3px] h-2 w-px bg-edge"
            style={{ left: `${((reset - min) / (max - min)) * 100}%` }}
          />
        </Slider.Track>
        <Slider.Thumb className="thumb" aria-label={name} />
      </Slider.Root>
      <NumberField
        label={`${name} value`}
        className={`h-6! ${more ? (unit.length > 2 ? 'w-20' : 'w-16') : 'w-18'}`}
        value={value}
        min={least}
        max={most}
        digits={digits}
        unit={unit}
        onCommit={(v) => (onChange(v), onEnd?.())}
      />
      {more}
      <button
        className={`icon-button size-6! ${more ? 'w-5!' : ''}`}
        aria-label={`Reset ${name.toLowerCase()}`}
        title={`Reset ${name.toLowerCase()} to ${reset}${unit}`}
        disabled={Math.abs(value - reset) < 1e-6}
        onClick={() => (onChange(reset), onEnd?.())}
      >
        <RotateCcw size={13} />
      </button>
    </div>
  );
}
