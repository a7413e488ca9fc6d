/** The motion analysis of the footage: having it made, what it found, and correcting that by hand. */
import { isWhole } from '~/model/footage';
import { useMemo, useRef, useState } from 'react';
import { useRevalidator } from 'react-router';
import { toast } from 'sonner';
import { sharesOf, type Method, type Stretch } from '@glimbo/core/motion/motion';
import { setIn, setOut } from '@glimbo/core/edit/range';
import { Select } from '~/ui/Select';
import { clock } from '~/ui/format';
import { useJob } from '~/ui/job-events';
import { Analysing } from './Analysing';
import { sendMotion } from './analysis';
import { useWork } from '../state/work';
import { useClock, useStudio, useStudioStore } from '../state/store';
import { nextJolt, useTurning } from './useTurning';
import type { Footage } from '~/model/footage';
import type { SidecarUse } from '~/model/sidecar';

export function MotionPart() {
  return (
    <div className="grid grid-cols-[minmax(300px,1fr)_minmax(280px,1fr)] divide-x divide-rule">
      <Analysis />
      <Found />
    </div>
  );
}

/** How a sidecar would be used again: as it was the last time, and at first in the picture's place. */
function sidecarUse(motion: Footage['motion'], present: boolean): SidecarUse {
  if (!present) return 'no';
  if (!motion) return 'replace';
  return !motion.sidecar ? 'no' : motion.method === 'sidecar' ? 'replace' : 'anchor';
}

function Analysis() {
  const { analysing, sidecar } = useWork();
  const { id, motion } = useStudio((s) => s.footage);
  const whole = useStudio((s) => isWhole(s.footage));
  const [method, setMethod] = useState<Method>(motion?.method === 'thorough' ? 'thorough' : 'quick');
  const [use, setUse] = useState<SidecarUse>(() => sidecarUse(motion, sidecar));
  const revalidator = useRevalidator();
  const file = useRef<HTMLInputElement>(null);
  const job = useJob(analysing);
  const act = async (body: object) => {
    const { problem } = await sendMotion(id, body);
    if (problem) toast.error(problem);
    await revalidator.revalidate();
  };
  const handIn = async (chosen: File | undefined) => {
    if (!chosen) return;
    await act({ intent: 'sidecar', text: await chosen.text() });
    setUse('replace');
  };
  return (
    <section className="flex flex-col gap-2 p-3" aria-label="Analysis">
      {job?.going ? (
        <Analysing id={analysing!.id} job={job} />
      ) : (
        <>
          {job?.state === 'failed' && <p className="text-error">{job.error}</p>}
          <p className={motion?.void ? 'text-level' : 'text-muted'} data-testid="motion-state">
            {!motion
              ? 'The motion of this footage was not analysed yet. Steadying needs it, and it finds the horizon.'
              : motion.void
                ? 'The stitch or the file has changed since the analysis. It is still used; run it again to make it fit.'
                : `Analysed: ${motion.method}${motion.sidecar ? `; ${motion.sidecar}` : ''}. All takes of this footage use it.`}
          </p>
          <div className="flex flex-wrap items-center gap-2">
            <Select
              label="Method"
              value={method}
              options={[
                ['quick', 'Quick'],
                ['thorough', 'Thorough, for poor footage'],
              ]}
              onChange={setMethod}
            />
            {sidecar && (
              <Select
                label="Motion sidecar"
                value={use}
                options={[
                  ['no', 'Picture alone'],
                  ['replace', 'Sidecar in its place'],
                  ['anchor', 'Sidecar where it is dark'],
                ]}
                onChange={setUse}
              />
            )}
          </div>
          <div className="flex flex-wrap items-center gap-2">
            <button className="button" disabled={!whole} onClick={() => void act({ intent: 'analyse', method, use })}>
              {motion ? 'Analyse again' : 'Analyse the motion'}
            </button>
            <button className="button" onClick={() => file.current?.click()}>
              {sidecar ? 'Another sidecar…' : 'Motion sidecar…'}
            </button>
            <input
              ref={file}
              type="file"
              accept=".csv,text/csv"
              hidden
              aria-label="Motion sidecar file"
              onChange={(e) => void handIn(e.target.files?.[0])}
            />
          </div>
        </>
      )}
    </section>
  );
}

function Found() {
  const store = useStudioStore();
  const motion = useStudio((s) => s.motion);
  const id = useStudio((s) => s.footage.id);
  const { duration } = useStudio((s) => s.footage.facts);
  const time = useStudio((s) => s.time);
  const times = useClock();
  const revalidator = useRevalidator();
  const facts = useMemo(() => motion && sharesOf(motion), [motion]);
  const trims = useTurning().turning?.trims;
  if (!motion || !facts)
    return (
      <section className="p-3 text-muted">
        What the analysis finds stands here: jolts, cuts, stretches in which nothing could be seen, and how far it is to
        be trusted.
      </section>
    );
  const { trusted, travelling } = facts;
  const correct = async (cuts: number[], bad: Stretch[]) => {
    const { problem } = await sendMotion(id, { intent: 'correct', cuts, bad });
    if (problem) toast.error(problem);
    await revalidator.revalidate();
  };
  const go = (t: number) => store.getState().setTime(t);
  const trim = (which: 'in' | 'out', at: number) =>
    store.getState().edit((t) => {
      const { facts } = store.getState().footage;
      return { ...t, range: (which === 'in' ? setIn : setOut)(t.range, at, facts, 'yield') };
    });
  const inBad = motion.bad.some((b) => time >= b.in && time < b.out);
  return (
    <section className="flex flex-col gap-1.5 p-3" aria-label="What was found">
      <p className="figure">
        {Math.round(trusted * 100)} % of frames trusted · direction of travel sure in {Math.round(travelling * 100)} %
      </p>
      <div className="flex flex-wrap gap-2">
        <button className="button" onClick={() => void nextJolt(store)}>
          Next jolt <span className="figure text-muted">N</span>
        </button>
        <button className="button" onClick={() => store.getState().showLane('motion')}>
          Motion lane
        </button>
      </div>
      {trims && trims.in !== null && (
        <p className="flex items-center gap-2">
          Switching on shakes it until <span className="figure">{clock(times.shown(trims.in))}</span>
          <button className="button h-6!" onClick={() => trim('in', trims.in!)}>
            In point there
          </button>
        </p>
      )}
      {trims && trims.out !== null && (
        <p className="flex items-center gap-2">
          Switching off shakes it from <span className="figure">{clock(times.shown(trims.out))}</span>
          <button className="button h-6!" onClick={() => trim('out', trims.out!)}>
            Out point there
          </button>
        </p>
      )}
      {motion.cuts.map((t) => (
        <p key={t} className="flex items-center gap-2" data-testid="cut">
          <button className="figure underline" onClick={() => go(t)}>
            {clock(times.shown(t))}
          </button>{' '}
          another recording begins
          <button
            className="button h-6!"
            onClick={() =>
              void correct(
                motion.cuts.filter((c) => c !== t),
                motion.bad,
              )
            }
          >
            It does not
          </button>
        </p>
      ))}
      {motion.bad.map((b) => (
        <p key={b.in} className="flex items-center gap-2" data-testid="bad">
          <button className="figure underline" onClick={() => go(b.in)}>
            {clock(times.shown(b.in))} to {clock(times.shown(b.out))}
          </button>{' '}
          not to be trusted
          <button
            className="button h-6!"
            onClick={() =>
              void correct(
                motion.cuts,
                motion.bad.filter((o) => o !== b),
              )
            }
          >
            Trust it
          </button>
          {b.out - b.in < 0.5 && (
            <button
              className="button h-6!"
              onClick={() =>
                void correct(
                  [...motion.cuts, b.in],
                  motion.bad.filter((o) => o !== b),
                )
              }
            >
              It is a cut
            </button>
          )}
        </p>
      ))}
      <div className="flex flex-wrap gap-2">
        <button
          className="button"
          disabled={motion.cuts.includes(time) || time === 0}
          onClick={() => void correct([...motion.cuts, time], motion.bad)}
        >
          A cut is here
        </button>
        <button
          className="button"
          disabled={inBad}
          onClick={() =>
            void correct(
              motion.cuts,
              [...motion.bad, { in: time, out: Math.min(duration, time + 1) }].sort((a, b) => a.in - b.in),
            )
          }
        >
          Do not trust the next second
        </button>
      </div>
    </section>
  );
}
