/** The words over before and after, and the line between them, dragged or moved with the arrow keys. */
import { useRef } from 'react';
import { useStudio, useStudioStore } from '../store';

export function BeforeAfterLine({ width, height }: { width: number; height: number }) {
  const store = useStudioStore();
  const mode = useStudio((s) => s.beforeAfter);
  const unsteadied = useStudio((s) => s.unsteadied);
  const at = useStudio((s) => s.splitAt);
  const root = useRef<HTMLDivElement>(null);
  const word = 'absolute top-2 bg-black/70 px-1.5 py-0.5 text-white';
  if (unsteadied) return <span className={`${word} left-2`} data-testid="as-filmed">As filmed</span>; // prettier-ignore
  if (mode === 'after') return null;
  if (mode === 'beside')
    return (
      <>
        <span className={`${word} left-2`}>Before</span>
        <span className={word} style={{ left: width / 2 + 8 }}>
          After
        </span>
      </>
    );
  const move = (to: number) => store.getState().set({ splitAt: Math.max(0.02, Math.min(0.98, to)) });
  return (
    <div ref={root} className="absolute inset-0">
      <span className={word} style={{ right: width * (1 - at) + 8 }}>
        Before
      </span>
      <span className={word} style={{ left: width * at + 8 }}>
        After
      </span>
      <div
        role="slider"
        tabIndex={0}
        aria-label="Line between unsteadied and steadied"
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(at * 100)}
        className="pointer-events-auto absolute top-0 w-4 -translate-x-1/2 cursor-ew-resize touch-none"
        style={{ left: width * at, height }}
        onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
        onPointerMove={(e) => {
          if (!e.currentTarget.hasPointerCapture(e.pointerId)) return;
          const box = root.current!.getBoundingClientRect();
          move((e.clientX - box.left) / box.width);
        }}
        onKeyDown={(e) => {
          if (e.key !== 'ArrowLeft' && e.key !== 'ArrowRight') return;
          move(at + (e.key === 'ArrowLeft' ? -0.02 : 0.02));
          e.preventDefault();
          e.stopPropagation();
        }}
      >
        <span className="absolute inset-y-0 left-1/2 w-0.5 -translate-x-1/2 bg-white" />
      </div>
    </div>
  );
}
