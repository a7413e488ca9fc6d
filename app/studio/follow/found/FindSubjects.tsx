/** Finding subjects: what moves in the footage or is recognised there is looked for, and offered to be taken. */
import { ScanSearch } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import { useRevalidator } from 'react-router';
import { toast } from 'sonner';
import { toldShare } from '@glimbo/core/moving/moving';
import { isWhole } from '~/model/footage';
import { Going } from '~/ui/Going';
import { useJob, type LiveJob } from '~/ui/job-events';
import { Select } from '~/ui/Select';
import { useShownTracks } from '../growing';
import { sendSubject } from '../subjects';
import { useStudio, useStudioStore } from '../../state/store';
import { useWork } from '../../state/work';
import { CandidateRow } from './CandidateRow';
import { candidatesOf, pointedOut, type Candidate, type Order } from './candidates';
import { useFindSubjects } from './useFound';

/** The button that has subjects found, and shows what was found. */
export function FindButton() {
  const store = useStudioStore();
  const { footage, finding, found } = useWork();
  const offering = useStudio((s) => s.offering);
  const find = useFindSubjects();
  const going = useJob(finding)?.going ?? false;
  const press = async () => {
    if (found === null && !going && !(await find())) return;
    store.getState().offerFound(found === null || !offering);
  };
  return (
    <button
      className="button h-6!"
      aria-pressed={offering}
      disabled={!isWhole(footage)}
      title="What moves in this footage, and people, animals and vehicles, are looked for and offered to be taken"
      onClick={() => void press()}
    >
      <ScanSearch size={13} /> Find subjects
    </button>
  );
}

/** What is offered, or how far finding it is. */
export function Candidates() {
  const store = useStudioStore();
  const offering = useStudio((s) => s.offering);
  const moving = useStudio((s) => s.found);
  const { finding } = useWork();
  const job = useJob(finding);
  // Elsewhere nothing is offered.
  useEffect(() => () => store.getState().offerFound(false), [store]);
  if (!offering) return null;
  if (job?.going) return <Finding id={finding!.id} job={job} />;
  if (job?.state === 'failed' && !moving) return <p className="mt-1 text-error">{job.error}</p>;
  if (!moving) return null;
  return <Offered />;
}

function Finding({ id, job }: { id: string; job: LiveJob }) {
  const store = useStudioStore();
  const motion = useJob(useWork().analysing);
  const first = job.state === 'queued' && motion?.going ? motion : null;
  return (
    <div className="mt-1">
      <Going
        id={id}
        job={first ?? job}
        words={first ? 'First how the rig moved' : 'Looking'}
        label="Finding subjects"
        testId="finding"
        onStop={() => store.getState().offerFound(false)}
      />
    </div>
  );
}

function Offered() {
  const store = useStudioStore();
  const { footage } = useWork();
  const { revalidate } = useRevalidator();
  const find = useFindSubjects();
  const moving = useStudio((s) => s.found)!;
  const subjects = useStudio((s) => s.subjects);
  const tracks = useShownTracks();
  const [order, setOrder] = useState<Order>('length');
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const candidates = useMemo(() => candidatesOf(moving, subjects, tracks, order), [moving, subjects, tracks, order]);
  const take = async (wanted: readonly Candidate[]) => {
    setChosen(new Set());
    for (const [n, candidate] of wanted.entries()) {
      const { problem } = await sendSubject(footage.id, pointedOut(candidate, subjects.length + n));
      if (problem) {
        toast.error(problem);
        break;
      }
    }
    await revalidate();
  };
  const choose = (streak: number, on: boolean) => {
    const next = new Set(chosen);
    if (on) next.add(streak);
    else next.delete(streak);
    setChosen(next);
  };
  const free = candidates.filter((c) => !c.subject);
  const wanted = free.filter((c) => chosen.has(c.streak));
  const unseen = Math.round(100 * (1 - toldShare(moving)));
  return (
    <section className="mt-1 border border-rule" aria-label="What was found">
      <div className="flex flex-wrap items-center gap-1.5 border-b border-rule px-1.5 py-1">
        <span role="status">{candidates.length === 0 ? 'Nothing was found' : `${candidates.length} found`}</span>
        {candidates.length > 1 && (
          <Select<Order>
            label="Order of what was found"
            className="h-6!"
            value={order}
            options={[
              ['time', 'first seen first'],
              ['length', 'longest first'],
              ['size', 'largest first'],
            ]}
            onChange={setOrder}
          />
        )}
        {wanted.length > 0 && (
          <button className="button main h-6!" onClick={() => void take(wanted)}>
            Take {wanted.length === 1 ? 'it' : `these ${wanted.length}`}
          </button>
        )}
        <button className="button ml-auto h-6!" onClick={() => void find()}>
          Find anew
        </button>
        <button className="button h-6!" onClick={() => store.getState().offerFound(false)}>
          To the subjects
        </button>
      </div>
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(13.5rem,1fr))]">
        {candidates.map((c) => (
          <CandidateRow
            key={c.streak}
            candidate={c}
            chosen={chosen.has(c.streak)}
            onChoose={(on) => choose(c.streak, on)}
            onTake={() => void take([c])}
          />
        ))}
      </ul>
      {candidates.length === 0 && unseen < 100 && (
        <p className="px-1.5 py-1 text-muted">Point out what stands still, or what hardly moves, by hand.</p>
      )}
      {unseen > 0 && (
        <p className="px-1.5 py-1 text-muted">
          In {unseen} % of the footage what moves cannot be told from the world: how the rig turns or which way it
          travels is not known there{moving.recognised && '; people, animals and vehicles were recognised'}. Point out
          by hand what is missing.
        </p>
      )}
      {!moving.recognised && (
        <p className="px-1.5 py-1 text-muted">
          People, animals and vehicles that stand still were not looked for: what recognises them was not installed.
          Point them out by hand, or install it and find anew.
        </p>
      )}
    </section>
  );
}
