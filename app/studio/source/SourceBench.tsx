/** The Source station: range and frame rate, what the picture shows and its stitch, marks and ranges, facts. */
import { Parts } from '~/ui/Parts';
import { FactsPart } from './FactsPart';
import { MarksPart } from './MarksPart';
import { RangePart } from './RangePart';
import { StitchPart } from './StitchPart';

export const SourceBench = () => (
  <Parts
    label="Parts of the Source station"
    keptAs="glimbo-source-part"
    parts={[
      { id: 'range', name: 'Range and rate', content: <RangePart /> },
      { id: 'stitch', name: 'Stitch', content: <StitchPart /> },
      { id: 'marks', name: 'Marks and ranges', content: <MarksPart /> },
      { id: 'facts', name: 'Facts', content: <FactsPart /> },
    ]}
  />
);
