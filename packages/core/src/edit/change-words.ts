/** What was changed between two documents of a take, in a few words: what undo says that it will take back. */
import { CHANNELS, keysOf, type Path } from '../path/path.js';
import type { Keyframe } from '../curve/channel.js';
import { formatsOf } from '../take/formats.js';
import type { Take } from '../take/take.js';

const same = (a: unknown, b: unknown) => a === b || JSON.stringify(a) === JSON.stringify(b);
const count = (n: number, what: string) => `${n} ${what}${n === 1 ? '' : 's'}`;

/** Times, in microseconds, at which keyframes were there before and are not now, or are other ones. */
function differences(before: Path, now: Path) {
  const [gone, come, changed] = [new Set<number>(), new Set<number>(), new Set<number>()];
  const byTime = (keys: readonly Keyframe[]) => new Map(keys.map((k) => [Math.round(k.time * 1e6), k]));
  let eased = true;
  for (const name of CHANNELS) {
    if (before[name] === now[name]) continue;
    const [was, is] = [byTime(keysOf(before, name)), byTime(keysOf(now, name))];
    for (const [time, key] of was) {
      const there = is.get(time);
      if (!there) gone.add(time);
      else if (there !== key && !same(there, key)) {
        changed.add(time);
        eased &&= there.value === key.value;
      }
    }
    for (const time of is.keys()) if (!was.has(time)) come.add(time);
  }
  return { gone: gone.size, come: come.size, changed: changed.size, eased };
}

function pathWords(before: Path, now: Path): string {
  const { gone, come, changed, eased } = differences(before, now);
  // Some of what moved may have come where others were.
  if (gone && come) return gone === come ? `move ${count(gone + changed, 'key')}` : `replace ${count(gone, 'key')}`;
  if (come) return `set ${count(come, 'key')}`;
  if (gone) return `remove ${count(gone, 'key')}`;
  if (changed) return eased ? `shape ${count(changed, 'key')}` : `change ${count(changed, 'key')}`;
  return 'change the path';
}

/** Members of a take with what a change of them is called. */
const PARTS: readonly [keyof Take, string][] = [
  ['orientation', 'orientation'],
  ['steady', 'steadying'],
  ['level', 'level'],
  ['range', 'in and out'],
  ['pace', 'pace'],
  ['look', 'look'],
  ['reading', 'frame rate'],
];

/** The change from one document to the next, such as "move 3 keys". */
export function changeInWords(before: Take, now: Take): string {
  const part = PARTS.find(([name]) => !same(before[name], now[name]));
  // Framing is kept through such changes: the path that goes along is not what was done.
  if (part) return part[1];
  if (!same(before.path, now.path)) return pathWords(before.path, now.path);
  if (before.frame.aspect !== now.frame.aspect) return `format ${now.frame.aspect}`;
  if (formatsOf(before).length !== formatsOf(now).length) return 'formats';
  if (!same(before.frame, now.frame)) return `correction of ${now.frame.aspect}`;
  return 'change';
}
