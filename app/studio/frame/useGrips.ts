/** Handling the Frame directly: dragging aims, rolls, bends or turns, the wheel and two fingers zoom. */
import { usePinch } from '@use-gesture/react';
import { useEffect, useRef, useState, type PointerEvent, type RefObject } from 'react';
import { multiply, transpose, turnTo, type Matrix3, type Vec3 } from '@glimbo/core/geometry/rotation';
import { dragAim, dragAlong, type Pixel } from '@glimbo/core/lens/aim';
import { FOV_MIN, maxFov } from '@glimbo/core/lens/projection';
import { cameraOf, directionAt, type View } from '@glimbo/core/lens/view';
import { turnMount } from '@glimbo/core/edit/framing';
import { inFormat } from '@glimbo/core/take/formats';
import type { Take } from '@glimbo/core/take/take';
import { only, putOnAir } from '../lookouts/live-cut';
import { makeGrey } from '../look/pick-grey';
import { putPatch } from '../look/place-patch';
import { showsGrid, useStudioStore } from '../state/store';
import type { pictureLayout } from '../picture/format-layout';
import type { Picture } from '../picture/picture';

type Grip =
  /** Aiming: what was grabbed, where the pointer was last, and where and with what view it began. */
  | { kind: 'aim'; direction: Vec3; last: Pixel; from: Pixel; view: View; axis: 'pan' | 'tilt' | null }
  | { kind: 'roll'; angle: number; roll: number }
  | { kind: 'bend'; y: number; bend: number }
  | { kind: 'patch' }
  /** Turning the mount: where it was grabbed, and what lies between mount and world. */
  | { kind: 'turn'; direction: Vec3; after: Matrix3; orientation: Take['orientation'] };

/** Pixels from the Frame's edge within which a drag rolls. */
export const RING = 26;
/** Pixels after which a drag with Shift has an axis. */
const AXIS_FROM = 4;

interface Handled {
  /** CSS pixels. */
  size: { width: number; height: number };
  parts: ReturnType<typeof pictureLayout>['parts'];
  picture: Picture;
  /** Whether all formats are shown at once. */
  all: boolean;
}

/** What a canvas does with pointers; which part of the picture is handled, and whether a press there would roll. */
export function useGrips(canvas: RefObject<HTMLCanvasElement | null>, { size, parts, picture, all }: Handled) {
  const store = useStudioStore();
  const grip = useRef<Grip | null>(null);
  /** The part that is handled: the one under the pointer since it was pressed. Moves come faster than drawings. */
  const handled = useRef(0);
  const [shown, setHandled] = useState(0);
  const [atEdge, setAtEdge] = useState(false);
  const handledPart = () => parts[handled.current] ?? parts[0]!;
  const paneOf = () => {
    const { width, height } = handledPart();
    return { width: width * size.width, height: height * size.height };
  };

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
  }, [store, canvas]);

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

  const at = (e: PointerEvent) => {
    const box = canvas.current!.getBoundingClientRect();
    const { left, top } = handledPart();
    const x = e.clientX - box.left - left * size.width;
    const y = e.clientY - box.top - top * size.height;
    const pane = paneOf();
    const angle = Math.atan2(x - pane.width / 2, pane.height / 2 - y) * (180 / Math.PI);
    return { x, y, angle };
  };
  /** Handles the pane under the pointer; of several formats it becomes the one that is worked on. */
  const handle = (e: PointerEvent) => {
    const box = canvas.current!.getBoundingClientRect();
    const [x, y] = [(e.clientX - box.left) / Math.max(1, size.width), (e.clientY - box.top) / Math.max(1, size.height)];
    const found = parts.findLastIndex((p) => p.left <= x && p.top <= y && x < p.left + p.width && y < p.top + p.height);
    handled.current = Math.max(0, found);
    setHandled(handled.current);
    const { aspect, lookout } = parts[handled.current]!;
    if (aspect !== store.getState().take().frame.aspect) store.getState().edit((t) => inFormat(t, aspect));
    if (lookout !== null && e.type === 'pointerdown') store.getState().chooseLookout(lookout);
  };

  const nearEdge = ({ x, y }: { x: number; y: number }) => {
    const pane = paneOf();
    return Math.min(x, y, pane.width - x, pane.height - y) < RING;
  };

  const grab = (e: PointerEvent<HTMLCanvasElement>) => {
    e.currentTarget.setPointerCapture(e.pointerId);
    e.currentTarget.focus();
    handle(e);
    const { lookout } = handledPart();
    const pane = paneOf();
    // Playing, a press in the grid is a cut.
    if (showsGrid(store.getState()) && lookout !== null && store.getState().speed !== 0)
      return putOnAir(store, only(lookout));
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
  const drag = (e: PointerEvent<HTMLCanvasElement>) => {
    const held = grip.current;
    if (!held && !all) handle(e);
    const p = at(e);
    const pane = paneOf();
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
    const pane = paneOf();
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

  const handlers = {
    onPointerDown: grab,
    onPointerMove: drag,
    onPointerUp: release,
    onPointerCancel: release,
    onPointerLeave: () => {
      setAtEdge(false);
      store.getState().pointAt(null);
    },
  };
  return { handled: shown, atEdge, handlers };
}
