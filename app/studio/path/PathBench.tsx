/** The Path station: aiming, shaping, pace, and ready moves. */
import { Parts } from '~/ui/Parts';
import { FollowPart } from '../follow/FollowPart';
import { SketchPart } from '../sketch/SketchPart';
import { LookoutsPart } from '../lookouts/LookoutsPart';
import { AimPart } from './AimPart';
import { MovesPart } from './MovesPart';
import { PacePart } from './PacePart';
import { PerformPart } from './PerformPart';
import { ShapePart } from './ShapePart';

export const PathBench = () => (
  <Parts
    label="Parts of the Path station"
    keptAs="glimbo-path-part"
    parts={[
      { id: 'aim', name: 'Aim', content: <AimPart /> },
      { id: 'shape', name: 'Shape', content: <ShapePart /> },
      { id: 'pace', name: 'Pace', content: <PacePart /> },
      { id: 'moves', name: 'Moves', content: <MovesPart /> },
      { id: 'follow', name: 'Follow', content: <FollowPart /> },
      { id: 'lookouts', name: 'Lookouts', content: <LookoutsPart /> },
      { id: 'sketch', name: 'Sketch', content: <SketchPart /> },
      { id: 'perform', name: 'Perform', content: <PerformPart /> },
    ]}
  />
);
