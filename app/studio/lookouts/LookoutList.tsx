/** The Lookouts of a take by number: named, following a subject, keyed, put on air, removed. */
import { Diamond, Radio, Trash2 } from 'lucide-react';
import { USUAL_RULE } from '@glimbo/core/follow/rule';
import { changeLookout, removeLookout } from '@glimbo/core/lookouts/edit';
import { onAir, type Lookout, type Lookouts } from '@glimbo/core/lookouts/lookouts';
import { hasKeyframes, setViewKey } from '@glimbo/core/path/edit';
import { emptyPath, viewAt } from '@glimbo/core/path/path';
import { subjectFile } from '~/model/subject';
import { IconButton } from '~/ui/IconButton';
import { Select } from '~/ui/Select';
import { useStudio, useStudioStore } from '../state/store';
import { only, putOnAir } from './live-cut';

export function LookoutList({ lookouts }: { lookouts: Lookouts }) {
  const aired = useStudio((s) => onAir(s.take().lookouts, s.time));
  const chosen = useStudio((s) => s.lookoutChosen);
  return (
    <ul>
      {lookouts.views.map((lookout, n) => (
        <Row key={n} lookout={lookout} n={n} chosen={chosen === n} aired={aired?.views.includes(n) ?? false} />
      ))}
    </ul>
  );
}

function Row({ lookout, n, chosen, aired }: { lookout: Lookout; n: number; chosen: boolean; aired: boolean }) {
  const store = useStudioStore();
  const subjects = useStudio((s) => s.subjects);
  const { name, path, follow } = lookout;
  const change = (by: (l: Lookout) => Lookout) => store.getState().edit((t) => changeLookout(t, n, by));
  const keyed = hasKeyframes(path);
  /** A path of its own begins with a keyframe here, and ends with the view that it has here. */
  const toggleKeys = () => {
    const { time } = store.getState();
    change((l) => ({
      ...l,
      path: keyed ? { ...emptyPath(), ...viewAt(l.path, time) } : setViewKey(l.path, time),
    }));
  };
  const followBy = (subject: string) =>
    change(({ follow: before, ...l }) => {
      const { blend: _, ...rule } = { ...USUAL_RULE, ...before };
      return subject ? { ...l, follow: { ...rule, subject } } : l;
    });
  return (
    <li className={`flex items-center gap-1 border-b border-rule ${chosen ? 'bg-rule/60' : ''}`}>
      <button
        className={`figure w-6 shrink-0 text-center leading-7 ${chosen ? 'font-semibold' : 'text-muted'}`}
        aria-pressed={chosen}
        aria-label={`Work on ${name}`}
        onClick={() => store.getState().chooseLookout(n)}
      >
        {n + 1}
      </button>
      <input
        key={name}
        className="h-6 min-w-0 flex-1 border border-transparent bg-transparent px-1 hover:border-edge"
        aria-label={`Name of Lookout ${n + 1}`}
        defaultValue={name}
        maxLength={80}
        onFocus={() => store.getState().chooseLookout(n)}
        onBlur={(e) => {
          const next = e.target.value.trim();
          if (next && next !== name) change((l) => ({ ...l, name: next }));
        }}
        onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
      />
      {(subjects.length > 0 || follow) && (
        <Select
          label={`Whom ${name} follows`}
          className="h-6! w-24"
          value={follow?.subject ?? ''}
          options={[
            ['', 'stands'],
            ...subjects.map((s) => [subjectFile(s), s.name] as const),
            ...(follow && !subjects.some((s) => subjectFile(s) === follow.subject)
              ? [[follow.subject, 'gone'] as const]
              : []),
          ]}
          onChange={followBy}
        />
      )}
      <IconButton
        label={
          keyed
            ? `${name} has a path of its own: make it stand as it is here`
            : `Give ${name} a path of its own: a keyframe here`
        }
        className="size-6!"
        aria-pressed={keyed}
        onClick={toggleKeys}
      >
        <Diamond size={13} fill={keyed ? 'currentColor' : 'none'} />
      </IconButton>
      <IconButton
        label={`Put ${name} on air`}
        className={`size-6! ${aired ? 'text-camera' : ''}`}
        onClick={() => putOnAir(store, only(n))}
      >
        <Radio size={13} />
      </IconButton>
      <IconButton
        label={`Remove ${name}`}
        className="size-6!"
        onClick={() => store.getState().edit((t) => removeLookout(t, n))}
      >
        <Trash2 size={13} />
      </IconButton>
    </li>
  );
}
