/** What pressing and dragging on the Map does: the view comes along or to the pointer; what asks for a place gets one. */
import { useRef } from 'react';
import { unwrapNear } from '@glimbo/core/geometry/rotation';
import { directionOf } from '@glimbo/core/geometry/sphere';
import { nudgeTilt } from '@glimbo/core/lens/aim';
import { pixelOf, type View } from '@glimbo/core/lens/view';
import { measuringCamera } from '@glimbo/core/view/view-of';
import { makeGrey } from '../look/pick-grey';
import { putPatch } from '../look/place-patch';
import { usePicture } from '../picture/picture';
import { useStudioStore } from '../state/store';
import type { MapDrawing } from '../picture/map-projection';

type Press = React.PointerEvent<SVGSVGElement>;
interface Point {
  pan: number;
  tilt: number;
}

export function useMapHandling({ width, height }: Pick<MapDrawing, 'width' | 'height'>) {
  const store = useStudioStore();
  const picture = usePicture();
  const held = useRef<{ point: Point; from: View } | null>(null);

  const pointOf = (e: Press): Point => {
    const box = e.currentTarget.getBoundingClientRect();
    return { pan: ((e.clientX - box.left) / width - 0.5) * 360, tilt: (0.5 - (e.clientY - box.top) / height) * 180 };
  };
  const insideFrame = ({ pan, tilt }: Point) => {
    const camera = measuringCamera(store.getState().take(), store.getState().view());
    const pixel = pixelOf(camera, directionOf(pan, tilt));
    return !!pixel && pixel.x >= 0 && pixel.x <= camera.width && pixel.y >= 0 && pixel.y <= camera.height;
  };

  return {
    /** Inside the outline a drag moves the view along; outside, the view comes to the pointer. */
    press(e: Press) {
      const point = pointOf(e);
      const { pickingGrey, placingPatch, aim, view } = store.getState();
      const direction = directionOf(point.pan, point.tilt);
      held.current = null;
      if (pickingGrey) return makeGrey(store, picture, direction);
      if (placingPatch) return putPatch(store, direction);
      if (!insideFrame(point) && !e.altKey)
        aim({ pan: unwrapNear(point.pan, view().pan), tilt: point.tilt }, 'map-aim');
      held.current = { point, from: store.getState().view() };
    },
    drag(e: Press) {
      const now = pointOf(e);
      const direction = directionOf(now.pan, now.tilt);
      const { pointAt, placingPatch, aim, dial } = store.getState();
      pointAt(direction);
      if (placingPatch) return e.buttons ? putPatch(store, direction) : undefined;
      if (!held.current) return;
      const { point, from } = held.current;
      const [dx, dy] = [now.pan - point.pan, now.tilt - point.tilt];
      // Alt rolls, as far as the pointer goes across.
      if (e.altKey) return dial({ roll: from.roll + dx / 2 }, 'map-roll');
      // Shift holds the drag to the axis along which it has gone further.
      const [across, up] = !e.shiftKey ? [dx, dy] : Math.abs(dx) >= Math.abs(dy) ? [dx, 0] : [0, dy];
      aim({ pan: from.pan + across, tilt: nudgeTilt(from.tilt, up) }, 'map-aim');
    },
    release() {
      held.current = null;
      store.getState().endGesture();
    },
  };
}
