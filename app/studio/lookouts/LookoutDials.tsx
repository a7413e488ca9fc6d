/** The view of the Lookout that is worked on, as dials. */
import type { Lookouts } from '@glimbo/core/lookouts/lookouts';
import { VALUE_DIALS } from '../fields/value-dials';
import { ViewDial } from '../fields/ViewDial';
import { useStudio, useView } from '../state/store';

export function LookoutDials({ lookouts }: { lookouts: Lookouts }) {
  const aimed = useStudio((s) => s.aimed());
  const view = useView();
  if (aimed === null) return null;
  return (
    <div className="mt-1 border-t border-rule pt-1" role="group" aria-label="View of the Lookout">
      <p className="label">
        {aimed + 1} {lookouts.views[aimed]?.name}
      </p>
      {VALUE_DIALS.map((dial) => (
        <ViewDial key={dial.channel} dial={dial} view={view} />
      ))}
    </div>
  );
}
