/** Subjects for tests. */
import type { SubjectLook, SubjectTrack } from '@glimbo/core/follow/subject';
import type { Subject } from '../../model/subject';
import { directionOf } from '@glimbo/core/geometry/sphere';

/** A subject that was followed once, unless it is said otherwise. */
export const subject = (more: Partial<Subject> = {}): Subject => ({
  ...{ id: 's', name: 'Driver', tint: 'plum', keys: [0], version: 1, void: false },
  pointed: { frame: 0, direction: [0, 0, 1] },
  ...more,
});

/** Somebody who stays at a heading in degrees, 20 degrees large, for ten seconds. */
export function staysAt(heading: number): SubjectTrack {
  const [x, y, z] = directionOf(heading, 0);
  const looks = Array.from({ length: 300 }, (): SubjectLook => [x, y, z, 20, 20, 1]);
  return { format: 'glimbo-subject', version: 2, rate: 30, looks };
}
