/** The picture as the lenses left it, with their circles on it: dragged to their place and size. */
import { X } from 'lucide-react';
import { Dialog } from 'radix-ui';
import { useEffect, useRef, useState } from 'react';
import type { Lens } from '@glimbo/core/stitch/lens';
import type { OneLens, Source, TwoLenses } from '@glimbo/core/stitch/source';
import { askStitch } from '../picture/stitch-requests';
import { useStudioStore } from '../state/store';

interface CircleProps {
  draft: OneLens | TwoLenses;
  onChange: (s: Source) => void;
  onClose: () => void;
}

export function CircleDialog({ draft, onChange, onClose }: CircleProps) {
  const store = useStudioStore();
  const [picture, setPicture] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [first] = useState(draft);
  useEffect(() => {
    const { footage, time } = store.getState();
    askStitch<{ picture?: string }>(footage.id, { intent: 'raw', source: first, time })
      .then((answer) => {
        if (answer.picture) setPicture(answer.picture);
        else setProblem(answer.problem ?? 'The picture could not be read.');
      })
      .catch(() => setProblem('There was no answer from the server. Close this and try again.'));
  }, [store, first]);
  const lenses = draft.kind === 'one-lens' ? [draft.lens] : draft.lenses;
  const set = (n: number, change: Partial<Lens>) => {
    const next = lenses.map((l, i) => (i === n ? { ...l, ...change } : l));
    onChange(
      draft.kind === 'one-lens' ? { ...draft, lens: next[0]! } : { ...draft, lenses: next as TwoLenses['lenses'] },
    );
  };
  const { width, height } = store.getState().footage.facts;
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content className="menu fixed top-1/2 left-1/2 flex max-h-[94vh] w-[min(94vw,1100px)] -translate-1/2 flex-col p-3!">
          <Dialog.Title className="font-semibold">The lenses&apos; circles</Dialog.Title>
          <Dialog.Description className="mb-2 text-muted">
            Drag a circle to its place, and the handle on its edge to its size. Arrow keys move by a pixel, plus and
            minus change the radius.
          </Dialog.Description>
          <div
            className="relative min-h-0 self-center"
            style={{ aspectRatio: width / height, height: `min(74vh, ${(1070 * height) / width}px)` }}
          >
            {picture && (
              <img
                src={picture}
                alt="The picture as it was filmed"
                className="absolute inset-0 size-full"
                draggable={false}
              />
            )}
            {!picture && (
              <p className="absolute inset-0 grid place-items-center bg-well text-white">
                {problem ?? 'Reading the picture'}
              </p>
            )}
            <svg viewBox={`0 0 ${width} ${height}`} className="absolute inset-0 size-full touch-none overflow-visible">
              {lenses.map((lens, n) => (
                <CircleHandle
                  key={n}
                  name={lenses.length > 1 ? `Circle of lens ${n + 1}` : 'Circle of the lens'}
                  lens={lens}
                  scale={width / 1070}
                  onChange={(c) => set(n, c)}
                />
              ))}
            </svg>
          </div>
          <Dialog.Close className="icon-button absolute top-2 right-2" aria-label="Close">
            <X size={16} />
          </Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function CircleHandle({
  name,
  lens,
  scale,
  onChange,
}: {
  name: string;
  lens: Lens;
  scale: number;
  onChange: (c: Partial<Lens>) => void;
}) {
  const from = useRef<{ x: number; y: number; lens: Lens; size: boolean } | null>(null);
  const at = (e: React.PointerEvent<SVGElement>) => {
    const svg = e.currentTarget.ownerSVGElement!;
    const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(svg.getScreenCTM()!.inverse());
    return { x: p.x, y: p.y };
  };
  const grab = (size: boolean) => (e: React.PointerEvent<SVGElement>) => {
    e.currentTarget.setPointerCapture(e.pointerId);
    from.current = { ...at(e), lens, size };
  };
  const drag = (e: React.PointerEvent<SVGElement>) => {
    const start = from.current;
    if (!start || !e.currentTarget.hasPointerCapture(e.pointerId)) return;
    const { x, y } = at(e);
    const round = (v: number) => Math.round(v * 2) / 2;
    if (start.size) onChange({ radius: Math.max(8, round(Math.hypot(x - lens.centreX, y - lens.centreY))) });
    else
      onChange({ centreX: round(start.lens.centreX + x - start.x), centreY: round(start.lens.centreY + y - start.y) });
  };
  const release = () => (from.current = null);
  const key = (e: React.KeyboardEvent) => {
    const moves: Record<string, Partial<Lens>> = {
      ArrowLeft: { centreX: lens.centreX - 1 },
      ArrowRight: { centreX: lens.centreX + 1 },
      ArrowUp: { centreY: lens.centreY - 1 },
      ArrowDown: { centreY: lens.centreY + 1 },
      '+': { radius: lens.radius + 1 },
      '-': { radius: Math.max(8, lens.radius - 1) },
    };
    if (!moves[e.key]) return;
    e.preventDefault();
    onChange(moves[e.key]!);
  };
  const { centreX, centreY, radius } = lens;
  const handle = { x: centreX + radius * Math.SQRT1_2, y: centreY - radius * Math.SQRT1_2 };
  return (
    <g
      role="group"
      aria-label={`${name}: centre ${centreX.toFixed(1)}, ${centreY.toFixed(1)}, radius ${radius.toFixed(1)} pixels`}
      tabIndex={0}
      onKeyDown={key}
    >
      <circle
        cx={centreX}
        cy={centreY}
        r={radius}
        fill="transparent"
        stroke="#000"
        strokeOpacity={0.5}
        strokeWidth={4 * scale}
        className="cursor-move"
        onPointerDown={grab(false)}
        onPointerMove={drag}
        onPointerUp={release}
      />
      <circle
        cx={centreX}
        cy={centreY}
        r={radius}
        fill="none"
        stroke="#fff"
        strokeWidth={1.5 * scale}
        strokeDasharray={`${8 * scale} ${5 * scale}`}
        pointerEvents="none"
      />
      <path
        d={`M${centreX - 9 * scale} ${centreY}h${18 * scale}M${centreX} ${centreY - 9 * scale}v${18 * scale}`}
        stroke="#fff"
        strokeWidth={1.5 * scale}
        pointerEvents="none"
      />
      <circle
        cx={handle.x}
        cy={handle.y}
        r={7 * scale}
        fill="#fff"
        stroke="#000"
        strokeOpacity={0.6}
        strokeWidth={1.5 * scale}
        className="cursor-nesw-resize"
        data-testid="radius-handle"
        onPointerDown={grab(true)}
        onPointerMove={drag}
        onPointerUp={release}
      />
    </g>
  );
}
