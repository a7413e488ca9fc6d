/** The twin: of which footage, at what time, how it is turned, and whether its light is matched. */
import { useEffect } from 'react';
import { USUAL_TWIN, type Twin } from '@glimbo/core/look/sector';
import { Choice } from '~/ui/Choice';
import { Dial } from '~/ui/Dial';
import { useStudio, useStudioStore } from '../state/store';
import { othersHere } from './useLight';

const THIS = '';

interface Props {
  twin: Twin;
  onChange: (twin: Twin, gesture?: string) => void;
}

export function TwinFields({ twin, onChange }: Props) {
  const store = useStudioStore();
  const footage = useStudio((s) => s.footage);
  const others = useStudio((s) => s.others);
  const time = useStudio((s) => s.time);
  useEffect(() => void (store.getState().others ?? othersHere(store)), [store]);
  const change = (part: Partial<Twin>, gesture?: string) => onChange({ ...twin, ...part }, gesture);
  const found = others?.find((o) => o.file === twin.footage);
  const of = twin.footage === undefined ? footage.facts : found;
  const seconds = of ? of.frames / of.rate : footage.facts.duration;
  const still = twin.runs === 'still';
  return (
    <>
      <label className="flex items-center gap-2">
        <span className="w-22 shrink-0">Of</span>
        <select
          className="field h-6! min-w-0 flex-1"
          value={twin.footage ?? THIS}
          onChange={({ target: { value } }) => {
            const { footage: _, ...rest } = twin;
            onChange(value === THIS ? rest : { ...rest, footage: value });
          }}
        >
          <option value={THIS}>This footage</option>
          {others
            ?.filter((o) => o.id !== footage.id)
            .map((o) => (
              <option key={o.id} value={o.file}>
                {o.name}
              </option>
            ))}
          {twin.footage !== undefined && !found && <option value={twin.footage}>{twin.footage}</option>}
        </select>
      </label>
      {twin.footage !== undefined && others && !found && (
        <p className="text-error" role="alert">
          “{twin.footage}” is not in the Library, or not gathered yet: outside is the colour. Choose another one, or
          bring it in.
        </p>
      )}
      <Choice<Twin['runs']>
        label="It"
        value={twin.runs}
        options={[
          ['along', 'Runs along', 'So many seconds later, or with a minus earlier, than the take'],
          ['still', 'Stands still', 'At one moment of its footage'],
        ]}
        onChange={(runs) => change({ runs, time: runs === 'still' ? Math.round(time * 100) / 100 : 0 })}
      />
      <Dial
        name={still ? 'Moment' : 'Later by'}
        value={twin.time}
        min={still ? 0 : -Math.ceil(seconds)}
        max={Math.ceil(seconds)}
        step={0.01}
        digits={2}
        unit=" s"
        reset={0}
        onChange={(v) => change({ time: v }, 'twin-time')}
        onEnd={() => store.getState().endGesture()}
      />
      {(['pan', 'tilt', 'roll'] as const).map((id) => (
        <Dial
          key={id}
          name={`Turned, ${id}`}
          value={twin[id]}
          min={id === 'tilt' ? -90 : -180}
          max={id === 'tilt' ? 90 : 180}
          step={0.1}
          digits={1}
          unit="°"
          reset={USUAL_TWIN[id]}
          onChange={(v) => change({ [id]: v }, `twin-${id}`)}
          onEnd={() => store.getState().endGesture()}
        />
      ))}
      <label className="flex items-center gap-1.5">
        <input type="checkbox" checked={twin.match} onChange={(e) => change({ match: e.target.checked })} />
        Match its light along the edges
      </label>
    </>
  );
}
