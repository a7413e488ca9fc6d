/** Level keys: putting the horizon straight by numbers, by proposals, and over the whole take. */
import { Trash2 } from 'lucide-react';
import { useEffect, useMemo } from 'react';
import { toast } from 'sonner';
import { apply } from '@glimbo/core/geometry/rotation';
import { upInPicture } from '@glimbo/core/level/auto';
import { RIGHT, SURE } from '@glimbo/core/level/sure';
import { leanOf, nextMiddle, upAt, upOf, type LevelKey } from '@glimbo/core/level/level';
import type { Motion } from '@glimbo/core/motion/motion';
import { snap } from '@glimbo/core/path/edit';
import { levelFromPicture, levelInPicture, openStretches } from '@glimbo/core/edit/levelling';
import { NumberField } from '~/ui/Dial';
import { clock } from '~/ui/format';
import { useClock, useCorrection, useStudio, useStudioStore, useTake, type StudioStore } from '../state/store';
import { askMotion } from './motion-reader';
import { KeepFraming } from './OrientPart';
import { moveLevel, removeLevelAt, setLevelHere } from './useHorizon';
import { keepHere, keptJson } from '~/ui/kept-here';

const KEPT = 'glimbo-level-keys';
const NO_KEYS: LevelKey[] = [];

/** An angle with a digit behind the point, and no sign before nothing. */
const tenths = (angle: number) => (Math.abs(angle) < 0.05 ? 0 : angle).toFixed(1);

/** Keys wherever it is sure where up is; the rest is left to be done by hand. */
async function levelAll(store: StudioStore, motion: Motion) {
  const { take, correct, leaveUnlevelled } = store.getState();
  const found = await askMotion('level', motion, take());
  if (found === undefined) return;
  leaveUnlevelled(found.unsure);
  const set = found.keys.filter((k) => k.auto).length;
  if (!set) return void toast.error('Nowhere does the picture tell surely where up is. Set level keys by hand.');
  correct({ level: { keys: found.keys } });
  const left = found.unsure.length;
  const alone = left ? ` ${left === 1 ? 'One stretch was' : `${left} stretches were`} left alone, being unsure.` : '';
  toast(`${set} level keys were set. Each can be moved or put straight by hand.${alone}`);
}

function copyKeys(store: StudioStore) {
  const { take, correction, footage } = store.getState();
  const keys = levelInPicture(take(), correction());
  keepHere(KEPT, JSON.stringify({ footage: footage.id, keys }));
  toast(`${keys.length} level keys are ready for another take of this footage.`);
}

const areLevelKeys = (keys: unknown): keys is LevelKey[] =>
  Array.isArray(keys) &&
  (keys as (Partial<LevelKey> | null)[]).every(
    (k) => Number.isFinite(k?.time) && k?.up?.length === 3 && k.up.every(Number.isFinite),
  );

function pasteKeys(store: StudioStore) {
  const kept = keptJson(KEPT) as { footage?: unknown; keys?: unknown } | null;
  const { footage, correction, correct } = store.getState();
  if (kept?.footage !== footage.id || !areLevelKeys(kept.keys))
    return void toast('No level keys of this footage were copied. Copy them in the take that has them.');
  correct({ level: { keys: levelFromPicture(kept.keys, correction()) } });
}

export function HorizonPart() {
  const store = useStudioStore();
  const take = useTake();
  const time = useStudio((s) => s.time);
  const motion = useStudio((s) => s.motion);
  const { facts } = useStudio((s) => s.footage);
  const correction = useCorrection();
  useEffect(() => {
    store.getState().grabHorizon(true);
    return () => store.getState().grabHorizon(false);
  }, [store]);
  const keys = take.level?.keys ?? NO_KEYS;
  const times = useClock();
  const lean = leanOf(upAt(keys, time));
  const byHand = useMemo(
    () => levelInPicture({ level: { keys: keys.filter((k) => !k.auto) } }, correction),
    [keys, correction],
  );
  const proposal = motion && upInPicture(motion, time, byHand);
  const set = (change: Partial<typeof lean>) => setLevelHere(store, upOf({ ...lean, ...change }), `level-${time}`);
  return (
    <div className="grid grid-cols-[minmax(330px,1.28fr)_minmax(230px,1fr)] divide-x divide-rule">
      <section className="flex flex-col gap-2 p-3" aria-label="Horizon">
        <div className="flex flex-wrap items-center gap-2">
          <span className="text-muted">Lean here</span>
          <NumberField
            label="Roll of the horizon"
            value={lean.roll}
            min={-90}
            max={90}
            digits={2}
            unit="°"
            onCommit={(roll) => set({ roll })}
          />
          roll
          <NumberField
            label="Pitch of the horizon"
            value={lean.pitch}
            min={-180}
            max={180}
            digits={2}
            unit="°"
            onCommit={(pitch) => set({ pitch })}
          />
          pitch
        </div>
        <p className="text-muted">Drag the teal line to the horizon, in the Frame or on the Map; or type.</p>
        <Proposed proposal={proposal} byHand={byHand.length} />
        <div className="flex flex-wrap gap-2">
          <button
            className="button"
            title="To the middle of the longest stretch without a level key"
            onClick={() => store.getState().setTime(snap(nextMiddle(keys, take.range), facts.rate))}
          >
            Next middle <span className="figure text-muted">H</span>
          </button>
          <button
            className="button"
            disabled={!proposal || !motion}
            onClick={() => motion && void levelAll(store, motion)}
          >
            Level the whole take
          </button>
        </div>
        <Unlevelled />
        <KeepFraming />
      </section>
      <section className="flex flex-col p-3" aria-label="Level keys">
        <div className="mb-1 flex flex-wrap gap-2">
          <button className="button" disabled={keys.length === 0} onClick={() => copyKeys(store)}>
            Copy keys
          </button>
          <button className="button" onClick={() => pasteKeys(store)}>
            Paste keys
          </button>
          <button
            className="button"
            disabled={keys.length === 0}
            onClick={() => store.getState().correct({ level: { keys: [] } })}
          >
            Remove all
          </button>
        </div>
        {keys.length === 0 && <p className="text-muted">No level keys yet: the horizon is where the rig had it.</p>}
        {keys.map((key) => (
          <div key={key.time} className="flex items-center gap-2 border-t border-rule py-0.5" data-testid="level-key">
            <button className="figure underline" onClick={() => store.getState().setTime(key.time)}>
              {clock(times.shown(key.time))}
            </button>
            <span className="figure flex-1 text-muted">
              {tenths(leanOf(key.up).roll)}° {tenths(leanOf(key.up).pitch)}°
            </span>
            <button
              className="button h-6!"
              disabled={keys.some((k) => Math.abs(k.time - time) < 1e-6)}
              title="Moves this key to the playhead"
              onClick={() => moveLevel(store, keys, key.time, time)}
            >
              Move here
            </button>
            <button
              className="icon-button size-6!"
              aria-label={`Remove the level key at ${clock(times.shown(key.time))}`}
              title="Remove"
              onClick={() => removeLevelAt(store, key.time)}
            >
              <Trash2 size={12} />
            </button>
          </div>
        ))}
      </section>
    </div>
  );
}

/** What is proposed at the playhead, if that is sure; else that it is not, and what to do. */
function Proposed({ proposal, byHand }: { proposal: ReturnType<typeof upInPicture>; byHand: number }) {
  const store = useStudioStore();
  const time = useStudio((s) => s.time);
  const correction = useCorrection();
  if (!proposal)
    return <p className="text-muted">Analyse the motion, under Motion, and the horizon is proposed here.</p>;
  const sure = Math.round(proposal.confidence * 100);
  if (proposal.confidence < SURE)
    return (
      <p data-testid="unsure">
        The picture does not tell where up is here (<span className="figure">{sure} %</span> sure): no upright edges or
        clear skyline agree. {byHand ? 'Set another key' : 'Set a key'} by hand where you see the horizon; it tells of
        the rest.
      </p>
    );
  const up = apply(correction.steadied(time), proposal.up);
  const { roll, pitch } = leanOf(up);
  return (
    <div className="flex flex-wrap items-center gap-2" data-testid="proposal">
      <span>
        Proposed: <span className="figure">{tenths(roll)}°</span> roll, <span className="figure">{tenths(pitch)}°</span>{' '}
        pitch
      </span>
      <span
        className="figure text-muted"
        title={`Of those called so sure so many are within ${RIGHT}°; from edges, skyline and the keys set by hand`}
      >
        {sure} % sure
      </span>
      <button className="button" onClick={() => setLevelHere(store, up)}>
        Accept
      </button>
    </div>
  );
}

/** The stretches that levelling the whole take left alone, one after the other. */
function Unlevelled() {
  const store = useStudioStore();
  const left = useStudio((s) => s.unlevelled);
  const { rate } = useStudio((s) => s.footage.facts);
  const take = useTake();
  const time = useStudio((s) => s.time);
  const open = openStretches(left, take.level?.keys ?? NO_KEYS);
  if (!open.length) return null;
  const next = open.find(({ from, to }) => (from + to) / 2 > time + 0.5 / rate) ?? open[0]!;
  return (
    <div className="flex flex-wrap items-center gap-2" data-testid="unlevelled">
      <span>{open.length === 1 ? 'One stretch was left alone' : `${open.length} stretches were left alone`}</span>
      <button
        className="button h-6!"
        title="To its middle, to put it straight by hand"
        onClick={() => store.getState().setTime(snap((next.from + next.to) / 2, rate))}
      >
        Next unsure stretch
      </button>
    </div>
  );
}
