/**
 * Over the Frame and the Map while a subject is pointed out: a press on its middle has its size found, a line drawn round it is its
 * outline.
 */
import { useState } from 'react';
import { toast } from 'sonner';
import { boxDrawn } from '@glimbo/core/follow/point-out';
import { apply, transpose, type Vec3 } from '@glimbo/core/geometry/rotation';
import { directionOf } from '@glimbo/core/geometry/sphere';
import { cameraOf, directionAt } from '@glimbo/core/lens/view';
import { usePanes } from '../picture/OverPanes';
import { useStudio, useStudioStore } from '../state/store';
import { inFootage, pointOut } from './subjects';

interface Pixel {
  x: number;
  y: number;
}
interface Size {
  width: number;
  height: number;
}
/** The direction in the footage's picture that lies under a pixel; null beyond the projection. */
type Eye = (at: Pixel) => Vec3 | null;

/** Pixels up to which it is a press. */
const PRESS = 5;
/** Pixels from one point of a line to the next. */
const APART = 2;

const useIsPointing = () => useStudio((s) => s.pointingOut !== 'nothing');

const apart = (a: Pixel, b: Pixel) => Math.hypot(a.x - b.x, a.y - b.y);

export function PointOutInFrame(size: Size) {
  const pointing = useIsPointing();
  return pointing ? <PointOutInPanes {...size} /> : null;
}

function PointOutInPanes(size: Size) {
  const panes = usePanes();
  /** What the pane sees in which a line begins, also where the line leaves it. */
  const eyeAt = (begun: Pixel): Eye => {
    const [x, y] = [begun.x / size.width, begun.y / size.height];
    const under = panes.findLast((p) => p.left <= x && x < p.left + p.width && p.top <= y && y < p.top + p.height);
    const pane = under ?? panes[0]!;
    const camera = cameraOf(pane.view, pane.width * size.width, pane.height * size.height);
    const toFootage = transpose(pane.correction);
    return (at) => {
      const seen = directionAt(camera, at.x - pane.left * size.width, at.y - pane.top * size.height);
      return seen && apply(toFootage, seen);
    };
  };
  return <Pad {...size} eyeAt={eyeAt} testId="point-out-in-frame" />;
}

export function PointOutOnMap({ width, height }: Size) {
  const store = useStudioStore();
  const pointing = useIsPointing();
  if (!pointing) return null;
  const eye: Eye = ({ x, y }) =>
    inFootage(store, directionOf((x / width - 0.5) * 360, Math.max(-90, Math.min(90, (0.5 - y / height) * 180))));
  return <Pad width={width} height={height} eyeAt={() => eye} testId="point-out-on-map" />;
}

function Pad({ width, height, eyeAt, testId }: Size & { eyeAt: (begun: Pixel) => Eye; testId: string }) {
  const store = useStudioStore();
  const [line, setLine] = useState<Pixel[] | null>(null);
  const at = (e: React.PointerEvent): Pixel => {
    const box = e.currentTarget.getBoundingClientRect();
    return { x: e.clientX - box.left, y: e.clientY - box.top };
  };
  const release = () => {
    if (!line) return;
    setLine(null);
    const eye = eyeAt(line[0]!);
    if (line.every((p) => apart(p, line[0]!) < PRESS)) {
      const direction = eye(line[0]!);
      if (direction) void pointOut(store, { direction });
      return;
    }
    const box = boxDrawn(line.map(eye));
    if (box) void pointOut(store, box);
    else
      toast.error('That line goes beyond what the lens shows. Draw it within the picture, round all of the subject.');
  };
  return (
    <svg
      width={width}
      height={height}
      className="pointer-events-auto absolute cursor-crosshair touch-none"
      data-testid={testId}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        setLine([at(e)]);
      }}
      onPointerMove={(e) => line && apart(at(e), line.at(-1)!) >= APART && setLine([...line, at(e)])}
      onPointerUp={release}
      onPointerCancel={() => setLine(null)}
    >
      {line && (
        <polygon
          points={line.map(({ x, y }) => `${x.toFixed(1)},${y.toFixed(1)}`).join(' ')}
          fill="var(--subject)"
          fillOpacity={0.12}
          stroke="var(--subject)"
          strokeWidth={2}
          strokeLinejoin="round"
          data-testid="outline-drawn"
        />
      )}
    </svg>
  );
}
