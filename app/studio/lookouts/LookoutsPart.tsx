/** Lookouts: views that play side by side and are cut between, live or afterwards. */
import { CopyPlus, LayoutGrid, Plus, Route } from 'lucide-react';
import { useState } from 'react';
import { addLookout, lookoutsAllRound, withLookouts } from '@glimbo/core/edit/lookouts';
import { MOST_LOOKOUTS } from '@glimbo/core/lookouts/lookouts';
import { emptyPath } from '@glimbo/core/path/path';
import { Choice } from '~/ui/Choice';
import { TOLERANCE, writeCuts } from '../follow/write-down';
import { OtherTakes } from '../fields/OtherTakes';
import { useStudio, useStudioStore, useTake } from '../state/store';
import { LookoutDials } from './LookoutDials';
import { LookoutList } from './LookoutList';
import { LookoutSets } from './LookoutSets';
import { OnAir } from './OnAir';

export function LookoutsPart() {
  const store = useStudioStore();
  const { lookouts } = useTake();
  const grid = useStudio((s) => s.grid);
  const begin = () => {
    const { edit, showGrid, chooseLookout, showLane } = store.getState();
    edit((t) => withLookouts(t, lookoutsAllRound()));
    chooseLookout(0);
    showGrid('alone');
    showLane('cuts');
  };
  if (!lookouts)
    return (
      <section className="h-full overflow-auto px-3 py-2" aria-label="Lookouts">
        <p className="max-w-lg text-muted">
          Up to nine views that play side by side: aim each where something may happen, then play and press its number
          to put it on air. What was cut is a lane beside the Sweep and can be changed afterwards.
        </p>
        <div className="mt-2 flex flex-wrap gap-2">
          <button className="button main" onClick={begin}>
            <LayoutGrid size={14} /> Front, right, back and left
          </button>
          <AddThis name="Add this view" />
        </div>
        <LookoutSets />
      </section>
    );
  return (
    <div className="flex h-full flex-col">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-rule px-3 py-1">
        <Choice
          label="Frame shows"
          value={grid}
          options={[
            ['off', 'On air'],
            ['alone', 'Grid', 'All Lookouts at once'],
            ['beside', 'Both', 'What is on air, and all Lookouts beside it'],
          ]}
          onChange={(how) => store.getState().showGrid(how)}
        />
        <span className="flex-1" />
        <ToPath />
        <ToTakes />
      </div>
      <div className="grid min-h-0 flex-1 grid-cols-2 divide-x divide-rule">
        <section className="overflow-auto px-3 py-1" aria-label="Lookouts">
          <LookoutList lookouts={lookouts} />
          <div className="mt-1 flex flex-wrap gap-1">
            <AddThis name="Add this view" disabled={lookouts.views.length >= MOST_LOOKOUTS} />
          </div>
          <LookoutSets />
        </section>
        <section className="overflow-auto px-3 py-1" aria-label="On air">
          <OnAir lookouts={lookouts} />
          <LookoutDials lookouts={lookouts} />
        </section>
      </div>
    </div>
  );
}

/** Makes what the Frame shows one more Lookout. */
function AddThis({ name, disabled = false }: { name: string; disabled?: boolean }) {
  const store = useStudioStore();
  const add = () => {
    const { view, edit, take, chooseLookout, showLane } = store.getState();
    const count = take().lookouts?.views.length ?? 0;
    edit((t) => addLookout(t, `View ${count + 1}`, { ...emptyPath(), ...view() }));
    chooseLookout(count);
    showLane('cuts');
  };
  return (
    <button
      className="button h-6!"
      disabled={disabled}
      onClick={add}
      title={disabled ? `There are ${MOST_LOOKOUTS} at most` : 'What the Frame shows becomes a Lookout'}
    >
      <Plus size={13} /> {name}
    </button>
  );
}

/** Writes all that is seen down as keyframes of the path; the Lookouts stay, with nothing on air. */
function ToPath() {
  const store = useStudioStore();
  const { lookouts } = useTake();
  return (
    <button
      className="button h-6!"
      disabled={!lookouts?.cuts.length}
      onClick={() => writeCuts(store)}
      title={`All that is seen becomes keyframes of the path, within ${TOLERANCE}°`}
    >
      <Route size={13} /> To keyframes
    </button>
  );
}

/** Lays these Lookouts onto other takes. */
function ToTakes() {
  const [open, setOpen] = useState(false);
  return (
    <>
      <button
        className="button h-6!"
        onClick={() => setOpen(true)}
        title="Lay these Lookouts onto other takes; each keeps its own level and heading"
      >
        <CopyPlus size={13} /> To other takes
      </button>
      {open && <OtherTakes only="lookouts" onClose={() => setOpen(false)} />}
    </>
  );
}
