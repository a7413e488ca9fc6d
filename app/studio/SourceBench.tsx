/** The Source station: range and frame rate, what the picture shows and its stitch, marks and ranges, facts. */
import { Tabs } from 'radix-ui';
import { useState } from 'react';
import { FactsPart } from './source/FactsPart';
import { MomentsPart } from './source/MomentsPart';
import { RangePart } from './source/RangePart';
import { StitchPart } from './source/StitchPart';

const PARTS = [
  ['range', 'Range and rate', RangePart],
  ['stitch', 'Stitch', StitchPart],
  ['moments', 'Marks and ranges', MomentsPart],
  ['facts', 'Facts', FactsPart],
] as const;
const KEPT = 'glimbo-source-part';

export function SourceBench() {
  const [part, setPart] = useState(() => localStorage.getItem(KEPT) ?? 'range');
  return (
    <Tabs.Root
      className="flex h-full flex-col"
      value={PARTS.some(([id]) => id === part) ? part : 'range'}
      onValueChange={(id) => {
        setPart(id);
        localStorage.setItem(KEPT, id);
      }}
    >
      <Tabs.List className="flex shrink-0 gap-4 border-b border-rule px-3" aria-label="Parts of the Source station">
        {PARTS.map(([id, name]) => (
          <Tabs.Trigger
            key={id}
            value={id}
            className="-mb-px border-b-2 border-transparent py-1 text-muted data-[state=active]:border-ink data-[state=active]:font-semibold data-[state=active]:text-ink"
          >
            {name}
          </Tabs.Trigger>
        ))}
      </Tabs.List>
      {PARTS.map(([id, , Part]) => (
        <Tabs.Content key={id} value={id} className="min-h-0 flex-1 overflow-auto">
          <Part />
        </Tabs.Content>
      ))}
    </Tabs.Root>
  );
}
