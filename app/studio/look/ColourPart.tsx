/** Colour: white balance and how colourful it is. */
import { COLOUR_DIALS } from './grade-dials';
import { GradeDials } from './GradeDials';

export const ColourPart = () => (
  <div className="h-full overflow-auto px-3 py-1.5">
    <GradeDials label="Colour" dials={COLOUR_DIALS} />
  </div>
);
