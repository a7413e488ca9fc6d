/** The Frame: the picture that will be exported, in its real shape, handled directly. */
import { usePinch } from '@use-gesture/react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import { dragAim, dragAlong, type Pixel } from '@glimbo/core/lens/aim';
import { cameraOf, directionAt, type View } from '@glimbo/core/lens/view';
import { inFormat } from '@glimbo/core/take/formats';
import { cutAt } from '@glimbo/core/lookouts/lookouts';
import { maxFov, FOV_MIN } from '@glimbo/core/lens/projection';
import { multiply, transpose, turnTo, type Matrix3, type Vec3 } from '@glimbo/core/geometry/rotation';
import { turnMount } from '@glimbo/core/take/framing';
import { LookTables } from '~/preview/look-tables';
import { PreviewRenderer } from '~/preview/renderer';
import type { Take } from '@glimbo/core/take/take';
import { FrameOverlay } from './FrameOverlay';
import { patchesFor } from './patches';
import { SectorInFrame } from './sector';
import { formatsLayout, gridLayout, pictureLayout } from './format-layout';
import { FormatMarks } from './FormatMarks';
import { framePanes } from './frame-panes';
import { LookRoundLabels } from './LookRound';
import { usePicture } from './picture';
import { shownBeforeAfter, showsGrid, useStudio, useStudioStore, useTake } from '../state/store';
import { GridMarks } from '../lookouts/GridMarks';
import { only, putOnAir } from '../lookouts/live-cut';
import { PointOutInFrame } from '../follow/PointOut';
import { SubjectsInFrame } from '../follow/SubjectMarks';
import { putPatch } from '../look/place-patch';
import { makeGrey } from '../look/pick-grey';
import { useSize } from '../../ui/useSize';

type Grip =
  /** Aiming: what was grabbed, where the pointer was last, and where and with what view it began. */
  | { kind: 'aim'; direction: Vec3; last: Pixel; from: Pixel; view: View; axis: 'pan' | 'tilt' | null }
  | { kind: 'roll'; angle: number; roll: number }
  | { kind: 'bend'; y: number; bend: number }
  | { kind: 'patch' }
  /** Turning the mount: where it was grabbed, and what lies between mount and world. */
  | { kind: 'turn'; direction: Vec3; after: Matrix3; orientation: Take['orientation'] };

const lookFailed = () =>
  toast.error('The look could not be drawn. Your take is kept; change a dial of the look to try it again.', {
    id: 'look-failed',
  });

/** Pixels from the Frame's edge within which a drag rolls. */
const RING = 26;
/** Pixels after which a drag with Shift has an axis. */
const AXIS_FROM = 4;

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
  const turning = useStudio((s) => s.turning);

  const lookRound = useStudio((s) => s.lookRound);
  const compare = useStudio((s) => s.compare);
  const share = useStudio((s) => s.share);
  const beside = useStudio((s) => shownBeforeAfter(s) === 'beside');
  const all = useStudio((s) => s.allFormats && s.station !== 'level') && !lookRound;

  const grid = useStudio((s) => (showsGrid(s) ? s.grid : 'off'));
  const piece = useStudio((s) => cutAt({ cuts: s.take().lookouts?.cuts ?? [] }, s.time));
  const roomRatio = room.height ? room.width / room.height : 1;
  useEffect(() => store.getState().measureRoom(roomRatio), [store, roomRatio]);
  const layout = useMemo(() => {
    if (grid !== 'off') return gridLayout(take, grid, roomRatio);
    if (all) return formatsLayout(take);
    // Beside each other before and after are handled as one.
    return pictureLayout(take, store.getState().time, beside && !lookRound);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the piece on air says what is shown
  }, [take, grid, roomRatio, all, beside, lookRound, piece, store]);
  const size = useMemo(() => {
    // The look round takes all the room there is.
    const ratio = lookRound && room.height ? room.width / room.height : layout.ratio;
    const even = (n: number) => 2 * Math.floor(n / 2);
    const width = even(Math.min(room.width, room.height * ratio));
    return { width, height: even(width / ratio) };
  }, [room, layout, lookRound]);
  const { parts } = layout;
  /** The pane that is handled: the one under the pointer since it was pressed. */
  const handled = useRef(0);
  const part = parts[handled.current] ?? parts[0]!;
  const pane = { width: part.width * size.width, height: part.height * size.height };

  useEffect(() => {
    try {
      const made = new PreviewRenderer(canvas.current!);
      renderer.current = made;
      made.onLost = (lost) =>
        setProblem(lost ? 'The picture was lost by the browser; it comes back by itself. Your take is kept.' : null);
      const tables = new LookTables({
        table: (table) => {
          arrived();
          made.setTable(table);
        },
        missing: (missing) => store.getState().missLut(missing),
        failed: lookFailed,
      });
      // Until the video has reached the playhead, the Frame still shows another moment.
      const { rate } = store.getState().footage.facts;
      const arrived = () => {
        const there = Math.abs((picture.time ?? Infinity) - store.getState().time) < 0.75 / rate;
        made.setCurrent(there && tables.settled && sector.settled);
      };
      const sector = new SectorInFrame(store, made, () => arrived());
      const patches = patchesFor(store, picture, made);
      const forget = picture.listen((shown) => {
        arrived();
        patches();
        made.setPicture(shown);
      });
      const look = () => {
        patches();
        sector.bring();
        const { panes, before, treatment, detail } = framePanes(store.getState());
        const { station, seeing } = store.getState();
        made.setDetail(detail);
        made.markClipped(station === 'look' && seeing.clipped);
        tables.want(treatment);
        arrived();
        made.setPanes(panes, before);
      };
      look();
      const unsubscribe = store.subscribe(
        (now, before) =>
          (now.time !== before.time ||
            now.history !== before.history ||
            now.glance !== before.glance ||
            now.tryOut !== before.tryOut ||
            now.tried !== before.tried ||
            now.motion !== before.motion ||
            now.light !== before.light ||
            now.others !== before.others ||
            now.tracks !== before.tracks ||
            now.otherLight !== before.otherLight ||
            shownBeforeAfter(now) !== shownBeforeAfter(before) ||
            now.splitAt !== before.splitAt ||
            now.unsteadied !== before.unsteadied ||
            now.allFormats !== before.allFormats ||
            now.station !== before.station ||
            now.seeing !== before.seeing ||
            now.grid !== before.grid ||
            now.frameRoom !== before.frameRoom ||
            now.lookRound !== before.lookRound) &&
          look(),
      );
      return () => {
        forget();
        unsubscribe();
        tables.dispose();
        sector.dispose();
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

  // Two fingers zoom by their distance and roll by their turn.
  usePinch(
    ({ first, last, da: [distance, angle], memo }) => {
      const { view, dial, endGesture } = store.getState();
      if (first) grip.current = null;
      const began = (first ? { distance, angle, view: view() } : memo) as {
        distance: number;
        angle: number;
        view: View;
      };
      const { bend, fov, roll } = began.view;
      const closer = Math.max(FOV_MIN, Math.min(maxFov(bend), (fov * began.distance) / Math.max(1, distance)));
      dial({ fov: closer, roll: roll - (angle - began.angle) }, 'pinch');
      if (last) endGesture();
      return began;
    },
    { target: canvas, pinchOnWheel: false },
  );

  const at = (e: React.PointerEvent) => {
    const box = canvas.current!.getBoundingClientRect();
    const { left, top } = parts[handled.current] ?? parts[0]!;
    const x = e.clientX - box.left - left * size.width;
    const y = e.clientY - box.top - top * size.height;
    const angle = Math.atan2(x - pane.width / 2, pane.height / 2 - y) * (180 / Math.PI);
    return { x, y, angle };
  };
  /** Handles the pane under the pointer; of several formats it becomes the one that is worked on. */
  const handle = (e: React.PointerEvent) => {
    const box = canvas.current!.getBoundingClientRect();
    const [x, y] = [(e.clientX - box.left) / Math.max(1, size.width), (e.clientY - box.top) / Math.max(1, size.height)];
    const found = parts.findLastIndex((p) => p.left <= x && p.top <= y && x < p.left + p.width && y < p.top + p.height);
    handled.current = Math.max(0, found);
    const { aspect, lookout, width, height } = parts[handled.current]!;
    if (aspect !== take.frame.aspect) store.getState().edit((t) => inFormat(t, aspect));
    if (lookout !== null && e.type === 'pointerdown') store.getState().chooseLookout(lookout);
    Object.assign(pane, { width: width * size.width, height: height * size.height });
  };

  const nearEdge = ({ x, y }: { x: number; y: number }) => Math.min(x, y, pane.width - x, pane.height - y) < RING;

  const grab = (e: React.PointerEvent<HTMLCanvasElement>) => {
    e.currentTarget.setPointerCapture(e.pointerId);
    e.currentTarget.focus();
    handle(e);
    const { lookout } = parts[handled.current]!;
    // Playing, a press in the grid is a cut.
    if (grid !== 'off' && lookout !== null && store.getState().speed !== 0) return putOnAir(store, only(lookout));
    const view = store.getState().view();
    const p = at(e);
    if (store.getState().pickingGrey)
      return makeGrey(store, picture, directionAt(cameraOf(view, pane.width, pane.height), p.x, p.y));
    if (store.getState().placingPatch) {
      putPatch(store, directionAt(cameraOf(view, pane.width, pane.height), p.x, p.y));
      grip.current = { kind: 'patch' };
      return;
    }
    const { turning, correction, time, take: current } = store.getState();
    if (turning) {
      const direction = directionAt(cameraOf(view, pane.width, pane.height), p.x, p.y);
      const c = correction();
      const after = multiply(c.at(time), transpose(c.steadied(time)));
      grip.current = direction && { kind: 'turn', direction, after, orientation: current().orientation };
    } else if (e.altKey) grip.current = { kind: 'bend', y: p.y, bend: view.bend };
    else if (nearEdge(p)) grip.current = { kind: 'roll', angle: p.angle, roll: view.roll };
    else {
      const direction = directionAt(cameraOf(view, pane.width, pane.height), p.x, p.y);
      grip.current = direction && { kind: 'aim', direction, last: p, from: p, view, axis: null };
    }
  };
  const drag = (e: React.PointerEvent<HTMLCanvasElement>) => {
    const held = grip.current;
    if (!held && !all) handle(e);
    const p = at(e);
    const { dial, view, turning } = store.getState();
    const camera = cameraOf(view(), pane.width, pane.height);
    store.getState().pointAt(directionAt(camera, p.x, p.y));
    if (!held) return setAtEdge(!turning && nearEdge(p));
    if (held.kind === 'patch') return putPatch(store, directionAt(camera, p.x, p.y));
    if (held.kind === 'aim') aimBy(held, p, e.shiftKey);
    else if (held.kind === 'turn') turnTheMount(held, directionAt(camera, p.x, p.y));
    else if (held.kind === 'roll') dial({ roll: held.roll - (((p.angle - held.angle + 540) % 360) - 180) }, 'roll');
    else dial({ bend: Math.max(0, Math.min(4, held.bend + (held.y - p.y) / 120)) }, 'bend');
  };
  /** Shift holds the drag to the axis along which it has gone further. */
  const aimBy = (held: Grip & { kind: 'aim' }, p: Pixel, oneAxis: boolean) => {
    const { view, aim } = store.getState();
    const [dx, dy] = [Math.abs(p.x - held.from.x), Math.abs(p.y - held.from.y)];
    if (!oneAxis) held.axis = null;
    else if (!held.axis && Math.max(dx, dy) > AXIS_FROM) held.axis = dx >= dy ? 'pan' : 'tilt';
    if (oneAxis && !held.axis) return;
    aim(
      held.axis
        ? dragAlong(held.axis, held.view, pane.width, pane.height, held.from, p)
        : dragAim(view(), pane.width, pane.height, held.last, p, held.direction),
      'aim',
    );
    held.last = p;
  };
  /** Turns the mount so that what was grabbed comes under the pointer; the framing is what is turned, so it is not kept. */
  const turnTheMount = ({ direction, after, orientation }: Grip & { kind: 'turn' }, now: Vec3 | null) => {
    if (!now) return;
    const turn = multiply(transpose(after), multiply(turnTo(direction, now), after));
    const mount = turnMount({ orientation }, turn);
    store.getState().edit((t) => ({ ...t, orientation: { ...t.orientation, mount } }), 'turn-mount');
  };
  const release = () => {
    grip.current = null;
    store.getState().endGesture();
  };

  return (
    <div className="relative size-full overflow-hidden bg-well p-3">
      <div ref={well} className="relative grid size-full place-items-center">
        <canvas
          ref={canvas}
          tabIndex={0}
          role="img"
          aria-label="Frame: drag to aim, with Shift along one axis, wheel to zoom, drag the edge to roll, Alt-drag to bend"
          data-testid="frame"
          className={`touch-none ${turning ? 'cursor-move' : atEdge ? 'cursor-alias' : 'cursor-grab active:cursor-grabbing'}`}
          style={{ width: size.width, height: size.height, visibility: problem ? 'hidden' : 'visible' }}
          onPointerDown={grab}
          onPointerMove={drag}
          onPointerUp={release}
          onPointerCancel={release}
          onPointerLeave={() => (setAtEdge(false), store.getState().pointAt(null))}
        />
        {atEdge && size.width > 0 && (
          <div
            className="pointer-events-none absolute border border-dashed border-white/60"
            style={{ width: size.width - 2 * RING, height: size.height - 2 * RING }}
          />
        )}
        {lookRound ? <LookRoundLabels {...size} /> : grid === 'off' && <FrameOverlay {...size} pane={pane} />}
        <SubjectsInFrame {...size} />
        {!lookRound && <FormatMarks {...size} panes={layout.pictures} all={all} />}
        {grid !== 'off' && <GridMarks {...size} parts={parts} />}
        <PointOutInFrame {...size} />
        {problem && <p className="absolute max-w-sm text-center text-white">{problem}</p>}
      </div>
    </div>
  );
}
