/** Subjects of the footage: where each is, fetched once it was followed, and what the server is asked about them. */
import { useEffect } from 'react';
import { toast } from 'sonner';
import { apply, transpose, type Vec3 } from '@glimbo/core/geometry/rotation';
import { readSubject } from '@glimbo/core/follow/subject';
import type { Box } from '@glimbo/core/follow/box';
import type { Tint } from '~/model/subject';
import { sendJson, type Answer } from '~/ui/send';
import { useStudioStore, type StudioStore } from '../state/store';
import type { StudioState } from '../state/state';
import { useWork } from '../state/work';
import { frameOf } from '@glimbo/core/time/frames';

interface Where {
  frame: number;
  direction: readonly number[];
  /** Degrees across and up, where its outline was drawn. */
  width?: number;
  height?: number;
}

type SubjectOrder =
  | ({ intent: 'add'; name?: string } & Where)
  | ({ intent: 'outline' } & Where)
  | ({ intent: 'correct'; id: string } & Where)
  | { intent: 'rename'; id: string; name: string }
  | { intent: 'tint'; id: string; tint: Tint }
  | { intent: 'delete' | 'restore' | 'again'; id: string };

export const sendSubject = (footageId: string, order: SubjectOrder): Promise<Answer<{ id: string } & Box>> =>
  sendJson<{ id: string } & Box>(`/footage/${footageId}/subjects`, order);

/** A direction of the world at the playhead, in the footage's own picture. */
export function inFootage(store: StudioStore, world: Vec3): Vec3 {
  const { correction, time } = store.getState();
  return apply(transpose(correction().at(time)), world);
}

/** The frame of the footage at the playhead. */
export const frameNow = ({ footage, time }: Pick<StudioState, 'footage' | 'time'>) => frameOf(time, footage.facts.rate);

/**
 * Points a new subject out, or puts a known one right, in a direction of the footage's picture at the playhead. Of a new one that was
 * pressed on, the outline is proposed first.
 */
export async function pointOut(store: StudioStore, place: Omit<Where, 'frame'>) {
  const frame = frameNow(store.getState());
  if (store.getState().pointingOut === 'new' && place.width === undefined)
    return propose(store, { frame, direction: place.direction });
  await track(store, { frame, ...place });
}

/** Has the outline of what was pressed on found, to be looked at. */
async function propose(store: StudioStore, where: Where) {
  const { footage, propose: show } = store.getState();
  const asked = { asked: where.frame };
  show(asked);
  const { problem, ...box } = await sendSubject(footage.id, { intent: 'outline', ...where });
  // Somebody pressed elsewhere or drew round it meanwhile, or has something else in mind.
  if (store.getState().proposed !== asked) return;
  show(box.direction ? { frame: where.frame, ...(box as Box) } : null);
  if (problem) toast.error(problem);
}

/** Has it followed from there. */
export async function track(store: StudioStore, where: Where) {
  const { footage, pointingOut, pointOutSubject } = store.getState();
  pointOutSubject('nothing');
  const { problem } = await sendSubject(
    footage.id,
    typeof pointingOut === 'object'
      ? { intent: 'correct', id: pointingOut.subject, ...where }
      : { intent: 'add', ...where },
  );
  if (problem) toast.error(problem);
}

/** Keeps the Studio's subjects as the server has them, and fetches where they are. */
export function useSubjects() {
  const store = useStudioStore();
  const { subjects, footage } = useWork();
  useEffect(() => {
    store.getState().knowSubjects(subjects);
    let gone = false;
    for (const { id, version } of subjects) {
      if (version === 0 || store.getState().tracks.get(id)?.version === version) continue;
      void fetch(`/footage/${footage.id}/subjects/${id}?v=${version}`)
        .then((answer) => answer.json())
        .then((plain) => {
          if (!gone) store.getState().knowTrack(id, { version, track: readSubject(plain) });
        })
        .catch(() =>
          toast.error('Where a subject is could not be read. Follow it once more.', { id: 'subject-unread' }),
        );
    }
    return () => void (gone = true);
  }, [store, subjects, footage.id]);
}
