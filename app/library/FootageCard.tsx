/** A footage as a wide card: its strip of the sphere, its Sweep, its facts and what is being done with it. */
import { AlertTriangle } from 'lucide-react';
import { bytes, clock, rateText } from '~/ui/format';
import { Actions } from './Actions';
import { GatherState } from './GatherState';
import { Thumbnails } from './Thumbnails';
import type { LibraryFootage } from '~/model/footage';
import type { TakeRecord } from '~/model/take';

export interface FootageProps {
  footage: LibraryFootage;
  /** Whether its original is not where it was. */
  missing: boolean;
  takes: TakeRecord[];
  onInfo: () => void;
}

export const KINDS = {
  sphere: 'sphere',
  part: 'part of a sphere',
  'one-lens': 'one lens',
  'two-lenses': 'two lenses',
} as const;

export function FootageCard({ footage, missing, takes, onInfo }: FootageProps) {
  return (
    <article
      className="flex min-w-0 flex-col border border-rule bg-sheet"
      data-testid="footage"
      data-whole={footage.reach >= footage.duration || undefined}
      aria-label={footage.name}
    >
      <div className="relative flex h-44 bg-well text-white">
        {footage.thumbnails ? (
          <>
            <Thumbnails footage={footage} className="flex-1" />
            <img
              className="h-full w-20 border-l border-black/60"
              src={`/media/footage/${footage.id}/sweep.png?v=${footage.version}`}
              alt={`Sweep of ${footage.name}`}
              loading="lazy"
              draggable={false}
            />
            {footage.job && (
              <div className="absolute inset-x-0 bottom-0 bg-black/75 p-1 text-center">
                <GatherState footage={footage} />
              </div>
            )}
          </>
        ) : (
          <GatherState footage={footage} />
        )}
      </div>
      <div className="p-2.5 pb-2">
        <div className="flex items-start gap-2">
          <h2 className="min-w-0 flex-1 truncate pt-1 font-semibold" title={footage.name}>
            {footage.name}
          </h2>
          <Actions footage={footage} takes={takes} onInfo={onInfo} />
        </div>
        <p className="figure truncate text-muted">
          {clock(footage.duration)} · {footage.width} × {footage.height} · {rateText(footage.rate)} · {footage.codec} ·{' '}
          {bytes(footage.size)}
        </p>
        <p className="mt-0.5 flex h-5 items-center gap-2 overflow-hidden whitespace-nowrap text-muted">
          <Remarks footage={footage} missing={missing} />
        </p>
      </div>
    </article>
  );
}

/** What is worth knowing beyond the facts: a missing original, odd kinds, tags. */
export function Remarks({ footage, missing }: Pick<FootageProps, 'footage' | 'missing'>) {
  const said = [
    ...(footage.kind === 'sphere' ? [] : [KINDS[footage.kind]]),
    ...(footage.variableRate ? ['variable rate, made constant'] : []),
    ...(footage.marks ? [`${footage.marks} ${footage.marks === 1 ? 'mark' : 'marks'}`] : []),
  ];
  return (
    <>
      {missing && (
        <span className="flex items-center gap-1 font-semibold">
          <AlertTriangle size={12} /> original missing
        </span>
      )}
      {said.length > 0 && <span>{said.join(', ')}</span>}
      {footage.tags.map((t) => (
        <span key={t} className="border border-edge px-1 text-ink">
          {t}
        </span>
      ))}
    </>
  );
}
