/** Sets of Lookouts that are kept: taken up again in any take. */
import { Plus } from 'lucide-react';
import { layLookouts } from '@glimbo/core/edit/lookouts';
import { withoutSubjects } from '@glimbo/core/lookouts/lookouts';
import { KeptRow } from '../fields/KeptRow';
import { keepItem, useKept } from '../state/kept';
import { useStudioStore, useTake } from '../state/store';

export function LookoutSets() {
  const store = useStudioStore();
  const { lookouts } = useTake();
  const sets = useKept('glimbo-lookouts');
  const keep = () => {
    const { views, line } = lookouts!;
    const name = `Set ${sets.length + 1}: ${views.map((v) => v.name).join(', ')}`.slice(0, 80);
    const document = { format: 'glimbo-lookouts', version: 1, name, views: withoutSubjects(views) } as const;
    void keepItem(line ? { ...document, line } : document);
  };
  if (sets.length === 0 && !lookouts) return null;
  return (
    <div className="mt-2" role="group" aria-label="Kept sets of Lookouts">
      <div className="flex items-center gap-2">
        {sets.length > 0 && <h3 className="label mr-auto">Kept sets</h3>}
        {lookouts && (
          <button className="button h-6!" onClick={keep} title="Keep these Lookouts as a set for other takes">
            <Plus size={13} /> Keep this set
          </button>
        )}
      </div>
      <ul>
        {sets.map((item) => (
          <KeptRow key={item.id} item={item}>
            <button
              className="button h-6! px-1.5!"
              title="Its Lookouts take the place of this take’s"
              onClick={() => store.getState().edit((t) => layLookouts(t, item.document, false))}
            >
              Lay here
            </button>
          </KeptRow>
        ))}
      </ul>
    </div>
  );
}
