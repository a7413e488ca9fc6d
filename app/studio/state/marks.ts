/** Marks and ranges of the footage: kept with it at once, shared by all its takes; sent as changes, so that tabs do not overwrite each other. */
import { toast } from 'sonner';
import { remarked, type Mark, type Range, type RemarkChange } from '@glimbo/core/gather/remarks';
import { sendFootage } from '~/ui/footage-act';
import { clock } from '~/ui/format';
import type { StudioStore } from './store';

/** Applies a change here at once and has it kept; what the server then has, other tabs' changes too, is taken over. */
function say(store: StudioStore, change: RemarkChange) {
  const { footage, setRemarks } = store.getState();
  const before = { marks: footage.marks, ranges: footage.ranges };
  const { marks, ranges } = remarked(footage, change, footage.facts.duration);
  setRemarks({ marks, ranges });
  void sendFootage(footage.id, { intent: 'change', change }).then(({ problem, said }) => {
    if (problem) toast.error(problem);
    const now = problem ? before : said;
    if (now) setRemarks(now);
  });
}

/** Adds marks and ranges that come from elsewhere; those that are there already are left out. */
export function addMarks(
  store: StudioStore,
  found: { marks: Omit<Mark, 'id'>[]; ranges: Omit<Range, 'id'>[] },
): number {
  const { marks, ranges } = store.getState().footage;
  const near = (a: number, b: number) => Math.abs(a - b) < 1e-3;
  const freshMarks = found.marks.filter((m) => !marks.some((o) => near(o.time, m.time)));
  const freshRanges = found.ranges.filter((r) => !ranges.some((o) => near(o.in, r.in) && near(o.out, r.out)));
  for (const mark of freshMarks) say(store, { what: 'mark', mark: { ...mark, id: crypto.randomUUID() } });
  for (const range of freshRanges) say(store, { what: 'range', range: { ...range, id: crypto.randomUUID() } });
  return freshMarks.length + freshRanges.length;
}

/** Sets a mark at the playhead, or takes the one that is there away. */
export function toggleMark(store: StudioStore) {
  const { footage, time } = store.getState();
  const { marks } = footage;
  const here = marks.find((m) => Math.abs(m.time - time) < 0.5 / footage.facts.rate);
  if (here) return removeMark(store, here);
  say(store, { what: 'mark', mark: { id: crypto.randomUUID(), time, name: `Mark ${marks.length + 1}` } });
}

export const renameMark = (store: StudioStore, mark: Mark, name: string) =>
  say(store, { what: 'mark', mark: { ...mark, name } });

/** Takes something away that can be brought back for a while. */
function remove(store: StudioStore, name: string, change: RemarkChange, back: RemarkChange) {
  say(store, change);
  toast(`${name} was removed.`, { action: { label: 'Undo', onClick: () => say(store, back) } });
}

export const removeMark = (store: StudioStore, mark: Mark) =>
  remove(store, `The mark “${mark.name}”`, { what: 'unmark', id: mark.id }, { what: 'mark', mark });

export const removeRange = (store: StudioStore, range: Range) =>
  remove(store, 'The range', { what: 'unrange', id: range.id }, { what: 'range', range });

/** Begins a range at the playhead; pressed again, ends it there. */
export function toggleRange(store: StudioStore) {
  const { footage, time, rangeStart, beginRange } = store.getState();
  if (rangeStart === null) return beginRange(time);
  const [from, to] = rangeStart < time ? [rangeStart, time] : [time, rangeStart];
  beginRange(null);
  const out = Math.min(footage.facts.duration, to + 1 / footage.facts.rate);
  say(store, { what: 'range', range: { id: crypto.randomUUID(), in: from, out } });
}

/** Makes a take of a range; without one, of the range at the playhead. */
export async function takeOfRange(store: StudioStore, open: (takeId: string) => void, range?: Range) {
  const { footage, time } = store.getState();
  const wanted = range ?? footage.ranges.find((r) => time >= r.in && time < r.out);
  if (!wanted) return void toast('There is no range at the playhead. R begins one, R again ends it.');
  const name = `${footage.name}, ${clock(wanted.in, 1)} to ${clock(wanted.out, 1)}`;
  const { id, problem } = await sendFootage(footage.id, {
    intent: 'take',
    name,
    range: { in: wanted.in, out: wanted.out },
  });
  if (!id) return void toast.error(problem ?? 'The take could not be made. Try again.');
  toast(`The take “${name}” was made.`, { action: { label: 'Open it', onClick: () => open(id) } });
}
