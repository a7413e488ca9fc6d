/** Marks and ranges of the footage on the Score: flags with their names, and brackets along the Sweep's edge. */
import { clock } from '~/ui/format';
import { pressed } from '~/ui/pressed';
import { useClock, useStudio, useStudioStore } from '../state/store';
import type { Axis } from '../axes/lanes';

export function Marks({ y, width }: Axis & { width: number }) {
  const store = useStudioStore();
  const { marks, ranges } = useStudio((s) => s.footage);
  const open = useStudio((s) => s.rangeStart);
  const time = useStudio((s) => s.time);
  const times = useClock();
  return (
    <g data-testid="marks">
      {ranges.map((r, i) => (
        <g key={i} pointerEvents="none">
          <rect
            x={width - 7}
            y={y(r.in)}
            width={7}
            height={Math.max(2, y(r.out) - y(r.in))}
            fill="#fff"
            opacity={0.85}
          />
          <text
            x={width - 12}
            y={y(r.in) + 11}
            textAnchor="end"
            className="figure"
            fontSize={10}
            fill="#fff"
            stroke="#000"
            strokeWidth={2.5}
            paintOrder="stroke"
          >
            range {i + 1}
          </text>
        </g>
      ))}
      {open !== null && (
        <rect
          x={width - 7}
          y={y(Math.min(open, time))}
          width={7}
          height={Math.max(2, Math.abs(y(time) - y(open)))}
          fill="#fff"
          opacity={0.5}
          pointerEvents="none"
        />
      )}
      {marks.map((m, i) => (
        <g
          key={i}
          role="button"
          tabIndex={0}
          aria-label={`Mark ${m.name} at ${clock(times.shown(m.time))}`}
          className="cursor-pointer"
          onPointerDown={(e) => {
            e.stopPropagation();
            store.getState().setTime(m.time);
          }}
          onKeyDown={pressed(() => store.getState().setTime(m.time))}
        >
          <line x1={0} x2={width} y1={y(m.time)} y2={y(m.time)} stroke="#fff" strokeWidth={1} strokeDasharray="1 3" />
          <path d={`M0 ${y(m.time) - 7}h9l4 7l-4 7h-9z`} fill="#fff" stroke="#000" strokeOpacity={0.5} />
          <text
            x={17}
            y={y(m.time) + 4}
            className="figure"
            fontSize={10.5}
            fill="#fff"
            stroke="#000"
            strokeWidth={2.5}
            paintOrder="stroke"
          >
            {m.name}
          </text>
        </g>
      ))}
    </g>
  );
}
