/**
 * The history of a document as a list of its states and a place in it. Kept by the browser and, step by step,
 * by the server, so that undo reaches back across a reload.
 */
export interface History<T> {
  /** How many steps there were before the first of `steps`, and are not kept any more. */
  first: number;
  steps: T[];
  /** Index of the present document in `steps`. */
  at: number;
}

/** So many steps back undo reaches at least. */
export const HISTORY_LIMIT = 500;
/** So many more are kept at most: the oldest are dropped many at a time, since what then comes first is written down anew. */
export const HISTORY_SLACK = 100;

export const startHistory = <T>(document: T): History<T> => ({ first: 0, steps: [document], at: 0 });
export const present = <T>(h: History<T>): T => h.steps[h.at]!;
export const canUndo = <T>(h: History<T>) => h.at > 0;
export const canRedo = <T>(h: History<T>) => h.at < h.steps.length - 1;

/** Adds a step; what had been undone is dropped, and the oldest steps beyond the limit. */
export function commit<T>(h: History<T>, document: T): History<T> {
  if (document === present(h)) return h;
  const steps = [...h.steps.slice(0, h.at + 1), document];
  const dropped = steps.length > HISTORY_LIMIT + HISTORY_SLACK ? steps.length - HISTORY_LIMIT : 0;
  return { first: h.first + dropped, steps: steps.slice(dropped), at: steps.length - 1 - dropped };
}

/** Replaces the present step: for the continuation of one gesture. */
export function amend<T>(h: History<T>, document: T): History<T> {
  const steps = [...h.steps.slice(0, h.at), document];
  return { ...h, steps };
}

export const undo = <T>(h: History<T>): History<T> => (canUndo(h) ? { ...h, at: h.at - 1 } : h);
export const redo = <T>(h: History<T>): History<T> => (canRedo(h) ? { ...h, at: h.at + 1 } : h);
