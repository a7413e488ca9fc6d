/** What a move does, small: time runs down, what is seen is as wide as the field of view, its middle is the path. */
import { area, extent, line, scaleLinear } from 'd3';
import { shapeOfMove, type MoveMoment } from '@glimbo/core/moves/shape';
import type { Move } from '@glimbo/core/moves/moves';

const [WIDTH, HEIGHT] = [44, 30];

export function MovePicture({ move }: { move: Move }) {
  const moments = shapeOfMove(move);
  const [least, most] = extent(moments.flatMap((m) => [m.left, m.right])) as [number, number];
  const x = scaleLinear([least, most], [1, WIDTH - 1]);
  const y = scaleLinear([0, 1], [1, HEIGHT - 1]);
  const seen = area<MoveMoment>()
    .x0((m) => x(m.left))
    .x1((m) => x(m.right))
    .y((m) => y(m.at));
  const middle = line<MoveMoment>()
    .x((m) => x(m.middle))
    .y((m) => y(m.at));
  return (
    <svg width={WIDTH} height={HEIGHT} className="shrink-0 bg-paper" aria-hidden data-testid="move-picture">
      <path d={seen(moments) ?? ''} className="fill-rule" />
      <path d={middle(moments) ?? ''} className="fill-none stroke-camera" strokeWidth={1.5} />
    </svg>
  );
}
