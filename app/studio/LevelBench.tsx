/** The Level station: how the rig was mounted, how it moved, steadying, the horizon, and before against after. */
import type { Job } from '~/db/jobs';
import type { JobEvent } from '~/jobs/events';
import { Parts } from '~/ui/Parts';
import { ComparePart } from './level/ComparePart';
import { HorizonPart } from './level/HorizonPart';
import { MotionPart } from './level/MotionPart';
import { OrientPart } from './level/OrientPart';
import { SteadyPart } from './level/SteadyPart';

interface LevelBenchProps {
  analysing: Job | null;
  sidecar: boolean;
  events: Map<string, JobEvent>;
}

export const LevelBench = (props: LevelBenchProps) => (
  <Parts
    label="Parts of the Level station"
    keptAs="glimbo-level-part"
    parts={[
      { id: 'orient', name: 'Orient', content: <OrientPart /> },
      { id: 'motion', name: 'Motion', content: <MotionPart {...props} /> },
      { id: 'steady', name: 'Steady', content: <SteadyPart {...props} /> },
      { id: 'horizon', name: 'Horizon', content: <HorizonPart /> },
      { id: 'compare', name: 'Before and after', content: <ComparePart /> },
    ]}
  />
);
