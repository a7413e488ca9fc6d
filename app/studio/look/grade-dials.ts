/** The dials of a grade: what they are called, their units and digits. Their ranges are the core's. */
import type { GradeName } from '@glimbo/core/look/channels';
import { DIALS } from '@glimbo/core/look/settings';

export interface GradeDial {
  channel: GradeName;
  name: string;
  about: string;
  least: number;
  most: number;
  digits: number;
  unit: string;
}

const UNITS: Partial<Record<GradeName, string>> = { exposure: ' EV', white: ' %', black: ' %', temperature: ' mired' };

const dial = (channel: GradeName, name: string, about: string, digits = 0): GradeDial => ({
  channel,
  name,
  about,
  least: DIALS[channel].least,
  most: DIALS[channel].most,
  digits,
  unit: UNITS[channel] ?? '',
});

export const LIGHT_DIALS: readonly GradeDial[] = [
  dial('exposure', 'Exposure', 'How bright all of it is, in stops', 2),
  dial('contrast', 'Contrast', 'How far light and dark lie apart, about mid-grey'),
  dial('highlights', 'Highlights', 'What is lighter than mid-grey'),
  dial('shadows', 'Shadows', 'What is darker than mid-grey'),
  dial('white', 'White point', 'Where white lies: up makes more of it white'),
  dial('black', 'Black point', 'Where black lies: up makes it a grey'),
];

export const COLOUR_DIALS: readonly GradeDial[] = [
  dial('temperature', 'Temperature', 'Warmer to the right, cooler to the left, along daylight'),
  dial('tint', 'Tint', 'Magenta to the right, green to the left'),
  dial('saturation', 'Saturation', 'How colourful all of it is'),
  dial('vibrance', 'Vibrance', 'How colourful what is pale is'),
];

export const GRADE_DIALS = [...LIGHT_DIALS, ...COLOUR_DIALS];
