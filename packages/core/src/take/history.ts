/**
 * The history of a take as a list of documents and a place in it. Kept by the browser and, step by step,
 * by the server, so that undo reaches back across a reload.
 */
export interface History<T> {
  steps: T[];
  /** Index of the present document in `steps`. */
  at: number;
}

export const HISTORY_LIMIT = 200;

export const startHistory = <T>(document: T): History<T> => ({ steps: [document], at: 0 });
export const present = <T>(h: History<T>): T => h.steps[h.at]!;
export const canUndo = <T>(h: History<T>) => h.at > 0;
export const canRedo = <T>(h: History<T>) => h.at < h.steps.length - 1;

/** Adds a step; what had been undone is dropped, and the oldest steps beyond the limit. */
export function commit<T>(h: History<T>, document: T): History<T> {
  if (document === present(h)) return h;
  const steps = [...h.steps.slice(0, h.at + 1), document].slice(-HISTORY_LIMIT);
  return { steps, at: steps.length - 1 };
}

/** Replaces the present step: for the continuation of one gesture. */
export function amend<T>(h: History<T>, document: T): History<T> {
  const steps = [...h.steps.slice(0, h.at), document];
  return { steps, at: h.at };
}

export const undo = <T>(h: History<T>): History<T> => (canUndo(h) ? { ...h, at: h.at - 1 } : h);
export const redo = <T>(h: History<T>): History<T> => (canRedo(h) ? { ...h, at: h.at + 1 } : h);
