/** The moods that ship: named grades that are laid over a picture by an amount. */
import type { Grade } from './settings.js';

export interface Mood {
  name: string;
  grade: Partial<Grade>;
}

export const MOODS: readonly Mood[] = [
  {
    name: 'First train',
    grade: { exposure: 0.15, contrast: -12, shadows: 18, temperature: -22, saturation: -12, black: 4 },
  },
  {
    name: 'Open day',
    grade: { exposure: 0.2, contrast: 14, highlights: -18, shadows: 10, vibrance: 32, temperature: 4 },
  },
  { name: 'Brass', grade: { contrast: 16, highlights: -12, temperature: 34, tint: 6, saturation: 8, black: -2 } },
  {
    name: 'Deep garden',
    grade: { exposure: -0.1, contrast: 20, shadows: -10, tint: -14, saturation: 14, vibrance: 18 },
  },
  {
    name: 'Wet rails',
    grade: { exposure: -0.15, contrast: 26, highlights: 10, temperature: -18, saturation: -22, black: -3 },
  },
  { name: 'Coal smoke', grade: { contrast: 10, shadows: 12, saturation: -46, temperature: 6, black: 5, white: -3 } },
  { name: 'Slate', grade: { contrast: 24, shadows: 8, highlights: -8, saturation: -100 } },
  {
    name: 'Tea room',
    grade: { exposure: 0.1, contrast: -16, highlights: -10, temperature: 20, saturation: -16, black: 6, white: -2 },
  },
  {
    name: 'Last light',
    grade: { exposure: -0.25, contrast: 12, highlights: -20, temperature: 48, tint: 10, vibrance: 16 },
  },
  {
    name: 'Lantern walk',
    grade: { exposure: -0.55, contrast: 18, highlights: -14, shadows: 14, temperature: -34, tint: 8, saturation: -18 },
  },
];
