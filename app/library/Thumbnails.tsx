/** The strip of the sphere of a footage, scrubbed with the pointer or, once focused, with the arrow keys. */
import { useState } from 'react';
import { clock } from '~/ui/format';
import type { LibraryFootage } from '~/model/footage';

export function Thumbnails({ footage, className = '' }: { footage: LibraryFootage; className?: string }) {
  const { id, name, version, thumbnails, reach: duration } = footage;
  const [at, setAt] = useState<number | null>(null);
  const number = Math.max(0, Math.min(thumbnails - 1, at ?? 0));
  const step = (by: number) => setAt(Math.max(0, Math.min(thumbnails - 1, number + by)));
  return (
    <div
      className={`relative h-full min-w-0 bg-well ${className}`}
      tabIndex={0}
      role="slider"
      aria-label={`Look through ${name}`}
      aria-valuemin={0}
      aria-valuemax={thumbnails - 1}
      aria-valuenow={number}
      aria-valuetext={clock((number / thumbnails) * duration)}
      onPointerMove={(e) => {
        const box = e.currentTarget.getBoundingClientRect();
        setAt(Math.floor(((e.clientX - box.left) / box.width) * thumbnails));
      }}
      onPointerLeave={() => setAt(null)}
      onKeyDown={(e) => {
        if (e.key === 'ArrowRight') step(1);
        else if (e.key === 'ArrowLeft') step(-1);
        else if (e.key === 'Home') setAt(0);
        else if (e.key === 'End') setAt(thumbnails - 1);
        else return;
        e.preventDefault();
      }}
    >
      <img
        className="size-full object-cover"
        src={`/media/footage/${id}/thumb-${String(number + 1).padStart(4, '0')}.jpg?v=${version}`}
        alt={`${name}, the whole sphere flat`}
        loading="lazy"
        draggable={false}
      />
      {at !== null && (
        <>
          <span
            className="absolute inset-y-0 w-px bg-white"
            style={{ left: `${((number + 0.5) / thumbnails) * 100}%` }}
          />
          <span className="figure absolute right-1 bottom-1 bg-black/70 px-1 text-white">
            {clock((number / thumbnails) * duration, 1)}
          </span>
        </>
      )}
    </div>
  );
}
