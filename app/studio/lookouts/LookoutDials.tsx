/** The view of the Lookout that is worked on, as dials. */
import type { Lookouts } from '@glimbo/core/lookouts/lookouts';
import { DEFAULT_VIEW, type View } from '@glimbo/core/lens/view';
import { maxFov } from '@glimbo/core/lens/projection';
import { Dial } from '~/ui/Dial';
import { VALUE_DIALS } from '../path/value-dials';
import { useStudio, useStudioStore, useView } from '../state/store';

export function LookoutDials({ lookouts }: { lookouts: Lookouts }) {
  const store = useStudioStore();
  const aimed = useStudio((s) => s.aimed());
  const view = useView();
  if (aimed === null) return null;
  const turn = (name: keyof View) => (value: number) => store.getState().dial({ [name]: value }, `dial-${name}`);
  return (
    <div className="mt-1 border-t border-rule pt-1" role="group" aria-label="View of the Lookout">
      <p className="label">
        {aimed + 1} {lookouts.views[aimed]?.name}
      </p>
      {VALUE_DIALS.map(({ channel, name, slide, least, most, digits, unit }) => (
        <Dial
          key={channel}
          name={name}
          value={view[channel]}
          min={slide[0]}
          max={channel === 'fov' ? maxFov(view.bend) : slide[1]}
          least={least}
          most={channel === 'fov' ? maxFov(view.bend) : most}
          step={10 ** -digits}
          digits={digits}
          unit={unit}
          reset={DEFAULT_VIEW[channel]}
          onChange={turn(channel)}
          onEnd={() => store.getState().endGesture()}
        />
      ))}
    </div>
  );
}
