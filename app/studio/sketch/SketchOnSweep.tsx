/** The Sketch on the Sweep: a dotted line; dragging along it takes that stretch. */
import { useMemo, useRef, useState } from 'react';
import { layStretch } from '@glimbo/core/sketch/lay';
import { panLine } from '../axes/heading-line';
import type { Axis } from '../axes/lanes';
import { useStudio, useStudioStore } from '../state/store';

/** Share of the Sweep's width from which on a leap is a cut. */
const LEAP = 1 / 8;
/** Pixels to either side of the line by which it is grabbed. */
const GRIP = 9;

export function SketchOnSweep({ width, height, y, timeAt }: Axis & { width: number }) {
  const store = useStudioStore();
  const sketch = useStudio((s) => (s.station === 'path' ? s.sketch : null));
  const from = useRef(0);
  const [stretch, setStretch] = useState<{ from: number; to: number } | null>(null);
  const line = useMemo(
    () => (sketch && width ? panLine(sketch.path, { width, height, y, timeAt, leap: LEAP, span: sketch }) : ''),
    [sketch, width, height, y, timeAt],
  );
  if (!sketch || !line) return null;
  const at = (e: React.PointerEvent<SVGPathElement>) =>
    timeAt(e.clientY - e.currentTarget.ownerSVGElement!.getBoundingClientRect().top);
  const between = (a: number, b: number) => ({ from: Math.min(a, b), to: Math.max(a, b) });
  const take = () => {
    const taken = stretch;
    setStretch(null);
    const { edit, footage } = store.getState();
    if (taken && taken.to - taken.from > 2 / footage.facts.rate)
      edit((t) => ({ ...t, path: layStretch(t.path, sketch, taken, footage.facts.rate) }));
  };
  return (
    <g data-testid="sketch-on-sweep">
      {stretch && (
        <rect
          x={0}
          width={width}
          y={y(stretch.from)}
          height={Math.max(1, y(stretch.to) - y(stretch.from))}
          fill="var(--camera)"
          fillOpacity={0.18}
          pointerEvents="none"
        />
      )}
      <path d={line} fill="none" stroke="#000" strokeOpacity={0.55} strokeWidth={4} pointerEvents="none" />
      <path
        d={line}
        fill="none"
        stroke="#fff"
        strokeWidth={2.4}
        strokeDasharray="1 6"
        strokeLinecap="round"
        pointerEvents="none"
      />
      <path
        d={line}
        fill="none"
        stroke="transparent"
        strokeWidth={2 * GRIP}
        className="cursor-ns-resize"
        data-testid="sketch-line"
        onPointerDown={(e) => {
          e.stopPropagation();
          e.currentTarget.setPointerCapture(e.pointerId);
          from.current = at(e);
          setStretch({ from: from.current, to: from.current });
        }}
        onPointerMove={(e) =>
          e.currentTarget.hasPointerCapture(e.pointerId) && setStretch(between(from.current, at(e)))
        }
        onPointerUp={take}
        onPointerCancel={() => setStretch(null)}
      >
        <title>A Sketch: drag along it to take a part of it</title>
      </path>
    </g>
  );
}
