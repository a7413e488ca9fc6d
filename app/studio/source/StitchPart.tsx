/** What the picture shows, and for lenses how they are put together: tried on the frame at the playhead, then applied. */
import { CircleDashed, Crosshair } from 'lucide-react';
import { useState } from 'react';
import {
  HOUSINGS,
  MOST_FEATHER,
  sourceOfKind,
  withStereo,
  type Stereo,
  type Housing,
  type Match,
  type Source,
  type TwoLenses,
} from '@glimbo/core/stitch/source';
import { Choice } from '~/ui/Choice';
import { Dial } from '~/ui/Dial';
import { Select } from '~/ui/Select';
import { useStudio } from '../state/store';
import { CircleDialog } from './CircleDialog';
import { LensFields } from './LensFields';
import { useStitch } from './useStitch';

const KINDS = [
  ['sphere', 'Whole sphere, flat'],
  ['part', 'Part of a sphere, flat'],
  ['one-lens', 'One fisheye circle'],
  ['two-lenses', 'Two fisheye circles'],
] as const;
const STEREO = [
  ['none', 'Not stereo'],
  ['over-under first', 'Over–under, upper eye'],
  ['over-under second', 'Over–under, lower eye'],
  ['side-by-side first', 'Side by side, left eye'],
  ['side-by-side second', 'Side by side, right eye'],
] as const;
const HOUSING_NAMES = Object.entries(HOUSINGS).map(([id, h]) => [id, h.name] as const);

export function StitchPart() {
  const stitch = useStitch();
  const { width, height } = useStudio((s) => s.footage.facts);
  const [circles, setCircles] = useState(false);
  const comparing = useStudio((s) => s.compare !== null);
  const { kept, draft, changed, busy, drawing, change } = stitch;
  if (!kept || !draft) return <p className="p-3 text-muted">Reading what the picture shows.</p>;
  return (
    <div className="flex h-full flex-col">
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(300px,1.15fr)_1fr] divide-x divide-rule overflow-auto">
        <div className="flex flex-col gap-1.5 p-3">
          <div className="flex flex-wrap items-center gap-2">
            <Select
              label="The picture shows"
              value={draft.kind}
              options={KINDS}
              onChange={(kind) => change(sourceOfKind(kind, draft, width, height))}
            />
            {(draft.kind === 'sphere' || draft.kind === 'part') && (
              <Select
                label="Stereo"
                value={draft.stereo ? `${draft.stereo.layout} ${draft.stereo.eye}` : 'none'}
                options={STEREO}
                onChange={(v) =>
                  change(
                    withStereo(
                      draft,
                      v === 'none' ? null : (([layout, eye]) => ({ layout, eye }) as Stereo)(v.split(' ')),
                    ),
                  )
                }
              />
            )}
            {(draft.kind === 'two-lenses' || draft.kind === 'one-lens') && (
              <Select
                label="Before the lens"
                value={draft.housing ?? 'bare'}
                options={HOUSING_NAMES}
                onChange={(housing) => change({ ...draft, housing: housing as Housing })}
              />
            )}
          </div>
          {draft.kind === 'two-lenses' && <Seam draft={draft} onChange={change} />}
          {draft.kind === 'part' && <PartFields draft={draft} onChange={change} />}
          {draft.kind === 'sphere' && (
            <p className="text-muted">The picture is a whole sphere laid flat: there is nothing to stitch.</p>
          )}
          {draft.kind === 'one-lens' && (
            <p className="text-muted">
              Centre and radius were found from the circle's edge. Set the lens's own field of view; what it does not
              see stays black.
            </p>
          )}
        </div>
        <div className="flex flex-col gap-2 p-3">
          {draft.kind === 'two-lenses' && (
            <>
              <div className="flex flex-wrap items-center gap-2">
                <button className="button" onClick={() => void stitch.calibrate()} disabled={busy !== null}>
                  <Crosshair size={14} /> {busy === 'calibrate' ? 'Calibrating' : 'Calibrate on this frame'}
                </button>
                <button
                  className="button"
                  aria-pressed={comparing}
                  disabled={!changed || busy === 'calibrate'}
                  onClick={() => (comparing ? stitch.endCompare() : void stitch.compare())}
                >
                  Before and after
                </button>
              </div>
              {stitch.result ? (
                <p role="status" data-testid="calibration">
                  The lenses met to <span className="figure">{stitch.result.before.toFixed(2)}°</span> before, and to{' '}
                  <span className="figure font-semibold">{stitch.result.after.toFixed(2)}°</span> now;{' '}
                  {stitch.result.used} of {stitch.result.matched} details agree.
                </p>
              ) : (
                <p className="text-muted">
                  Compares details that both lenses see, and sets the lenses so that they meet. Choose a frame with much
                  to see at the seam.
                </p>
              )}
              {kept.offer && (
                <button className="button self-start" onClick={() => change({ ...draft, lenses: kept.offer!.lenses })}>
                  Use the lenses of {kept.offer.footageName}
                </button>
              )}
            </>
          )}
          {(draft.kind === 'two-lenses' || draft.kind === 'one-lens') && (
            <>
              <button className="button self-start" onClick={() => setCircles(true)}>
                <CircleDashed size={14} /> Set {draft.kind === 'one-lens' ? 'the circle' : 'the circles'} on the picture
              </button>
              <LensFields draft={draft} onChange={change} />
              {circles && <CircleDialog draft={draft} onChange={change} onClose={() => setCircles(false)} />}
            </>
          )}
        </div>
      </div>
      <div className="flex shrink-0 items-center gap-2 border-t border-rule px-3 py-1.5">
        {draft.kind === 'two-lenses' && (
          <label className="flex items-center gap-1.5">
            <input type="checkbox" checked={stitch.showSeam} onChange={(e) => stitch.setShowSeam(e.target.checked)} />{' '}
            Show the seam
          </label>
        )}
        <span className="min-w-0 flex-1 truncate text-right text-muted" role="status">
          {busy === 'apply'
            ? 'Applying'
            : drawing
              ? 'Drawing this frame'
              : changed
                ? 'Shown on this frame alone so far'
                : ''}
        </span>
        {changed ? (
          <button className="button" onClick={() => stitch.back()}>
            Leave it as it was
          </button>
        ) : (
          kept.before && (
            <button className="button" onClick={() => void stitch.apply(kept.before!)} disabled={busy !== null}>
              Undo the last change
            </button>
          )
        )}
        <button className="button main" disabled={!changed || busy !== null} onClick={() => void stitch.apply()}>
          Apply to the footage
        </button>
      </div>
    </div>
  );
}

function Seam({ draft, onChange }: { draft: TwoLenses; onChange: (s: Source) => void }) {
  return (
    <>
      <Dial
        name="Feather"
        value={draft.feather}
        min={0}
        max={MOST_FEATHER}
        step={0.5}
        unit="°"
        reset={4}
        onChange={(feather) => onChange({ ...draft, feather })}
        onEnd={() => {}}
      />
      <Choice
        label="Match light"
        value={draft.match}
        options={[
          ['off', 'Off'],
          ['gentle', 'Gentle'],
          ['full', 'Full'],
        ]}
        onChange={(match) => onChange({ ...draft, match: match as Match })}
        about="Gentle brings the lenses together near the seam; full over the whole of both"
      />
      <Choice
        label="Seam"
        value={draft.seam}
        options={[
          ['straight', 'Straight'],
          ['moving', 'Round near things'],
        ]}
        onChange={(seam) => onChange({ ...draft, seam: seam as TwoLenses['seam'] })}
        about="A seam that goes where both lenses show the same"
      />
    </>
  );
}

function PartFields({ draft, onChange }: { draft: Extract<Source, { kind: 'part' }>; onChange: (s: Source) => void }) {
  const dial = (key: 'left' | 'right' | 'top' | 'bottom', name: string, min: number, max: number, reset: number) => (
    <Dial
      name={name}
      value={draft[key]}
      min={min}
      max={max}
      step={1}
      unit="°"
      reset={reset}
      onChange={(v) => onChange({ ...draft, [key]: v })}
      onEnd={() => {}}
    />
  );
  return (
    <>
      {dial('left', 'Left edge', -180, draft.right - 1, -90)}
      {dial('right', 'Right edge', draft.left + 1, 180, 90)}
      {dial('top', 'Upper edge', draft.bottom + 1, 90, 90)}
      {dial('bottom', 'Lower edge', -90, draft.top - 1, -90)}
    </>
  );
}
