/** The part of the sphere that is kept: its edges, and what is seen outside them. */
import { SECTOR_LIMITS, USUAL_SECTOR, USUAL_TWIN, type Sector } from '@glimbo/core/look/sector';
import { withLook } from '@glimbo/core/edit/look';
import { Choice } from '~/ui/Choice';
import { Dial } from '~/ui/Dial';
import { useStudioStore, useTake } from '../state/store';
import { TwinFields } from './TwinFields';

type SectorDial = keyof typeof SECTOR_LIMITS;
const DIALS: readonly { id: SectorDial; name: string }[] = [
  { id: 'from', name: 'From' },
  { id: 'to', name: 'To' },
  { id: 'bottom', name: 'Bottom' },
  { id: 'top', name: 'Top' },
  { id: 'feather', name: 'Feather' },
];

/** Gives what changes some of the take's sector. */
function useSectorChange(sector: Sector) {
  const store = useStudioStore();
  return (change: Partial<Sector>, gesture?: string) =>
    store.getState().edit((t) => withLook(t, { sector: { ...(t.look?.sector ?? sector), ...change } }), gesture);
}

export function SectorFields() {
  const store = useStudioStore();
  const sector = useTake().look?.sector;
  return (
    <section className="overflow-auto px-3 py-1.5" aria-label="Sector">
      <label className="flex items-center gap-1.5">
        <input
          type="checkbox"
          checked={!!sector}
          onChange={(e) =>
            store.getState().edit((t) => withLook(t, { sector: e.target.checked ? USUAL_SECTOR : undefined }))
          }
        />
        Sector
      </label>
      {sector ? (
        <>
          <SectorDials sector={sector} />
          <Outside sector={sector} />
        </>
      ) : (
        <p className="mt-1 text-muted">
          Keeps a part of the sphere, between two headings and two tilts. Outside it is a colour, or the twin: the same
          place at another time.
        </p>
      )}
    </section>
  );
}

function SectorDials({ sector }: { sector: Sector }) {
  const store = useStudioStore();
  const change = useSectorChange(sector);
  return (
    <>
      {DIALS.map(({ id, name }) => (
        <Dial
          key={id}
          name={name}
          value={sector[id]}
          min={Math.max(-180, id === 'bottom' || id === 'top' ? limitsOf(sector, id).least : SECTOR_LIMITS[id].least)}
          max={Math.min(180, id === 'bottom' || id === 'top' ? limitsOf(sector, id).most : SECTOR_LIMITS[id].most)}
          step={0.5}
          unit="°"
          reset={USUAL_SECTOR[id]}
          onChange={(v) => change({ [id]: v }, `sector-${id}`)}
          onEnd={() => store.getState().endGesture()}
        />
      ))}
      <p className="text-muted">Its edges can be dragged on the Map.</p>
    </>
  );
}

/** Bottom and top never pass each other. */
const limitsOf = ({ bottom, top }: Sector, id: 'bottom' | 'top') =>
  id === 'bottom' ? { least: -90, most: top - 2 } : { least: bottom + 2, most: 90 };

/** What is seen outside. */
function Outside({ sector }: { sector: Sector }) {
  const change = useSectorChange(sector);
  return (
    <div className="mt-1.5 flex flex-col gap-1.5">
      <Choice<'colour' | 'twin'>
        label="Outside"
        value={sector.twin ? 'twin' : 'colour'}
        options={[
          ['colour', 'Colour'],
          ['twin', 'Twin', 'The same place at another time of this or another footage'],
        ]}
        onChange={(kind) => change({ twin: kind === 'twin' ? USUAL_TWIN : undefined })}
      />
      {sector.twin ? (
        <TwinFields twin={sector.twin} onChange={(twin, gesture) => change({ twin }, gesture)} />
      ) : (
        <label className="flex items-center gap-2">
          <span className="w-22">Colour</span>
          <input
            type="color"
            className="h-6 w-8"
            aria-label="Colour outside the sector"
            value={sector.colour}
            onChange={(e) => change({ colour: e.target.value }, 'sector-colour')}
          />
        </label>
      )}
    </div>
  );
}
