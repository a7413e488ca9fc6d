/** What is on air as a lane: pieces that are dragged, rolled at their edges, deleted, or given another Lookout. */
import { useRef } from 'react';
import { changeCut, removeCut, rollCut, slidePiece, withCuts } from '@glimbo/core/edit/lookouts';
import type { Cut, Lookouts } from '@glimbo/core/lookouts/lookouts';
import { snap } from '@glimbo/core/path/edit';
import { caught } from '@glimbo/core/path/snapping';
import { clock } from '~/ui/format';
import { useClock, useStudio, useStudioStore, useTake } from '../state/store';
import { LANE_WIDTH, type Axis } from '../axes/lanes';
import { momentsNear } from '../axes/catching';
import { only } from './live-cut';
import { showsInWords } from './words';

/** Pixels within which a cut falls onto a mark or a beat. */
const REACH = 6;
/** Half the height of the strip by which an edge is grabbed. */
const GRIP = 6;
/** Pieces lower than this have no room for words. */
const WORDS_FROM = 16;

export function CutsLane({ height, y, timeAt }: Axis) {
  const { lookouts } = useTake();
  const times = useClock();
  if (!lookouts?.cuts.length)
    return (
      <text x={LANE_WIDTH / 2} y={24} textAnchor="middle" fill="var(--muted)" fontSize={11}>
        the path all along
      </text>
    );
  return (
    <>
      {lookouts.cuts.map((cut, i) => (
        <Piece key={i} {...{ cut, i, lookouts, height, y, timeAt }} from={clock(times.shown(cut.time))} />
      ))}
    </>
  );
}

function Piece({
  cut,
  i,
  lookouts,
  height,
  y,
  timeAt,
  from,
}: Axis & { cut: Cut; i: number; lookouts: Lookouts; from: string }) {
  const store = useStudioStore();
  const rate = useStudio((s) => s.footage.facts.rate);
  const begun = useRef<{ at: number; cuts: readonly Cut[] } | null>(null);
  const end = lookouts.cuts[i + 1]?.time ?? Infinity;
  const [top, bottom] = [y(cut.time), Math.min(height, end === Infinity ? height : y(end))];
  if (bottom < 0 || top > height) return null;
  const words = showsInWords(lookouts, cut.shows);
  const cuts = (by: (cuts: readonly Cut[]) => Cut[], gesture?: string) =>
    store.getState().edit((t) => withCuts(t, by), gesture);
  const reach = REACH * (timeAt(1) - timeAt(0));
  const caughtAt = (time: number) => snap(caught(time, momentsNear(store, reach), reach), rate);
  /** Dragging the whole piece, or its upper edge. */
  const drag = (what: 'piece' | 'edge') => ({
    onPointerDown: (e: React.PointerEvent<SVGElement>) => {
      e.stopPropagation();
      e.currentTarget.setPointerCapture(e.pointerId);
      begun.current = { at: e.clientY, cuts: lookouts.cuts };
    },
    onPointerMove: (e: React.PointerEvent<SVGElement>) => {
      const start = begun.current;
      if (!start || !e.currentTarget.hasPointerCapture(e.pointerId)) return;
      const before = start.cuts[i]!.time;
      const to = caughtAt(before + timeAt(e.clientY - start.at) - timeAt(0));
      cuts(
        () =>
          what === 'edge' ? rollCut(start.cuts, i, to, 1 / rate) : slidePiece(start.cuts, i, to - before, 1 / rate),
        'cut-drag',
      );
      store.getState().follow(Math.max(0, to));
    },
    onPointerUp: () => {
      begun.current = null;
      store.getState().endGesture();
    },
  });
  const keys = (e: React.KeyboardEvent) => {
    const step = { ArrowUp: -1, ArrowDown: 1 }[e.key];
    const digit = Number(e.key);
    if (step !== undefined) cuts((c) => rollCut(c, i, c[i]!.time + step / rate, 1 / rate), 'cut-step');
    else if (e.key === 'Delete' || e.key === 'Backspace') cuts((c) => removeCut(c, i));
    else if (digit >= 1 && digit <= lookouts.views.length) cuts((c) => changeCut(c, i, { shows: only(digit - 1) }));
    else if (e.key === '0') cuts((c) => changeCut(c, i, { shows: null }));
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  return (
    <g data-testid="cut-piece">
      <rect
        x={4}
        width={LANE_WIDTH - 8}
        y={top + 0.5}
        height={Math.max(2, bottom - top - 1)}
        fill={cut.shows ? 'var(--camera)' : 'var(--paper)'}
        fillOpacity={cut.shows ? 0.14 : 0.5}
        stroke="var(--edge)"
        className="cursor-move outline-offset-[-2px] focus-visible:outline-2 focus-visible:outline-ink"
        tabIndex={0}
        role="button"
        aria-label={`${words} from ${from}. Arrows roll its beginning, digits choose another Lookout, Delete removes the cut.`}
        onKeyDown={keys}
        onDoubleClick={() => store.getState().setTime(cut.time)}
        {...drag('piece')}
      />
      {bottom - top >= WORDS_FROM && (
        <text x={10} y={Math.max(0, top) + 12} fontSize={11} fill="var(--ink)" pointerEvents="none">
          {words.length > 13 ? `${words.slice(0, 12)}…` : words}
        </text>
      )}
      <line x1={0} x2={LANE_WIDTH} y1={top} y2={top} stroke="var(--camera)" strokeWidth={2} pointerEvents="none" />
      {cut.join && cut.join !== 'cut' && (
        <path
          d={`M${LANE_WIDTH - 16} ${top - 5}l10 10m0 -10l-10 10`}
          stroke="var(--camera)"
          strokeWidth={1.5}
          pointerEvents="none"
        >
          <title>{cut.join}</title>
        </path>
      )}
      <rect
        x={0}
        width={LANE_WIDTH}
        y={top - GRIP}
        height={2 * GRIP}
        fill="transparent"
        className="cursor-ns-resize"
        data-testid="cut-edge"
        {...drag('edge')}
      />
    </g>
  );
}
