/** The dials of a Sketch: how lively, and how many cuts. */
import { SKETCH_LIMITS, USUAL_SKETCH, type SketchDials as Dials } from '@glimbo/core/sketch/sketch';
import { Dial } from './Dial';

export function SketchDials({ dials, onChange }: { dials: Dials; onChange: (change: Partial<Dials>) => void }) {
  return (
    <>
      <Dial
        name="Calm to lively"
        value={dials.lively * 100}
        min={0}
        max={100}
        step={1}
        digits={0}
        unit=" %"
        reset={USUAL_SKETCH.lively * 100}
        onChange={(v) => onChange({ lively: v / 100 })}
      />
      <Dial
        name="Cuts at most"
        value={dials.cuts}
        min={SKETCH_LIMITS.cuts.least}
        max={SKETCH_LIMITS.cuts.most}
        step={1}
        digits={0}
        unit=""
        reset={USUAL_SKETCH.cuts}
        onChange={(cuts) => onChange({ cuts })}
      />
    </>
  );
}
