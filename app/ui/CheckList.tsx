/** Choosing some of many: a box for each, and one for all, or for all of a group. */
import type { ReactNode } from 'react';

interface CheckListProps {
  label: string;
  items: readonly { id: string; name: string; about: ReactNode }[];
  /** Some of them that can be chosen together, by what they are called. */
  group?: { name: string; ids: readonly string[] } | null;
  chosen: ReadonlySet<string>;
  onChoose: (chosen: ReadonlySet<string>) => void;
}

export const toggled = <T,>(set: ReadonlySet<T>, item: T): ReadonlySet<T> =>
  set.has(item) ? new Set([...set].filter((i) => i !== item)) : new Set([...set, item]);

export function CheckList({ label, items, group, chosen, onChoose }: CheckListProps) {
  const together = (name: string, ids: readonly string[], are: boolean) => (
    <label className="flex items-center gap-2 border-b border-rule px-2 py-1">
      <input type="checkbox" checked={are} onChange={(e) => onChoose(new Set(e.target.checked ? ids : []))} />
      {name}
    </label>
  );
  const ids = items.map((i) => i.id);
  return (
    <div className="mt-2 max-h-72 overflow-auto border border-rule" role="group" aria-label={label}>
      {together(`All ${items.length}`, ids, items.length > 0 && chosen.size === items.length)}
      {group &&
        together(
          group.name,
          group.ids,
          group.ids.every((id) => chosen.has(id)),
        )}
      {items.map(({ id, name, about }) => (
        <label key={id} className="flex items-center gap-2 px-2 py-1">
          <input type="checkbox" checked={chosen.has(id)} onChange={() => onChoose(toggled(chosen, id))} />
          <span className="min-w-0 flex-1 truncate">{name}</span>
          {about}
        </label>
      ))}
    </div>
  );
}
