/** Subjects for tests. */
import type { SubjectLook, SubjectTrack } from '@glimbo/core/follow/subject';
import { directionOf } from '@glimbo/core/geometry/sphere';

/** Somebody who stays at a heading in degrees, 20 degrees large, for ten seconds. */
export function staysAt(heading: number): SubjectTrack {
  const [x, y, z] = directionOf(heading, 0);
  const looks = Array.from({ length: 300 }, (): SubjectLook => [x, y, z, 20, 20, 1]);
  return { format: 'glimbo-subject', version: 2, rate: 30, looks };
}
