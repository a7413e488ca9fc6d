/** Colour: white balance, how colourful it is, and the LUT. */
import { COLOUR_DIALS } from './grade-dials';
import { CopyLook } from './CopyLook';
import { GradeDials } from './GradeDials';
import { GreyPicker } from './GreyPicker';
import { LutFields } from './LutFields';

export const ColourPart = () => (
  <div className="grid h-full grid-cols-2 divide-x divide-rule">
    <div className="flex flex-col gap-1 overflow-auto px-3 py-1.5">
      <GradeDials label="Colour" dials={COLOUR_DIALS} />
      <GreyPicker />
    </div>
    <div className="flex flex-col gap-2 overflow-auto px-3 py-1.5">
      <LutFields />
      <div>
        <CopyLook />
      </div>
    </div>
  </div>
);
