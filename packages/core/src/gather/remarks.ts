/**
 * What people say about a footage, sent as changes and not as a whole: two who mark different moments at the same time
 * both keep their marks.
 */

/** A moment that somebody named. */
export interface Mark {
  id: string;
  /** Seconds from the footage's start. */
  time: number;
  name: string;
}

/** A stretch worth a take of its own, in seconds. */
export interface Range {
  id: string;
  in: number;
  out: number;
}

interface Remarked {
  marks: Mark[];
  ranges: Range[];
  tags: string[];
  notes: string;
}

/** One change of what is said. `was`: the notes as they were when somebody began to write. */
export type RemarkChange =
  | { what: 'mark'; mark: Mark }
  | { what: 'unmark'; id: string }
  | { what: 'range'; range: Range }
  | { what: 'unrange'; id: string }
  | { what: 'tags'; add: string[]; remove: string[] }
  | { what: 'notes'; notes: string; was: string };

const MOST_MARKS = 2000;
const MOST_RANGES = 500;
const MOST_TAGS = 40;
export const LONGEST_NOTES = 20_000;

const put = <T extends { id: string }>(list: T[], item: T) => [...list.filter((i) => i.id !== item.id), item];

/** What is said after a change, for footage of so many seconds. Notes that were changed elsewhere meanwhile are both kept. */
export function remarked(before: Remarked, change: RemarkChange, duration: number): Remarked {
  const within = (t: number) => Math.max(0, Math.min(duration, t));
  switch (change.what) {
    case 'mark': {
      const mark = { ...change.mark, time: within(change.mark.time) };
      return {
        ...before,
        marks: put(before.marks, mark)
          .sort((a, b) => a.time - b.time)
          .slice(0, MOST_MARKS),
      };
    }
    case 'unmark':
      return { ...before, marks: before.marks.filter((m) => m.id !== change.id) };
    case 'range': {
      const range = { ...change.range, in: within(change.range.in), out: within(change.range.out) };
      if (range.out <= range.in) return before;
      return {
        ...before,
        ranges: put(before.ranges, range)
          .sort((a, b) => a.in - b.in)
          .slice(0, MOST_RANGES),
      };
    }
    case 'unrange':
      return { ...before, ranges: before.ranges.filter((r) => r.id !== change.id) };
    case 'tags': {
      const kept = before.tags.filter((t) => !change.remove.includes(t));
      const added = change.add.map((t) => t.trim()).filter(Boolean);
      return { ...before, tags: [...new Set([...kept, ...added])].slice(0, MOST_TAGS) };
    }
    case 'notes': {
      const both = before.notes !== change.was && before.notes !== change.notes && before.notes !== '';
      const notes = both ? `${change.notes}\n\n${before.notes}` : change.notes;
      return { ...before, notes: notes.slice(0, LONGEST_NOTES) };
    }
  }
}
