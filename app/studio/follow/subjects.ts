/** Subjects of the footage: where each is, fetched once it was followed, and what the server is asked about them. */
import { useEffect } from 'react';
import { toast } from 'sonner';
import { apply, transpose, type Vec3 } from '@glimbo/core/geometry/rotation';
import { readSubject } from '@glimbo/core/follow/subject';
import type { Tint } from '~/model/subject';
import { sendJson, type Answer } from '~/ui/send';
import { useStudioStore, type StudioStore } from '../state/store';
import { useWork } from '../state/work';

interface Where {
  frame: number;
  direction: readonly number[];
  /** Degrees across and up, where its outline was drawn. */
  width?: number;
  height?: number;
}

type SubjectOrder =
  | ({ intent: 'add'; name?: string } & Where)
  | ({ intent: 'correct'; id: string } & Where)
  | { intent: 'rename'; id: string; name: string }
  | { intent: 'tint'; id: string; tint: Tint }
  | { intent: 'delete' | 'restore' | 'again'; id: string };

export const sendSubject = (footageId: string, order: SubjectOrder): Promise<Answer<{ id: string }>> =>
  sendJson<{ id: string }>(`/footage/${footageId}/subjects`, order);

/** A direction of the world at the playhead, in the footage's own picture. */
export function inFootage(store: StudioStore, world: Vec3): Vec3 {
  const { correction, time } = store.getState();
  return apply(transpose(correction().at(time)), world);
}

/** Points a new subject out, or puts a known one right, in a direction of the footage's picture at the playhead. */
export async function pointOut(store: StudioStore, place: Omit<Where, 'frame'>) {
  const { footage, time, pointingOut, pointOutSubject } = store.getState();
  pointOutSubject('nothing');
  const frame = Math.floor(time * footage.facts.rate + 1e-6);
  const where: Where = { frame, ...place };
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
