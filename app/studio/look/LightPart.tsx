/** Light: exposure, contrast and what lies above and below mid-grey. */
import { LIGHT_DIALS } from './grade-dials';
import { GradeDials } from './GradeDials';

export const LightPart = () => (
  <div className="h-full overflow-auto px-3 py-1.5">
    <GradeDials label="Light" dials={LIGHT_DIALS} />
  </div>
);
