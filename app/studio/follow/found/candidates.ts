/** What was found, as it is offered: what it is called, and which of it is a subject already. */
import { isSubject } from '@glimbo/core/follow/streak-looks';
import type { SubjectTrack } from '@glimbo/core/follow/subject';
import { angleBetween, vec3, type Vec3 } from '@glimbo/core/geometry/rotation';
import { foundIn, type FoundMoving } from '@glimbo/core/moving/found';
import type { Kind, Moving } from '@glimbo/core/moving/moving';
import type { Subject } from '~/model/subject';

export interface Candidate extends FoundMoving {
  /** The subject that it is, once it was taken or pointed out. */
  subject: Subject | null;
  /** What it looks like, as an address. */
  portrait: string | null;
}

export const ORDERS = ['time', 'length', 'size'] as const;
export type Order = (typeof ORDERS)[number];

const WORDS: Record<Kind, string> = { person: 'Person', animal: 'Animal', vehicle: 'Vehicle' };

export const kindInWords = (kind: Kind | null): string => (kind ? WORDS[kind] : 'Moves');

/** Degrees within which a subject was pointed out where a candidate is seen best. */
const THERE = 0.5;

const wasTaken = ({ look: [frame, x, y, z] }: FoundMoving, { pointed }: Subject): boolean =>
  pointed.frame === frame && angleBetween(vec3(pointed.direction), [x, y, z]) < THERE;

/** What is offered, in an order: by when it is seen first, by how long, or by how large. */
export function candidatesOf(
  moving: Moving,
  subjects: readonly Subject[],
  tracks: ReadonlyMap<string, SubjectTrack>,
  order: Order,
): Candidate[] {
  const found = foundIn(moving).map((f): Candidate => {
    const streak = moving.streaks[f.streak]!;
    const isThat = (s: Subject) => {
      const track = tracks.get(s.id);
      return wasTaken(f, s) || (!!track && isSubject(streak, track));
    };
    return {
      ...f,
      subject: subjects.find(isThat) ?? null,
      portrait: streak.portrait ? `data:image/jpeg;base64,${streak.portrait}` : null,
    };
  });
  if (order === 'time') return found;
  const worth = (c: Candidate) => (order === 'size' ? c.size : c.out - c.in);
  return found.sort((a, b) => worth(b) - worth(a));
}

/** How a candidate is pointed out as a subject; it is called by its kind, and numbered by how many there are. */
export function pointedOut({ kind, look: [frame, x, y, z, width, height] }: FoundMoving, subjects: number) {
  const direction: Vec3 = [x, y, z];
  const name = kind ? { name: `${WORDS[kind]} ${subjects + 1}` } : {};
  return { intent: 'add' as const, frame, direction, width, height, ...name };
}
