/** One dial of a view: of the path, or of a Lookout. */
import type { ReactNode } from 'react';
import { maxFov } from '@glimbo/core/lens/projection';
import { DEFAULT_VIEW, type View } from '@glimbo/core/lens/view';
import { Dial } from '~/ui/Dial';
import { useStudioStore } from '../state/store';
import type { ValueDial } from './value-dials';

export function ViewDial({ dial, view, more }: { dial: ValueDial; view: View; more?: ReactNode }) {
  const store = useStudioStore();
  const { channel, name, slide, least, most, digits, unit } = dial;
  const widest = channel === 'fov' ? maxFov(view.bend) : null;
  return (
    <Dial
      name={name}
      value={view[channel]}
      min={slide[0]}
      max={widest ?? slide[1]}
      least={least}
      most={widest ?? most}
      step={10 ** -digits}
      digits={digits}
      unit={unit}
      reset={DEFAULT_VIEW[channel]}
      more={more}
      onChange={(value) => store.getState().dial({ [channel]: value }, `dial-${channel}`)}
      onEnd={() => store.getState().endGesture()}
    />
  );
}
