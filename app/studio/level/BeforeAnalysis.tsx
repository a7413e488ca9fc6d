/** The Steady part as long as the motion is not known: one press has it analysed and goes on by itself. */
import { useRevalidator } from 'react-router';
import { toast } from 'sonner';
import type { SteadyMode } from '@glimbo/core/steady/settings';
import { isWhole } from '~/model/footage';
import { useJob } from '~/ui/job-events';
import { useStudio, useStudioStore } from '../state/store';
import { useWork } from '../state/work';
import { analyseMotion } from './analysis';
import { Analysing } from './Analysing';
import { MODES } from './steadying';

export function BeforeAnalysis({ known }: { known: boolean }) {
  const { analysing, sidecar } = useWork();
  const store = useStudioStore();
  const id = useStudio((s) => s.footage.id);
  const whole = useStudio((s) => isWhole(s.footage));
  const next = useStudio((s) => s.steadyNext);
  const revalidator = useRevalidator();
  const job = useJob(analysing);
  const going = job?.going ?? false;
  const start = async (mode: SteadyMode) => {
    store.getState().steadyWhenKnown(mode);
    // One that waits for an idle moment is begun now.
    if (job?.state === 'running') return;
    const { problem } = await analyseMotion(id, sidecar);
    if (problem) {
      store.getState().steadyWhenKnown(null);
      toast.error(problem);
    }
    await revalidator.revalidate();
  };
  if (known) return <p className="p-3 text-muted">The motion analysis is on its way.</p>;
  return (
    <section className="flex max-w-130 flex-col gap-2 p-3" aria-label="Steady">
      <p>Steadying needs to know how the rig moved. That is found out once, for all takes of this footage.</p>
      <div className="flex flex-wrap items-center gap-2">
        {MODES.slice(1).map(([mode, name, about]) => (
          <button
            key={mode}
            className={`button ${mode === 'rolling' ? 'main' : ''}`}
            title={about}
            disabled={!whole || (going && next !== null)}
            aria-pressed={next === mode}
            onClick={() => void start(mode)}
          >
            Analyse, then {name}
          </button>
        ))}
      </div>
      {job?.state === 'failed' && <p className="text-error">{job.error}</p>}
      {!whole && <p className="text-muted">The proxy has to be made first.</p>}
      {job?.going && <Analysing id={analysing!.id} job={job} onStop={() => store.getState().steadyWhenKnown(null)} />}
      {going && next && (
        <p className="text-muted">When it is ready the take is steadied by itself. You can go on meanwhile.</p>
      )}
    </section>
  );
}
