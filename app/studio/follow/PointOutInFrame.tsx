/** Over the Frame while a subject is pointed out: a press on its middle has its size found, a drag round it draws its outline. */
import { useState } from 'react';
import { boxDrawn } from '@glimbo/core/follow/point-out';
import { cameraOf, directionAt } from '@glimbo/core/lens/view';
import { useStudio, useStudioStore } from '../state/store';
import { pointOut } from './subjects';

interface Pixel {
  x: number;
  y: number;
}

/** Pixels up to which it is a press. */
const PRESS = 5;

export function PointOutInFrame({ width, height }: { width: number; height: number }) {
  const store = useStudioStore();
  const pointing = useStudio((s) => s.pointingOut !== 'nothing');
  const [drawn, setDrawn] = useState<{ from: Pixel; to: Pixel } | null>(null);
  if (!pointing) return null;
  const at = (e: React.PointerEvent): Pixel => {
    const box = e.currentTarget.getBoundingClientRect();
    return { x: e.clientX - box.left, y: e.clientY - box.top };
  };
  const release = () => {
    if (!drawn) return;
    setDrawn(null);
    const { from, to } = drawn;
    const camera = cameraOf(store.getState().view(), width, height);
    if (Math.hypot(to.x - from.x, to.y - from.y) < PRESS) void pointOut(store, directionAt(camera, from.x, from.y));
    else {
      const box = boxDrawn(camera, from, to);
      void pointOut(store, box?.direction ?? null, box ?? undefined);
    }
  };
  return (
    <svg
      width={width}
      height={height}
      className="pointer-events-auto absolute inset-0 cursor-crosshair touch-none"
      data-testid="point-out-in-frame"
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        setDrawn({ from: at(e), to: at(e) });
      }}
      onPointerMove={(e) => drawn && setDrawn({ ...drawn, to: at(e) })}
      onPointerUp={release}
      onPointerCancel={() => setDrawn(null)}
    >
      {drawn && (
        <rect
          x={Math.min(drawn.from.x, drawn.to.x)}
          y={Math.min(drawn.from.y, drawn.to.y)}
          width={Math.abs(drawn.to.x - drawn.from.x)}
          height={Math.abs(drawn.to.y - drawn.from.y)}
          fill="none"
          stroke="var(--subject)"
          strokeWidth={2}
          data-testid="outline-drawn"
        />
      )}
    </svg>
  );
}
