/** What a look is made of, dial by dial, with the range of each. */

/** Light, in the order in which it is computed. */
export interface Light {
  /** Stops (EV). */
  exposure: number;
  /** How steep tones are about mid-grey: −100 (flat) to 100 (twice as steep). */
  contrast: number;
  /** How much what is lighter, and what is darker than mid-grey is lifted: −100 to 100, two stops at the far end. */
  highlights: number;
  shadows: number;
  /** Where white and black lie, in hundredths of full scale of the finished picture: −30 to 30. */
  white: number;
  black: number;
}

export interface Colour {
  /** Mired along the daylight locus: −100 (cooler) to 100 (warmer). */
  temperature: number;
  /** Across it: −100 (greener) to 100 (more magenta). */
  tint: number;
  /** −100 (grey) to 100 (twice the chroma). */
  saturation: number;
  /** The same, and the less the more chroma there is already. */
  vibrance: number;
}

export type Grade = Light & Colour;

export interface Dial {
  least: number;
  most: number;
  unit: string;
}

export const DIALS: Record<keyof Grade, Dial> = {
  exposure: { least: -4, most: 4, unit: 'EV' },
  contrast: { least: -100, most: 100, unit: '' },
  highlights: { least: -100, most: 100, unit: '' },
  shadows: { least: -100, most: 100, unit: '' },
  white: { least: -30, most: 30, unit: '%' },
  black: { least: -30, most: 30, unit: '%' },
  temperature: { least: -100, most: 100, unit: 'mired' },
  tint: { least: -100, most: 100, unit: '' },
  saturation: { least: -100, most: 100, unit: '' },
  vibrance: { least: -100, most: 100, unit: '' },
};

/** Every dial where nothing is done. */
export const NEUTRAL = Object.fromEntries(Object.keys(DIALS).map((name) => [name, 0])) as Record<keyof Grade, number>;
