/** The Lookouts of a take by number: named, following a subject, keyed, put on air, removed. */
import { Diamond, Radio, Trash2 } from 'lucide-react';
import { changeLookout, following, keyedOrStill, removeLookout } from '@glimbo/core/edit/lookouts';
import { onAir, type Lookout, type Lookouts } from '@glimbo/core/lookouts/lookouts';
import { hasKeyframes } from '@glimbo/core/path/edit';
import { subjectFile } from '~/model/subject';
import { IconButton } from '~/ui/IconButton';
import { NameField } from '~/ui/NameField';
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
      <NameField
        className="h-6 flex-1 border border-transparent px-1 hover:border-edge"
        label={`Name of Lookout ${n + 1}`}
        name={name}
        onFocus={() => store.getState().chooseLookout(n)}
        onRename={(next) => change((l) => ({ ...l, name: next }))}
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
          onChange={(subject) => change((l) => following(l, subject || null))}
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
        onClick={() => change((l) => keyedOrStill(l, store.getState().time))}
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
