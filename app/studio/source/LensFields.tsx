/** The numbers of a lens, each to be typed. */
import { useState } from 'react';
import { LENS_FOV, type Lens } from '@glimbo/core/stitch/lens';
import type { OneLens, Source, TwoLenses } from '@glimbo/core/stitch/source';
import { NumberField } from '~/ui/Dial';
import { Select } from '~/ui/Select';

const FIELDS: [key: keyof Lens, name: string, unit: string, digits: number, min: number, max: number][] = [
  ['fov', 'Field of view', '°', 2, LENS_FOV.min, LENS_FOV.max],
  ['centreX', 'Centre x', ' px', 1, -1e5, 1e5],
  ['centreY', 'Centre y', ' px', 1, -1e5, 1e5],
  ['radius', 'Radius', ' px', 1, 8, 1e5],
  ['k1', 'Radial 1', '', 4, -0.2, 0.2],
  ['k2', 'Radial 2', '', 4, -0.1, 0.1],
  ['pan', 'Pan', '°', 2, -720, 720],
  ['tilt', 'Tilt', '°', 2, -720, 720],
  ['roll', 'Roll', '°', 2, -720, 720],
];

export function LensFields({ draft, onChange }: { draft: OneLens | TwoLenses; onChange: (s: Source) => void }) {
  const [which, setWhich] = useState('0');
  const n = draft.kind === 'two-lenses' ? Number(which) : 0;
  const lens = draft.kind === 'two-lenses' ? draft.lenses[n]! : draft.lens;
  const set = (key: keyof Lens, value: number) => {
    const next = { ...lens, [key]: value };
    if (draft.kind === 'one-lens') onChange({ ...draft, lens: next });
    else onChange({ ...draft, lenses: draft.lenses.map((l, i) => (i === n ? next : l)) as TwoLenses['lenses'] });
  };
  return (
    <section aria-label="Lens numbers">
      {draft.kind === 'two-lenses' && (
        <Select
          label="Lens"
          value={which}
          onChange={setWhich}
          options={[
            ['0', 'First lens'],
            ['1', 'Second lens'],
          ]}
        />
      )}
      <div className="mt-1.5 grid grid-cols-[repeat(auto-fill,minmax(165px,1fr))] gap-x-3 gap-y-1">
        {FIELDS.map(([key, name, unit, digits, min, max]) => (
          <label key={key} className="flex items-center gap-2">
            <span className="w-20 shrink-0 truncate text-muted">{name}</span>
            <NumberField
              label={name}
              className="w-20"
              value={lens[key]}
              digits={digits}
              unit={unit}
              min={min}
              max={max}
              onCommit={(v) => set(key, v)}
            />
          </label>
        ))}
      </div>
    </section>
  );
}
