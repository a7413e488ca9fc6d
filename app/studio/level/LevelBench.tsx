/** The Level station: how the rig was mounted, how it moved, steadying, the horizon, and before against after. */
import { Parts } from '~/ui/Parts';
import { ComparePart } from './ComparePart';
import { HorizonPart } from './HorizonPart';
import { MotionPart } from './MotionPart';
import { OrientPart } from './OrientPart';
import { SteadyPart } from './SteadyPart';

export const LevelBench = () => (
  <Parts
    label="Parts of the Level station"
    keptAs="glimbo-level-part"
    parts={[
      { id: 'orient', name: 'Orient', content: <OrientPart /> },
      { id: 'motion', name: 'Motion', content: <MotionPart /> },
      { id: 'steady', name: 'Steady', content: <SteadyPart /> },
      { id: 'horizon', name: 'Horizon', content: <HorizonPart /> },
      { id: 'compare', name: 'Before and after', content: <ComparePart /> },
    ]}
  />
);
