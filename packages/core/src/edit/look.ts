/** What is done to the picture of a take. */
import { GRADE_NAMES } from '../look/channels.js';
import type { Detail } from '../look/detail.js';
import { doesShake, USUAL_SHAKE, type Shake } from '../look/shake.js';
import type { Look } from '../look/look.js';
import type { Take } from '../take/take.js';

/** Whether a member of a look does nothing, so that it need not be there. */
function doesNothing(value: unknown): boolean {
  if (value === undefined || value === 0) return true;
  return typeof value === 'object' && value !== null && Object.keys(value).length === 0;
}

/** A take with some of its look changed; what does nothing is left out, and so is a look of nothing. */
export function withLook({ look, ...take }: Take, change: Partial<Look>): Take {
  const next = Object.fromEntries(Object.entries({ ...look, ...change }).filter(([, value]) => !doesNothing(value)));
  return Object.keys(next).length ? { ...take, look: next as Look } : take;
}

/** Whether the light of the footage has to be known for a look. */
export const needsLight = (look: Look | undefined): boolean => !!look?.meter || !!look?.sector?.twin?.match;

/** A take whose shutter is open by some degrees; 0 draws every frame sharp. */
export const withShutter = (take: Take, shutter: number): Take => withLook(take, { shutter: Math.max(0, shutter) });

/** A take with other clarity or sharpening; what does nothing is left out. */
export function withDetail(take: Take, change: Detail): Take {
  const { clarity = 0, sharpen } = { ...take.look?.detail, ...change };
  return withLook(take, { detail: { ...(clarity ? { clarity } : {}), ...(sharpen?.amount ? { sharpen } : {}) } });
}

/** A take with another shake; one that does nothing is left out. */
export function withShake(take: Take, change: Partial<Shake>): Take {
  const shake = { ...(take.look?.shake ?? USUAL_SHAKE), ...change };
  return withLook(take, { shake: doesShake(shake) ? shake : undefined });
}

/** A take with some dials of its grade changed. */
export function withGrade(take: Take, change: NonNullable<Look['grade']>): Take {
  const all = { ...take.look?.grade, ...change };
  const grade = Object.fromEntries(
    GRADE_NAMES.flatMap((name) => {
      const channel = all[name];
      return channel === undefined || channel === 0 || (Array.isArray(channel) && !channel.length)
        ? []
        : [[name, channel]];
    }),
  );
  return withLook(take, { grade });
}
