/** The lens presets: field of view in degrees, bend, and a tilt where the preset is about one. */
import { DEFAULT_VIEW, type View } from './view.js';

export interface LensPreset {
  id: string;
  name: string;
  about: string;
  fov: number;
  bend: number;
  tilt?: number;
  /** Looks ahead: from a planet it comes back to where the view was before. */
  ahead?: true;
}

export const LENS_PRESETS: readonly LensPreset[] = [
  { id: 'straight', name: 'Straight', about: 'Straight lines stay straight, like the eye', fov: 60, bend: 0, ahead: true },
  { id: 'wide', name: 'Wide', about: 'A wide view, straight lines straight', fov: 90, bend: 0, ahead: true },
  { id: 'bowed', name: 'Bowed', about: 'Wide, with gently bent edges', fov: 110, bend: 0.4, ahead: true },
  { id: 'fisheye', name: 'Fisheye', about: 'Very wide and round', fov: 170, bend: 1, ahead: true },
  { id: 'tiny-planet', name: 'Tiny planet', about: 'Looking down, the ground a little ball', fov: 270, bend: 1, tilt: -90 },
  { id: 'tunnel', name: 'Tunnel', about: 'The planet inside out, sky in the middle', fov: 270, bend: 1, tilt: 90 },
  { id: 'marble', name: 'Marble', about: 'The world as a ball from outside', fov: 290, bend: 2.4 },
]; // prettier-ignore

/** Whether a view shows the whole world as a planet or a tunnel: from far, looking nearly straight down or up. */
export const isPlanet = ({ tilt, fov, bend }: Pick<View, 'tilt' | 'fov' | 'bend'>) =>
  bend >= 0.9 && fov >= 180 && Math.abs(tilt) > 60;

/**
 * What a preset makes of a view. `before` is the tilt that the view had before it became a planet, in degrees; without one
 * the way back leads to the horizon.
 */
export function applyPreset(
  preset: LensPreset,
  view: View,
  before: number | null,
): Pick<View, 'fov' | 'bend' | 'tilt'> {
  const { fov, bend } = preset;
  if (preset.tilt !== undefined) return { fov, bend, tilt: preset.tilt };
  return { fov, bend, tilt: preset.ahead && isPlanet(view) ? (before ?? DEFAULT_VIEW.tilt) : view.tilt };
}

/** Whether a view is what a preset makes. */
export const isPreset = ({ fov, bend, tilt }: LensPreset, view: View) =>
  Math.abs(view.fov - fov) < 0.05 && Math.abs(view.bend - bend) < 0.005 && (tilt === undefined || view.tilt === tilt);

/** What a preset will do, in words: its lens, and where it will look if that changes. */
export function presetInWords(preset: LensPreset, view: View, before: number | null): string {
  const { tilt } = applyPreset(preset, view, before);
  const degrees = (v: number) => `${Math.round(v)}°`.replace('-', '−');
  const looks =
    tilt === -90
      ? 'looks straight down'
      : tilt === 90
        ? 'looks straight up'
        : tilt === 0
          ? 'looks back to the horizon'
          : `looks back to a tilt of ${degrees(tilt)}`;
  const lens = `field of view ${degrees(preset.fov)}, bend ${preset.bend}`;
  return `${preset.about}: ${lens}${tilt === view.tilt ? '' : `; ${looks}`}.`;
}
