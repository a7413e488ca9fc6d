/** The parts of a bench as tabs; which one is open is kept in the browser. */
import { Tabs } from 'radix-ui';
import { useState, type ReactNode } from 'react';
import { keepHere, keptHere } from '~/ui/kept-here';

interface Part {
  id: string;
  name: string;
  content: ReactNode;
}

export function Parts({ label, keptAs, parts }: { label: string; keptAs: string; parts: Part[] }) {
  const [kept, setKept] = useState(() => keptHere(keptAs));
  const open = parts.some((p) => p.id === kept) ? kept! : parts[0]!.id;
  return (
    <Tabs.Root
      className="flex h-full flex-col"
      value={open}
      onValueChange={(id) => {
        setKept(id);
        keepHere(keptAs, id);
      }}
    >
      <Tabs.List className="flex shrink-0 gap-4 border-b border-rule px-3" aria-label={label}>
        {parts.map(({ id, name }) => (
          <Tabs.Trigger
            key={id}
            value={id}
            className="-mb-px border-b-2 border-transparent py-1 text-muted data-[state=active]:border-ink data-[state=active]:font-semibold data-[state=active]:text-ink"
          >
            {name}
          </Tabs.Trigger>
        ))}
      </Tabs.List>
      {parts.map(({ id, content }) => (
        <Tabs.Content key={id} value={id} className="min-h-0 flex-1 overflow-auto">
          {content}
        </Tabs.Content>
      ))}
    </Tabs.Root>
  );
}
