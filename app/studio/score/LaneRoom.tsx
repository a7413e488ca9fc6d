/** A lane in its place: pressed it scrubs as the Sweep does, with Ctrl it boxes its own keys. */
import type { ReactNode } from 'react';
import { curvesOf } from '@glimbo/core/edit/curves';
import { useBox } from '../axes/box';
import { LANE_WIDTH, type Axis } from '../axes/lanes';
import { useTake } from '../state/store';
import type { Lane } from './lane-list';
import type { Scrub } from './useScrub';

export function LaneRoom({ lane, axis, scrub, shade }: { lane: Lane; axis: Axis; scrub: Scrub; shade: ReactNode }) {
  const { name, Draw, keysIn } = lane;
  const path = curvesOf(useTake());
  const { timeAt } = axis;
  const box = useBox(
    ({ left, right, top, bottom }) => keysIn?.(path, { left, right, from: timeAt(top), to: timeAt(bottom) }) ?? [],
  );
  return (
    <svg
      width={LANE_WIDTH}
      height={axis.height}
      className="shrink-0 touch-none border-l border-edge bg-sheet"
      role="group"
      aria-label={`${name} over time`}
      data-testid="lane"
      data-lane={lane.id}
      onPointerDown={(e) => box.begin(e) || scrub.press(e)}
      onPointerMove={(e) => box.move(e) || scrub.move(e)}
      onPointerUp={() => box.end()}
    >
      <Draw {...axis} />
      {shade}
      {box.shape}
    </svg>
  );
}
