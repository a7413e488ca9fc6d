/** The path's keyframes on the Map: picked, aimed by dragging and by keys. */
import { useRef } from 'react';
import { setViewKey, type ViewKey } from '@glimbo/core/path/edit';
import { isSelected, refsOf } from '@glimbo/core/path/keys';
import { sightOf } from '@glimbo/core/view/view-of';
import { Bead } from '../axes/Bead';
import { useStudio, useStudioStore } from '../state/store';
import type { MapDrawing } from '../picture/map-projection';

export function MapBeads({ map, viewKeys }: { map: MapDrawing; viewKeys: readonly ViewKey[] }) {
  const store = useStudioStore();
  const selection = useStudio((s) => s.selection);
  const dragged = useRef<ViewKey | null>(null);

  const aimKey = (key: ViewKey, pan: number, tilt: number) => {
    const change = { pan, tilt: Math.max(-90, Math.min(90, tilt)) };
    // The Frame shows the keyframe that is being aimed.
    store.getState().follow(key.time);
    store.getState().edit((t) => ({ ...t, path: setViewKey(t.path, key.time, change) }), `map-bead-${key.time}`);
  };
  const drag = (key: ViewKey, dx: number, dy: number) => {
    const { view: from } = (dragged.current ??= key);
    aimKey(key, from.pan + (dx / map.width) * 360, from.tilt - (dy / map.height) * 180);
  };
  const end = () => {
    dragged.current = null;
    store.getState().endGesture();
  };

  return viewKeys.map((key, i) => {
    const [x, y] = map.placeOf(sightOf(key.view));
    return (
      <Bead
        key={i}
        of={`${key.channels.join()} ${key.time} ${key.view.pan}`}
        x={x}
        y={y}
        ease={key.ease}
        small={key.channels.length === 1}
        selected={isSelected(selection, key.channels[0]!, key)}
        label={`Keyframe ${i + 1} on the Map`}
        value={`pan ${Math.round(key.view.pan)}°, tilt ${Math.round(key.view.tilt)}°`}
        onSelect={(how) => store.getState().pick(refsOf(key), how)}
        onDrag={(dx, dy) => drag(key, dx, dy)}
        onStep={(across, down) => aimKey(key, key.view.pan + across, key.view.tilt - down)}
        onEnd={end}
      />
    );
  });
}
