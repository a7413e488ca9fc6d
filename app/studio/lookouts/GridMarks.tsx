/** Over the grid of Lookouts: their numbers and names, the one that is worked on, and a rim about what is on air. */
import { onAir } from '@glimbo/core/lookouts/lookouts';
import type { FramePart } from '../picture/format-layout';
import { useStudio, useStudioStore, useTake } from '../state/store';
import { only, putOnAir } from './live-cut';

const LABEL =
  'pointer-events-auto absolute bottom-1 left-1 flex max-w-[calc(100%-8px)] items-center gap-1.5 bg-black/75 px-1.5 text-white';

export function GridMarks({ width, height, parts }: { width: number; height: number; parts: readonly FramePart[] }) {
  const store = useStudioStore();
  const { lookouts } = useTake();
  const aired = useStudio((s) => onAir(s.take().lookouts, s.time));
  const chosen = useStudio((s) => s.lookoutChosen);
  return (
    <div className="pointer-events-none absolute" style={{ width, height }} data-testid="lookout-grid">
      {parts.map(({ lookout: n, left, top, width: w, height: h }) =>
        n === null || !lookouts?.views[n] ? null : (
          <div
            key={n}
            data-testid="lookout-cell"
            data-on-air={aired?.views.includes(n) ? 'yes' : undefined}
            className={`absolute ${aired?.views.includes(n) ? 'outline-3 outline-offset-[-3px] outline-camera' : ''}`}
            style={{ left: left * width, top: top * height, width: w * width, height: h * height }}
          >
            <button
              className={LABEL}
              title={`Put ${lookouts.views[n].name} on air (key ${n + 1})`}
              onClick={() => putOnAir(store, only(n))}
            >
              <span className="figure">{n + 1}</span>
              <span className="truncate">{lookouts.views[n].name}</span>
              {aired?.views.includes(n) && <span className="text-[11px] opacity-85">on air</span>}
            </button>
            {chosen === n && (
              <span className="absolute top-1 right-1 size-2 rounded-full bg-white ring-2 ring-black/60" />
            )}
          </div>
        ),
      )}
    </div>
  );
}
