/** The dials of the path's channels: what they are called, their ranges and units. */
import { BEND_RANGE, FOV_MIN } from '@glimbo/core/lens/projection';

export interface ValueDial {
  channel: 'pan' | 'tilt' | 'roll' | 'fov' | 'bend';
  name: string;
  short: string;
  /** The range of its slider; what is typed lies between `least` and `most`. */
  slide: readonly [number, number];
  least: number;
  most: number;
  digits: number;
  unit: string;
}

export const VALUE_DIALS: readonly ValueDial[] = [
  { channel: 'pan', name: 'Pan', short: 'pan', slide: [-180, 180], least: -36000, most: 36000, digits: 1, unit: '°' },
  { channel: 'tilt', name: 'Tilt', short: 'tilt', slide: [-90, 90], least: -360, most: 360, digits: 1, unit: '°' },
  { channel: 'roll', name: 'Roll', short: 'roll', slide: [-180, 180], least: -3600, most: 3600, digits: 1, unit: '°' },
  {
    channel: 'fov',
    name: 'Field of view',
    short: 'fov',
    slide: [FOV_MIN, 350],
    least: FOV_MIN,
    most: 350,
    digits: 1,
    unit: '°',
  },
  {
    channel: 'bend',
    name: 'Bend',
    short: 'bend',
    slide: [BEND_RANGE.min, BEND_RANGE.max],
    least: BEND_RANGE.min,
    most: BEND_RANGE.max,
    digits: 2,
    unit: '',
  },
];

export const dialOf = (channel: string): ValueDial => VALUE_DIALS.find((d) => d.channel === channel) ?? VALUE_DIALS[0]!;
