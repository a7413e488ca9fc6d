/** Light as one drawing: the curve of tones over the Frame's histogram, with a handle for each dial. */
import { useDrag } from '@use-gesture/react';
import { area, curveMonotoneX, line, max, scaleLinear } from 'd3';
import { useMemo } from 'react';
import { gradeAt } from '@glimbo/core/look/channels';
import { dialThrough, HANDLES, toneCurve } from '@glimbo/core/look/curve';
import { clippedOf } from '@glimbo/core/look/scopes';
import type { Light } from '@glimbo/core/look/settings';
import { useSize } from '~/ui/useSize';
import { useStudio, useStudioStore, useTake } from '../state/store';
import { LIGHT_DIALS, type GradeDial } from './grade-dials';
import type { FrameLight } from '~/preview/small-look';

const MARGIN = { left: 10, right: 10, top: 8, bottom: 16 };
const POINTS = 65;

export function LightCurve({ light }: { light: FrameLight | null }) {
  const [ref, size] = useSize<HTMLDivElement>();
  const { look } = useTake();
  const time = useStudio((s) => s.time);
  const grade = gradeAt(look?.grade ?? {}, time);
  const x = scaleLinear([0, 1], [MARGIN.left, size.width - MARGIN.right]);
  const y = scaleLinear([0, 1], [size.height - MARGIN.bottom, MARGIN.top]);
  const tone = toneCurve(grade);
  const held = (v: number) => Math.max(-0.02, Math.min(1.02, v));
  const curve = line<number>()
    .x((v) => x(v))
    .y((v) => y(held(tone(v))))(Array.from({ length: POINTS }, (_, i) => i / (POINTS - 1)));
  const histogram = useHistogram(light, x, y);
  const words = light ? describe(light) : 'The histogram comes once the Frame stands still.';
  return (
    <div ref={ref} className="relative min-h-36 flex-1 overflow-hidden">
      {size.width > 40 && (
        <svg
          width={size.width}
          height={size.height}
          role="group"
          aria-label={`Tone curve, dark on the left, over the Frame's histogram. ${words}`}
          data-testid="tone-curve"
        >
          <path d={histogram} fill="var(--rule)" data-testid="histogram" />
          {[0.25, 0.5, 0.75].map((v) => (
            <g key={v} stroke="var(--edge)" strokeOpacity={0.35} strokeDasharray="1 3">
              <line x1={x(v)} x2={x(v)} y1={y(0)} y2={y(1)} />
              <line x1={x(0)} x2={x(1)} y1={y(v)} y2={y(v)} />
            </g>
          ))}
          <rect x={x(0)} y={y(1)} width={x(1) - x(0)} height={y(0) - y(1)} fill="none" stroke="var(--rule)" />
          <line x1={x(0)} y1={y(0)} x2={x(1)} y2={y(1)} stroke="var(--edge)" strokeOpacity={0.5} />
          <path d={curve ?? ''} fill="none" stroke="var(--ink)" strokeWidth={1.8} />
          {LIGHT_DIALS.map((dial) => {
            const at = HANDLES[dial.channel as keyof Light];
            return (
              <Handle
                key={dial.channel}
                dial={dial}
                value={grade[dial.channel]}
                x={x(at)}
                y={y(held(tone(at)))}
                toValue={(py) => dialThrough(grade, dial.channel as keyof Light, y.invert(py))}
              />
            );
          })}
          <text x={x(0)} y={size.height - 4} fontSize={10} fill="var(--muted)">
            dark
          </text>
          <text x={x(1)} y={size.height - 4} fontSize={10} fill="var(--muted)" textAnchor="end">
            light
          </text>
        </svg>
      )}
    </div>
  );
}

function useHistogram(
  light: FrameLight | null,
  x: (v: number) => number,
  y: ReturnType<typeof scaleLinear<number, number>>,
): string {
  const [left, right, low, high] = [x(0), x(1), y(0), y(1)];
  return useMemo(() => {
    if (!light) return '';
    // Its root, so that what is rare is seen beside what is common.
    const heights = light.histogram.map(Math.sqrt);
    const most = max(heights) ?? 1;
    return (
      area<number>()
        .x((_, i) => left + ((i + 0.5) / heights.length) * (right - left))
        .y0(low)
        .y1((h) => low - (h / most) * (low - high) * 0.92)
        .curve(curveMonotoneX)(heights) ?? ''
    );
  }, [light, left, right, low, high]);
}

function describe({ lumas }: FrameLight): string {
  const mean = lumas.reduce((a, b) => a + b, 0) / Math.max(1, lumas.length);
  const { black, white } = clippedOf(lumas);
  const percent = (v: number) => `${(100 * v).toFixed(1)} %`;
  return `Mean brightness ${percent(mean)}; ${percent(black)} at black, ${percent(white)} at white.`;
}

interface HandleProps {
  dial: GradeDial;
  value: number;
  x: number;
  y: number;
  /** The dial's value with which the curve is at a height in pixels here. */
  toValue: (py: number) => number;
}

function Handle({ dial, value, x, y, toValue }: HandleProps) {
  const store = useStudioStore();
  const { channel, name, unit, digits, least, most } = dial;
  const set = (v: number) =>
    store.getState().gradeDial(channel, Number(Math.max(least, Math.min(most, v)).toFixed(digits)), `grade-${channel}`);
  const bind = useDrag(
    ({ event, first, last, movement: [, dy], memo }) => {
      event.stopPropagation();
      const from = first ? y : (memo as number);
      if (dy) set(toValue(from + dy));
      if (last) store.getState().endGesture();
      return from;
    },
    { pointer: { keys: false } },
  );
  const step = (most - least) / 100;
  return (
    <g
      {...bind()}
      role="slider"
      tabIndex={0}
      aria-label={`${name} on the curve`}
      aria-valuemin={least}
      aria-valuemax={most}
      aria-valuenow={value}
      className="cursor-ns-resize touch-none"
      onKeyDown={(e) => {
        const by = e.key === 'ArrowUp' ? step : e.key === 'ArrowDown' ? -step : 0;
        if (!by) return;
        e.preventDefault();
        e.stopPropagation();
        set(value + by * (e.shiftKey ? 5 : 1));
      }}
      onKeyUp={() => store.getState().endGesture()}
    >
      <title>{`${name}: ${value.toFixed(digits)}${unit}. Drag up or down.`}</title>
      <circle cx={x} cy={y} r={12} fill="transparent" />
      <path
        d={`M${x - 5},${y} L${x},${y - 5} L${x + 5},${y} L${x},${y + 5} Z`}
        fill={value === 0 ? 'var(--sheet)' : 'var(--ink)'}
        stroke="var(--ink)"
        strokeWidth={1.6}
      />
    </g>
  );
}
