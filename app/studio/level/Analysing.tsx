/** How far the motion analysis of the footage is, and stopping it. */
import { Going } from '~/ui/Going';
import type { LiveJob } from '~/ui/job-events';

interface AnalysingProps {
  id: string;
  job: LiveJob;
  onStop?: () => void;
}

export const Analysing = (props: AnalysingProps) => (
  <Going {...props} words="Analysing the motion" label="Motion analysis" testId="analysing" />
);
