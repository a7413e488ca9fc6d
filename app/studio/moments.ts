/** Marks and ranges of the footage: kept with it at once, shared by all its takes. */
import { toast } from 'sonner';
import type { Mark, Range } from '~/db/footage';
import { sendFootage } from '~/library/act';
import { clock } from '~/ui/format';
import type { StudioStore } from './store';

function keep(store: StudioStore, change: { marks?: Mark[]; ranges?: Range[] }) {
  const { footage, set } = store.getState();
  const before = { marks: footage.marks, ranges: footage.ranges };
  set({ footage: { ...footage, ...change } });
  void sendFootage(footage.id, { intent: 'remark', ...change }).then(({ problem }) => {
    if (!problem) return;
    toast.error(problem);
    set({ footage: { ...store.getState().footage, ...before } });
  });
}

/** Sets a mark at the playhead, or takes the one that is there away. */
export function toggleMark(store: StudioStore) {
  const { footage, time } = store.getState();
  const { marks } = footage;
  const here = marks.findIndex((m) => Math.abs(m.time - time) < 0.5 / footage.facts.rate);
  if (here >= 0) return removeMark(store, here);
  keep(store, { marks: [...marks, { time, name: `Mark ${marks.length + 1}` }].sort((a, b) => a.time - b.time) });
}

export const renameMark = (store: StudioStore, index: number, name: string) =>
  keep(store, { marks: store.getState().footage.marks.map((m, i) => (i === index ? { ...m, name } : m)) });

/** Takes something away that can be brought back for a while. */
function remove(store: StudioStore, name: string, change: { marks?: Mark[]; ranges?: Range[] }) {
  const { marks, ranges } = store.getState().footage;
  keep(store, change);
  toast(`${name} was removed.`, { action: { label: 'Undo', onClick: () => keep(store, { marks, ranges }) } });
}

export function removeMark(store: StudioStore, index: number) {
  const { marks } = store.getState().footage;
  remove(store, `The mark “${marks[index]?.name}”`, { marks: marks.filter((_, i) => i !== index) });
}

export const removeRange = (store: StudioStore, index: number) =>
  remove(store, `Range ${index + 1}`, { ranges: store.getState().footage.ranges.filter((_, i) => i !== index) });

/** Begins a range at the playhead; the second time ends it there. */
export function toggleRange(store: StudioStore) {
  const { footage, time, rangeStart, set } = store.getState();
  if (rangeStart === null) return set({ rangeStart: time });
  const [from, to] = rangeStart < time ? [rangeStart, time] : [time, rangeStart];
  set({ rangeStart: null });
  const one = 1 / footage.facts.rate;
  keep(store, {
    ranges: [...footage.ranges, { in: from, out: Math.min(footage.facts.duration, to + one) }].sort(
      (a, b) => a.in - b.in,
    ),
  });
}

/** Makes a take of a range; without one, of the range at the playhead. */
export async function takeOfRange(store: StudioStore, open: (takeId: string) => void, range?: Range) {
  const { footage, time } = store.getState();
  const wanted = range ?? footage.ranges.find((r) => time >= r.in && time < r.out);
  if (!wanted) return void toast('There is no range at the playhead. R begins one, R again ends it.');
  const name = `${footage.name}, ${clock(wanted.in, 1)} to ${clock(wanted.out, 1)}`;
  const { id, problem } = await sendFootage(footage.id, { intent: 'take', name, range: wanted });
  if (!id) return void toast.error(problem ?? 'The take could not be made. Try again.');
  toast(`The take “${name}” was made.`, { action: { label: 'Open it', onClick: () => open(id) } });
}
