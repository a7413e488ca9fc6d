/** Light: the curve with its handles, the same as dials, and what there is to judge it by. */
import { withGrade } from '@glimbo/core/edit/look';
import { useStudio, useStudioStore } from '../state/store';
import { LIGHT_DIALS } from './grade-dials';
import { GradeDials } from './GradeDials';
import { LightCurve } from './LightCurve';
import { useFrameLight } from './useFrameLight';
import { Waveform } from './Waveform';

export function LightPart() {
  const light = useFrameLight();
  const scope = useStudio((s) => s.seeing.scope);
  return (
    <div className="grid h-full grid-cols-2 divide-x divide-rule">
      <div className="flex min-h-0 flex-col px-2 py-1">
        {scope === 'waveform' ? <Waveform light={light} /> : <LightCurve light={light} />}
        <Seeing />
      </div>
      <div className="overflow-auto px-3 py-1.5">
        <GradeDials label="Light" dials={LIGHT_DIALS} />
        <ResetLight />
      </div>
    </div>
  );
}

/** Before and after, waveform in place of the curve, and what is clipped. */
function Seeing() {
  const store = useStudioStore();
  const { scope, lookSplit, clipped } = useStudio((s) => s.seeing);
  const { see } = store.getState();
  return (
    <div className="flex shrink-0 flex-wrap gap-1 pt-1" role="group" aria-label="Seeing it">
      <button
        className="button h-6! px-1.5! text-xs"
        aria-pressed={lookSplit}
        onClick={() => see({ lookSplit: !lookSplit })}
        title="Before and after on both sides of a line; B, held, shows before alone"
      >
        Before and after
      </button>
      <button
        className="button h-6! px-1.5! text-xs"
        aria-pressed={scope === 'waveform'}
        onClick={() => see({ scope: scope === 'waveform' ? 'curve' : 'waveform' })}
        title="Brightness over the Frame's width, in place of the curve"
      >
        Waveform
      </button>
      <button
        className="button h-6! px-1.5! text-xs"
        aria-pressed={clipped}
        onClick={() => see({ clipped: !clipped })}
        title="Marks what is black or white without detail"
      >
        Clipped
      </button>
    </div>
  );
}

function ResetLight() {
  const store = useStudioStore();
  const graded = useStudio((s) => LIGHT_DIALS.some((d) => s.take().look?.grade?.[d.channel] !== undefined));
  return (
    <button
      className="button mt-1 h-6!"
      disabled={!graded}
      onClick={() =>
        store.getState().edit((t) => withGrade(t, Object.fromEntries(LIGHT_DIALS.map((d) => [d.channel, undefined]))))
      }
    >
      Reset light
    </button>
  );
}
