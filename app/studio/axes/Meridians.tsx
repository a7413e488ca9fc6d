/** Lines at the headings that the rulers name, over the Map and the Sweep; ahead is drawn through. */
import { headingAt, MERIDIANS } from '~/ui/chart';

interface MeridiansProps {
  width: number;
  height: number;
  /** How strongly ahead and the others are drawn, 0…1. */
  ahead: number;
  others: number;
}

export const Meridians = ({ width, height, ahead, others }: MeridiansProps) =>
  MERIDIANS.map((heading) => (
    <line
      key={heading}
      x1={headingAt(heading, width)}
      x2={headingAt(heading, width)}
      y1={0}
      y2={height}
      stroke="#fff"
      strokeOpacity={heading === 0 ? ahead : others}
      strokeDasharray={heading === 0 ? '' : '2 4'}
    />
  ));
