/** The Follows of the take: from where to where, where the subject stands in the frame, and how soft the hand is. */
import { Trash2 } from 'lucide-react';
import { changeFollow, moveFollowEnd, withoutFollow } from '@glimbo/core/edit/follows';
import { FOLLOW_LIMITS, USUAL_RULE, type Follow } from '@glimbo/core/follow/rule';
import { subjectFile } from '~/model/subject';
import { Dial } from '~/ui/Dial';
import { clock } from '~/ui/format';
import { IconButton } from '~/ui/IconButton';
import { keepAhead, TOLERANCE, writeFollow } from './write-down';
import { useClock, useStudio, useStudioStore, useTake } from '../state/store';

type RuleDial = 'x' | 'y' | 'ahead' | 'soft' | 'dead' | 'blend';
const DIALS: readonly { id: RuleDial; name: string; factor: number; unit: string; digits: number }[] = [
  { id: 'x', name: 'Place across', factor: 100, unit: ' %', digits: 0 },
  { id: 'y', name: 'Place up', factor: 100, unit: ' %', digits: 0 },
  { id: 'ahead', name: 'Room ahead', factor: 100, unit: ' %', digits: 0 },
  { id: 'soft', name: 'Softness', factor: 1, unit: ' s', digits: 2 },
  { id: 'dead', name: 'Dead zone', factor: 1, unit: '°', digits: 1 },
  { id: 'blend', name: 'In and out over', factor: 1, unit: ' s', digits: 2 },
];
const NONE: readonly Follow[] = [];

export function FollowRules() {
  const store = useStudioStore();
  const follows = useTake().follows ?? NONE;
  const subjects = useStudio((s) => s.subjects);
  const chosen = useStudio((s) => s.followChosen);
  const times = useClock();
  const rule = follows[chosen];
  const nameOf = (file: string) => subjects.find((s) => subjectFile(s) === file)?.name ?? 'a subject that is gone';
  const remove = (n: number) => store.getState().edit((t) => withoutFollow(t, n));
  return (
    <section className="overflow-auto px-3 py-1.5" aria-label="Follows of this take">
      {follows.length === 0 && (
        <p className="text-muted">
          No subject is followed in this take yet. Press “Follow it” beside a subject: the camera then keeps it where
          you want it.
        </p>
      )}
      <ul>
        {follows.map((f, n) => (
          <li key={n} className="flex items-center gap-1.5">
            <button
              className={`flex min-w-0 flex-1 justify-between gap-2 px-1 text-left ${n === chosen ? 'bg-ink text-paper' : ''}`}
              aria-pressed={n === chosen}
              onClick={() => store.getState().chooseFollow(n)}
            >
              <span className="truncate">{nameOf(f.subject)}</span>
              <span className="figure">
                {clock(times.shown(f.in))}–{clock(times.shown(f.out))}
              </span>
            </button>
            <IconButton
              label={`Take this Follow of ${nameOf(f.subject)} out`}
              className="size-6!"
              onClick={() => remove(n)}
            >
              <Trash2 size={13} />
            </IconButton>
          </li>
        ))}
      </ul>
      {rule && <Rule rule={rule} n={chosen} />}
    </section>
  );
}

function Rule({ rule, n }: { rule: Follow; n: number }) {
  const store = useStudioStore();
  const change = (part: Partial<Follow>, gesture?: string) =>
    store.getState().edit((t) => changeFollow(t, n, part), gesture);
  const edge = (side: 'in' | 'out') => {
    const { edit, time } = store.getState();
    edit((t) => moveFollowEnd(t, n, side, time));
  };
  const end = () => store.getState().endGesture();
  return (
    <>
      <div className="my-1 flex flex-wrap gap-1">
        <button className="button h-6!" onClick={() => edge('in')}>
          From here
        </button>
        <button className="button h-6!" onClick={() => edge('out')}>
          To here
        </button>
        <button
          className="button h-6!"
          onClick={() => writeFollow(store, n)}
          title={`What it shows becomes keyframes of the path, within ${TOLERANCE}°`}
        >
          To keyframes
        </button>
        <button
          className="button h-6!"
          onClick={() => keepAhead(store, n)}
          title="Turns the whole sphere so that the subject stays ahead, in spherical clips too"
        >
          Ahead in the sphere
        </button>
      </div>
      {DIALS.map(({ id, name, factor, unit, digits }) => (
        <Dial
          key={id}
          name={name}
          value={rule[id] * factor}
          min={FOLLOW_LIMITS[id].least * factor}
          max={FOLLOW_LIMITS[id].most * factor}
          step={10 ** -digits}
          digits={digits}
          unit={unit}
          reset={USUAL_RULE[id] * factor}
          onChange={(v) => change({ [id]: v / factor }, `follow-${id}`)}
          onEnd={end}
        />
      ))}
      <label className="flex items-center gap-1.5">
        <input
          type="checkbox"
          checked={rule.size !== undefined}
          onChange={(e) => change({ size: e.target.checked ? 40 : undefined })}
        />
        Keep its size by zooming
      </label>
      {rule.size !== undefined && (
        <Dial
          name="Its height"
          value={rule.size}
          min={FOLLOW_LIMITS.size.least}
          max={FOLLOW_LIMITS.size.most}
          step={1}
          digits={0}
          unit=" %"
          reset={40}
          onChange={(v) => change({ size: v }, 'follow-size')}
          onEnd={end}
        />
      )}
    </>
  );
}
