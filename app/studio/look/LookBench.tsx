/** The Look station: how the picture is treated. */
import { Parts } from '~/ui/Parts';
import { ColourPart } from './ColourPart';
import { LightPart } from './LightPart';

export const LookBench = () => (
  <Parts
    label="Parts of the Look station"
    keptAs="glimbo-look-part"
    parts={[
      { id: 'light', name: 'Light', content: <LightPart /> },
      { id: 'colour', name: 'Colour', content: <ColourPart /> },
    ]}
  />
);
