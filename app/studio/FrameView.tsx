/** The Frame: the picture that will be exported, in its real shape, handled directly. */
import { useEffect, useMemo, useRef, useState } from 'react';
import { aimAt, cameraOf, directionAt } from '@glimbo/core/lens/view';
import { aspectRatio } from '@glimbo/core/lens/format';
import { maxFov, FOV_MIN } from '@glimbo/core/lens/projection';
import type { Vec3 } from '@glimbo/core/geometry/rotation';
import { PreviewRenderer, wholeFrame } from '~/preview/renderer';
import { FrameOverlay } from './FrameOverlay';
import { LookRoundLabels, lookRoundPanes } from './LookRound';
import { usePicture } from './picture';
import { useStudio, useStudioStore, useTake } from './store';
import { useSize } from './useSize';

type Grip =
  | { kind: 'aim'; direction: Vec3 }
  | { kind: 'roll'; angle: number; roll: number }
  | { kind: 'bend'; y: number; bend: number };

/** Pixels from the Frame's edge within which a drag rolls. */
const RING = 26;

export function FrameView() {
  const store = useStudioStore();
  const take = useTake();
  const picture = usePicture();
  const [well, room] = useSize<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const renderer = useRef<PreviewRenderer | null>(null);
  const grip = useRef<Grip | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [atEdge, setAtEdge] = useState(false);

  const lookRound = useStudio((s) => s.lookRound);
  const compare = useStudio((s) => s.compare);
  const share = useStudio((s) => s.share);

  const size = useMemo(() => {
    // The look round takes all the room there is.
    const ratio = lookRound && room.height ? room.width / room.height : aspectRatio(take.frame.aspect);
    const even = (n: number) => 2 * Math.floor(n / 2);
    const width = even(Math.min(room.width, room.height * ratio));
    return { width, height: even(width / ratio) };
  }, [room, take.frame.aspect, lookRound]);

  useEffect(() => {
    try {
      const made = new PreviewRenderer(canvas.current!);
      renderer.current = made;
      const forget = picture.listen((video) => made.setPicture(video));
      const look = () => {
        const { take: current, view, lookRound: round } = store.getState();
        made.setPanes(round ? lookRoundPanes(0) : [wholeFrame(view())], current());
      };
      look();
      const unsubscribe = store.subscribe(
        (now, before) =>
          (now.time !== before.time ||
            now.history !== before.history ||
            now.glance !== before.glance ||
            now.lookRound !== before.lookRound) &&
          look(),
      );
      return () => {
        forget();
        unsubscribe();
        made.dispose();
      };
    } catch (error) {
      setProblem((error as Error).message);
    }
  }, [store, picture]);

  useEffect(() => renderer.current?.setShare(share), [share]);
  const [left, right] = [compare?.left, compare?.right];
  useEffect(() => {
    if (!left || !right) return renderer.current?.setSplit(null);
    renderer.current?.setPicture(left);
    renderer.current?.setSplit(right, store.getState().compare?.at);
  }, [left, right, store]);
  const splitAt = compare?.at;
  useEffect(() => void (splitAt !== undefined && renderer.current?.moveSplit(splitAt)), [splitAt]);

  useEffect(() => renderer.current?.resize(size.width * devicePixelRatio, size.height * devicePixelRatio), [size]);

  useEffect(() => {
    const element = canvas.current!;
    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      const { view, dial } = store.getState();
      const { fov, bend } = view();
      dial({ fov: Math.max(FOV_MIN, Math.min(maxFov(bend), fov * 1.0012 ** e.deltaY)) }, 'zoom');
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, [store]);

  const at = (e: React.PointerEvent) => {
    const box = canvas.current!.getBoundingClientRect();
    return {
      x: e.clientX - box.left,
      y: e.clientY - box.top,
      angle: Math.atan2(e.clientX - box.left - box.width / 2, box.top + box.height / 2 - e.clientY) * (180 / Math.PI),
    };
  };
  const nearEdge = ({ x, y }: { x: number; y: number }) => Math.min(x, y, size.width - x, size.height - y) < RING;

  const grab = (e: React.PointerEvent<HTMLCanvasElement>) => {
    e.currentTarget.setPointerCapture(e.pointerId);
    e.currentTarget.focus();
    const view = store.getState().view();
    const p = at(e);
    if (e.altKey) grip.current = { kind: 'bend', y: p.y, bend: view.bend };
    else if (nearEdge(p)) grip.current = { kind: 'roll', angle: p.angle, roll: view.roll };
    else {
      const direction = directionAt(cameraOf(view, size.width, size.height), p.x, p.y);
      grip.current = direction && { kind: 'aim', direction };
    }
  };
  const drag = (e: React.PointerEvent<HTMLCanvasElement>) => {
    const p = at(e);
    const held = grip.current;
    if (!held) return setAtEdge(nearEdge(p));
    const { dial, view } = store.getState();
    if (held.kind === 'aim') dial(aimAt(view(), size.width, size.height, p.x, p.y, held.direction), 'aim');
    else if (held.kind === 'roll') dial({ roll: held.roll - (((p.angle - held.angle + 540) % 360) - 180) }, 'roll');
    else dial({ bend: Math.max(0, Math.min(4, held.bend + (held.y - p.y) / 120)) }, 'bend');
  };
  const release = () => {
    grip.current = null;
    store.getState().endGesture();
  };

  const gathered = useStudio((s) => s.footage.gathered);
  return (
    <div className="relative size-full overflow-hidden bg-well p-3">
      <div ref={well} className="relative grid size-full place-items-center">
        <canvas
          ref={canvas}
          tabIndex={0}
          role="img"
          aria-label="Frame: drag to aim, wheel to zoom, drag the edge to roll, Alt-drag to bend"
          data-testid="frame"
          className={`touch-none ${atEdge ? 'cursor-alias' : 'cursor-grab active:cursor-grabbing'}`}
          style={{ width: size.width, height: size.height, visibility: problem || !gathered ? 'hidden' : 'visible' }}
          onPointerDown={grab}
          onPointerMove={drag}
          onPointerUp={release}
          onPointerCancel={release}
          onPointerLeave={() => setAtEdge(false)}
        />
        {atEdge && size.width > 0 && (
          <div
            className="pointer-events-none absolute border border-dashed border-white/60"
            style={{ width: size.width - 2 * RING, height: size.height - 2 * RING }}
          />
        )}
        {lookRound ? <LookRoundLabels {...size} /> : <FrameOverlay {...size} />}
        {problem && <p className="absolute max-w-sm text-center text-white">{problem}</p>}
      </div>
    </div>
  );
}
