/** The Look station: how the picture is treated. */
import { Parts } from '~/ui/Parts';
import { CameraPart } from './CameraPart';
import { ColourPart } from './ColourPart';
import { DetailPart } from './DetailPart';
import { LightPart } from './LightPart';
import { OverlaysPart } from './OverlaysPart';
import { SpherePart } from './SpherePart';
import { MoodStrip } from './MoodStrip';

export const LookBench = () => (
  <div className="flex h-full flex-col">
    <MoodStrip />
    <div className="min-h-0 flex-1">
      <Parts
        label="Parts of the Look station"
        keptAs="glimbo-look-part"
        parts={[
          { id: 'light', name: 'Light', content: <LightPart /> },
          { id: 'colour', name: 'Colour', content: <ColourPart /> },
          { id: 'detail', name: 'Detail', content: <DetailPart /> },
          { id: 'camera', name: 'Camera', content: <CameraPart /> },
          { id: 'sphere', name: 'Sphere', content: <SpherePart /> },
          { id: 'overlays', name: 'Overlays', content: <OverlaysPart /> },
        ]}
      />
    </div>
  </div>
);
