/** The waveform of the Frame: brightness upwards, over its width, the darker the more often. */
import { max, scaleLinear } from 'd3';
import { useMemo } from 'react';
import { clippedOf, waveformOf } from '@glimbo/core/look/scopes';
import { useSize } from '~/ui/useSize';
import type { FrameLight } from '~/preview/small-look';

const COLUMNS = 64;
const BINS = 48;
const MARGIN = 8;

export function Waveform({ light }: { light: FrameLight | null }) {
  const [ref, size] = useSize<HTMLDivElement>();
  const cells = useMemo(() => (light ? waveformOf(light.lumas, light.width, COLUMNS, BINS) : []), [light]);
  const most = max(cells.flat()) ?? 1;
  const x = scaleLinear([0, COLUMNS], [MARGIN + 26, size.width - MARGIN]);
  const y = scaleLinear([0, BINS], [size.height - MARGIN, MARGIN]);
  const shade = scaleLinear([0, Math.sqrt(most)], [0, 1]);
  const clipped = light ? clippedOf(light.lumas) : null;
  const words = clipped
    ? `${(100 * clipped.black).toFixed(1)} % at black, ${(100 * clipped.white).toFixed(1)} % at white.`
    : 'It comes once the Frame stands still.';
  return (
    <div ref={ref} className="min-h-36 flex-1 overflow-hidden">
      {size.width > 60 && (
        <svg
          width={size.width}
          height={size.height}
          role="img"
          aria-label={`Waveform: brightness over the Frame's width. ${words}`}
          data-testid="waveform"
        >
          {[0, 50, 100].map((v) => (
            <g key={v}>
              <line
                x1={x(0)}
                x2={x(COLUMNS)}
                y1={y((v / 100) * BINS)}
                y2={y((v / 100) * BINS)}
                stroke="var(--edge)"
                strokeOpacity={0.5}
              />
              <text x={2} y={y((v / 100) * BINS) + 4} fontSize={9} fill="var(--muted)" className="figure">
                {v}
              </text>
            </g>
          ))}
          {cells.flatMap((column, i) =>
            column.map((share, j) =>
              share > 0 ? (
                <rect
                  key={`${i}-${j}`}
                  x={x(i)}
                  y={y(j + 1)}
                  width={x(1) - x(0)}
                  height={y(0) - y(1)}
                  fill="var(--ink)"
                  opacity={shade(Math.sqrt(share))}
                />
              ) : null,
            ),
          )}
        </svg>
      )}
    </div>
  );
}
