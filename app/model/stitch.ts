/** What the Stitch part is told of a footage. */
import type { Lens } from '@glimbo/core/stitch/lens';
import type { Source } from '@glimbo/core/stitch/source';

export interface CameraCalibration {
  lenses: [Lens, Lens];
  footageName: string;
}

export interface StitchData {
  source: Source;
  /** What it was before the last change, to go back to. */
  before: Source | null;
  /** Lenses that were calibrated on other footage of the same camera. */
  offer: CameraCalibration | null;
}
