/** The sector's edges on the Map, each with a grip that is dragged, or moved with the arrow keys. */
import { useDrag } from '@use-gesture/react';
import { edgeLines, moveEdge, widthOf, type Sector, type SectorEdge } from '@glimbo/core/look/sector';
import { withLook } from '@glimbo/core/edit/look';
import type { MapDrawing } from '../picture/map-projection';
import { useStudio, useStudioStore, useTake } from '../state/store';

const NAMES: Record<SectorEdge, string> = {
  from: 'First heading of the sector',
  to: 'Last heading of the sector',
  bottom: 'Bottom of the sector',
  top: 'Top of the sector',
};
const isLevel = (edge: SectorEdge) => edge === 'bottom' || edge === 'top';

interface Props {
  width: number;
  lineOf: MapDrawing['lineOf'];
}

export function SectorOnMap({ width, lineOf }: Props) {
  const sector = useTake().look?.sector;
  const shown = useStudio((s) => s.patchOutlined);
  if (!sector || !shown || !width) return null;
  const lines = edgeLines(sector).map(({ edge, line }) => ({
    edge,
    d: lineOf(line),
  }));
  return (
    <g data-testid="sector-on-map">
      {lines.map(({ edge, d }) => (
        <g key={edge}>
          <path d={d} fill="none" stroke="#000" strokeOpacity={0.5} strokeWidth={3} />
          <path d={d} fill="none" stroke="#fff" strokeWidth={1.4} strokeDasharray="9 4" />
        </g>
      ))}
      {lines.map(({ edge }) => (
        <Grip key={edge} sector={sector} edge={edge} width={width} />
      ))}
    </g>
  );
}

/** Where the grip of an edge is: in the middle of it. */
function placeOf(sector: Sector, edge: SectorEdge, width: number): [number, number] {
  const pan = isLevel(edge) ? sector.from + widthOf(sector) / 2 : sector[edge];
  const tilt = isLevel(edge) ? sector[edge] : (sector.bottom + sector.top) / 2;
  const x = ((((pan / 360 + 0.5) % 1) + 1) % 1) * width;
  return [x, (0.5 - tilt / 180) * (width / 2)];
}

const STEPS: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: 1, ArrowDown: -1 };

function Grip({ sector, edge, width }: { sector: Sector; edge: SectorEdge; width: number }) {
  const store = useStudioStore();
  const [x, y] = placeOf(sector, edge, width);
  const degrees = 360 / width;
  const move = (to: number) =>
    store
      .getState()
      .edit((t) => withLook(t, { sector: moveEdge(t.look?.sector ?? sector, edge, to) }), `sector-edge-${edge}`);
  const bind = useDrag(
    ({ event, first, last, movement: [dx, dy], memo }) => {
      event.stopPropagation();
      const began = first ? sector[edge] : (memo as number);
      if (dx || dy) move(began + (isLevel(edge) ? -dy : dx) * degrees);
      if (last) store.getState().endGesture();
      return began;
    },
    { pointer: { keys: false } },
  );
  const step = (e: React.KeyboardEvent) => {
    const by = STEPS[e.key];
    if (!by || e.ctrlKey || e.metaKey || e.altKey) return;
    e.preventDefault();
    e.stopPropagation();
    move(sector[edge] + by * (e.shiftKey ? 10 : 1));
  };
  return (
    <g
      {...bind()}
      transform={`translate(${x} ${y})`}
      role="slider"
      tabIndex={0}
      aria-label={NAMES[edge]}
      aria-valuenow={Math.round(sector[edge])}
      aria-valuemin={isLevel(edge) ? -90 : -180}
      aria-valuemax={isLevel(edge) ? 90 : 180}
      aria-valuetext={`${Math.round(sector[edge])}°`}
      className={`touch-none ${isLevel(edge) ? 'cursor-ns-resize' : 'cursor-ew-resize'}`}
      onKeyDown={step}
      onKeyUp={(e) => e.key in STEPS && store.getState().endGesture()}
    >
      <circle r={12} fill="transparent" />
      <rect
        x={isLevel(edge) ? -9 : -3}
        y={isLevel(edge) ? -3 : -9}
        width={isLevel(edge) ? 18 : 6}
        height={isLevel(edge) ? 6 : 18}
        rx={3}
        fill="#fff"
        stroke="#000"
        strokeOpacity={0.6}
      />
    </g>
  );
}
