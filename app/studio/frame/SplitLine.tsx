/** Two pictures on both sides of a line: their words, and the line, dragged or moved with the arrow keys. */
import { useRef } from 'react';

interface SplitLineProps {
  label: string;
  width: number;
  height: number;
  /** Where the line is, as a share of the width. */
  at: number;
  onMove: (at: number) => void;
}

export const SPLIT_WORD = 'absolute top-2 bg-black/70 px-1.5 py-0.5 text-white';

export function SplitLine({ label, width, height, at, onMove }: SplitLineProps) {
  const root = useRef<HTMLDivElement>(null);
  const move = (to: number) => onMove(Math.max(0.02, Math.min(0.98, to)));
  return (
    <div ref={root} className="absolute inset-0">
      <span className={SPLIT_WORD} style={{ right: width * (1 - at) + 8 }}>
        Before
      </span>
      <span className={SPLIT_WORD} style={{ left: width * at + 8 }}>
        After
      </span>
      <div
        role="slider"
        tabIndex={0}
        aria-label={label}
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
