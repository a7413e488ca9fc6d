/** A subject of the footage: what it looks like, how far it is followed, where it was lost, and what can be done with it. */
import { Trash2 } from 'lucide-react';
import { useRevalidator } from 'react-router';
import { toast } from 'sonner';
import { withFollow } from '@glimbo/core/edit/follows';
import { lostStretches } from '@glimbo/core/follow/subject';
import { subjectFile, type Subject } from '~/model/subject';
import { clock } from '~/ui/format';
import { IconButton } from '~/ui/IconButton';
import { useJob } from '~/ui/job-events';
import { NameField } from '~/ui/NameField';
import { Progress } from '~/ui/Progress';
import { stopJob } from '~/ui/send';
import { useClock, useStudio, useStudioStore } from '../state/store';
import { useWork } from '../state/work';
import { SubjectFace } from './SubjectFace';
import { sendSubject } from './subjects';

export function SubjectRow({ subject }: { subject: Subject }) {
  const store = useStudioStore();
  const { revalidate } = useRevalidator();
  const { footage, following } = useWork();
  const known = useStudio((s) => s.tracks.get(subject.id));
  const times = useClock();
  const asked = following.find((j) => j.params.subject === subject.id) ?? null;
  const job = useJob(asked);
  const ask = async (order: Parameters<typeof sendSubject>[1]) => {
    const { problem } = await sendSubject(footage.id, order);
    if (problem) toast.error(problem);
    await revalidate();
    return !problem;
  };
  const remove = async () => {
    if (!(await ask({ intent: 'delete', id: subject.id }))) return;
    toast(`“${subject.name}” was deleted.`, {
      action: { label: 'Bring it back', onClick: () => void ask({ intent: 'restore', id: subject.id }) },
    });
  };
  const followHere = () => {
    const { take, edit, chooseFollow, time } = store.getState();
    edit((t) => withFollow(t, subjectFile(subject), time));
    chooseFollow(take().follows!.length - 1);
  };
  const lost = known ? lostStretches(known.track) : [];
  const correcting = useStudio((s) => typeof s.pointingOut === 'object' && s.pointingOut.subject === subject.id);
  const { rate } = footage.facts;
  const putRight = (
    <button
      className="button h-6!"
      aria-pressed={correcting}
      title="Press on it where it really is, in the Frame or on the Map: only the stretch about here is looked for anew"
      onClick={() => store.getState().pointOutSubject(correcting ? 'nothing' : { subject: subject.id })}
    >
      Put right
    </button>
  );
  return (
    <li className="flex flex-wrap items-center gap-1.5 border-t border-rule py-1">
      <SubjectFace
        subject={subject}
        picture={
          subject.version > 0 ? `/footage/${footage.id}/subjects/${subject.id}/picture?v=${subject.version}` : null
        }
        onTint={(tint) => void ask({ intent: 'tint', id: subject.id, tint })}
      />
      <NameField
        className="h-6 w-0 min-w-16 flex-1 border border-transparent px-1 hover:border-edge"
        label={`Name of ${subject.name}`}
        name={subject.name}
        longest={120}
        onRename={(name) => void ask({ intent: 'rename', id: subject.id, name })}
      />
      {job?.going ? (
        <>
          <Progress label={`Following ${subject.name}`} share={job.progress} className="w-14" />
          <span className="figure text-muted">{Math.round(job.progress * 100)} %</span>
          <button className="button h-6!" onClick={() => void stopJob(asked!.id).then(() => revalidate())}>
            Cancel
          </button>
        </>
      ) : known && !subject.void ? (
        <>
          {putRight}
          <button className="button h-6!" onClick={followHere}>
            Follow it
          </button>
        </>
      ) : (
        <>
          {job?.state === 'failed' && subject.version === 0 && putRight}
          <button className="button h-6!" onClick={() => void ask({ intent: 'again', id: subject.id })}>
            Track it
          </button>
        </>
      )}
      <IconButton label={`Delete ${subject.name}`} className="size-6!" onClick={() => void remove()}>
        <Trash2 size={13} />
      </IconButton>
      {job?.state === 'failed' && <p className="w-full text-error">{job.error}</p>}
      {subject.void && (
        <p className="w-full text-error">The footage’s picture is another one since: track it once more.</p>
      )}
      {correcting && (
        <p className="w-full text-muted" role="status">
          Press on its middle in the Frame or on the Map, or draw round it there.
        </p>
      )}
      {subject.keys.length > 1 && (
        <p className="flex w-full flex-wrap gap-1.5 text-muted">
          By hand
          {subject.keys.map((frame) => (
            <button key={frame} className="figure underline" onClick={() => store.getState().setTime(frame / rate)}>
              {clock(times.shown(frame / rate))}
            </button>
          ))}
        </p>
      )}
      {lost.length > 0 && (
        <p className="flex w-full flex-wrap gap-1.5 text-muted">
          Lost
          {lost.slice(0, 6).map((s) => (
            <button key={s.in} className="figure underline" onClick={() => store.getState().setTime(s.in)}>
              {clock(times.shown(s.in))}–{clock(times.shown(s.out))}
            </button>
          ))}
        </p>
      )}
    </li>
  );
}
