/**
 * Changes of a history, as they are sent and kept: as large as what was edited, however long the history and the document.
 * Steps are counted from the first that there ever was.
 */
import { DocumentError } from '../boundary/document-error.js';
import { type History } from './history.js';
import { isWhole, patched, patchOf, whole, type Patch } from './patch.js';

export interface Change {
  /** The first step that there is afterwards. */
  first: number;
  /** The steps before this one stay. */
  keep: number;
  /** What makes each of the steps after them of the one before it. */
  patches: Patch[];
  /** The present step. */
  at: number;
}

/** What has to be changed in `before` for it to be `now`. What both have in common is known by being the same objects. */
export function difference<T extends object>(before: History<T>, now: History<T>): Change {
  let keep = Math.max(before.first, now.first);
  const has = (h: History<T>) => keep < h.first + h.steps.length;
  while (has(before) && has(now) && before.steps[keep - before.first] === now.steps[keep - now.first]) keep++;
  const steps = now.steps.slice(keep - now.first);
  const patches = steps.map((step, i) => {
    const last = i ? steps[i - 1] : keep > now.first ? now.steps[keep - now.first - 1] : undefined;
    return last ? patchOf(last, step) : whole(step);
  });
  return { first: now.first, keep, patches, at: now.first + now.at };
}

/** The steps that patches make one after the other. Throws DocumentError when they do not fit. */
export function stepsFrom<T extends object>(base: T | null, patches: readonly Patch[]): T[] {
  const steps: T[] = [];
  for (const patch of patches) {
    const last = steps.at(-1) ?? base;
    if (!last && !isWhole(patch)) throw new DocumentError('it goes on from steps that are not there');
    steps.push(patched(last ?? null, patch));
  }
  return steps;
}

/** The history that a change makes of another. Throws DocumentError when it does not fit. */
export function changed<T extends object>(before: History<T>, { first, keep, patches, at }: Change): History<T> {
  const kept = before.steps.slice(Math.max(0, first - before.first), Math.max(0, keep - before.first));
  const base = keep > before.first ? (before.steps[keep - before.first - 1] ?? null) : null;
  const steps = [...kept, ...stepsFrom(base, patches)];
  const begins = Math.max(first, Math.min(before.first, keep));
  if (begins + kept.length !== keep || !steps[at - begins])
    throw new DocumentError('it counts on steps that are not there');
  return { first: begins, steps, at: at - begins };
}

/** A whole history as a change of none. */
export interface PackedHistory {
  first: number;
  patches: Patch[];
  at: number;
}

/** A history for sending: its first step whole, and what makes each of the others of the one before it. */
export function packHistory<T extends object>({ first, steps, at }: History<T>): PackedHistory {
  return { first, at, patches: steps.map((step, i) => (i ? patchOf(steps[i - 1]!, step) : whole(step))) };
}

/** The history that was packed; steps share what they have in common. Throws DocumentError when it is none. */
export function unpackHistory<T extends object>({ first, patches, at }: PackedHistory): History<T> {
  const steps = stepsFrom<T>(null, patches);
  if (!steps[at]) throw new DocumentError('its present step is not among its steps');
  return { first, steps, at };
}
