/** The Source station: range and frame rate, what the picture shows and its stitch, marks and ranges, facts. */
import { Parts } from '~/ui/Parts';
import { FactsPart } from './source/FactsPart';
import { MomentsPart } from './source/MomentsPart';
import { RangePart } from './source/RangePart';
import { StitchPart } from './source/StitchPart';

export const SourceBench = () => (
  <Parts
    label="Parts of the Source station"
    keptAs="glimbo-source-part"
    parts={[
      { id: 'range', name: 'Range and rate', content: <RangePart /> },
      { id: 'stitch', name: 'Stitch', content: <StitchPart /> },
      { id: 'moments', name: 'Marks and ranges', content: <MomentsPart /> },
      { id: 'facts', name: 'Facts', content: <FactsPart /> },
    ]}
  />
);
