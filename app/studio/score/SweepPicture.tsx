/** The Sweep's picture at any zoom: the overview, and close up tiles with one row a frame. Dark and grey where what moves lies over it. */
import { memo, useEffect, useRef, useState } from 'react';
import { SWEEP_TILE } from '@glimbo/core/sweep/sweep';
import { turnSweep } from '../picture/turned';
import { useCorrection, useStudio } from '../state/store';

/** Pictures that were asked for, by address; shared by all redraws. */
const pictures = new Map<string, HTMLImageElement>();

function picture(address: string, loaded: () => void): HTMLImageElement | null {
  let image = pictures.get(address);
  if (!image) {
    image = new Image();
    image.src = address;
    pictures.set(address, image);
  }
  if (image.complete) return image.naturalWidth ? image : null;
  image.addEventListener('load', loaded, { once: true });
  return null;
}

/** Frames in sight below which rows are drawn one by one from the tiles. */
const CLOSE = 3000;

/** Drawn anew when what it shows changes, not with every step of the playhead. */
export const SweepPicture = memo(function SweepPicture({ width, height }: { width: number; height: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { id, version, gathered, facts } = useStudio((s) => s.footage);
  const span = useStudio((s) => s.span);
  const reading = useStudio((s) => s.sweepReading);
  const correction = useCorrection();
  const [, redraw] = useState(0);

  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d');
    if (!element || !context || !gathered?.sweep.rows || !width || !height) return;
    const scale = devicePixelRatio;
    element.width = Math.round(width * scale);
    element.height = Math.round(height * scale);
    context.scale(scale, scale);
    const loaded = () => redraw((n) => n + 1);
    const address = (tile: number | null) =>
      `/media/footage/${id}/sweep${tile === null ? '' : `-${String(tile).padStart(4, '0')}`}.png?v=${version}`;
    const y = (frame: number) => ((frame / facts.rate - span.from) / (span.to - span.from)) * height;
    const first = Math.max(0, Math.floor(span.from * facts.rate));
    const last = Math.min(facts.frames, Math.ceil(span.to * facts.rate));
    context.imageSmoothingQuality = 'high';
    if (reading === 'activity') context.filter = 'grayscale(1) brightness(0.5)';
    const { framesPerRow, rows, tiles } = gathered.sweep;
    const overview = picture(address(null), loaded);
    // Rows taller than two pixels keep their edges: a frame is a frame.
    context.imageSmoothingEnabled = height / Math.max(1, last - first) < 2;
    if (overview) context.drawImage(overview, 0, y(0), width, y(rows * framesPerRow) - y(0));
    const close = framesPerRow > 1 && last - first <= CLOSE;
    for (
      let tile = Math.floor(first / SWEEP_TILE);
      close && tile <= Math.floor((last - 1) / SWEEP_TILE) && tile < tiles;
      tile++
    ) {
      const rowsOfTile = picture(address(tile), loaded);
      const from = tile * SWEEP_TILE;
      if (rowsOfTile) context.drawImage(rowsOfTile, 0, y(from), width, y(from + rowsOfTile.naturalHeight) - y(from));
    }
    context.filter = 'none';
    // Each row is turned as the sphere is at its moment, so that headings here are headings of the Map.
    turnSweep(context, (share) => correction.at(span.from + share * (span.to - span.from)));
  });

  return (
    <canvas
      ref={canvas}
      className="absolute inset-0"
      style={{ width, height }}
      data-testid="sweep-picture"
      data-reading={reading}
      aria-hidden
    />
  );
});
