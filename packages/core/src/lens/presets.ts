/** The lens presets: field of view in degrees, bend, and a tilt where the preset is about one. */
export interface LensPreset {
  id: string;
  name: string;
  about: string;
  fov: number;
  bend: number;
  tilt?: number;
}

export const LENS_PRESETS: readonly LensPreset[] = [
  { id: 'straight', name: 'Straight', about: 'Straight lines stay straight, like the eye', fov: 60, bend: 0 },
  { id: 'wide', name: 'Wide', about: 'A wide view, straight lines straight', fov: 90, bend: 0 },
  { id: 'bowed', name: 'Bowed', about: 'Wide, with gently bent edges', fov: 110, bend: 0.4 },
  { id: 'fisheye', name: 'Fisheye', about: 'Very wide and round', fov: 170, bend: 1 },
  { id: 'tiny-planet', name: 'Tiny planet', about: 'Looking down, the ground a little ball', fov: 270, bend: 1, tilt: -90 },
  { id: 'tunnel', name: 'Tunnel', about: 'The planet inside out, sky in the middle', fov: 270, bend: 1, tilt: 90 },
  { id: 'marble', name: 'Marble', about: 'The world as a ball from outside', fov: 290, bend: 2.4 },
]; // prettier-ignore
