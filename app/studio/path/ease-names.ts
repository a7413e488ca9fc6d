/** What eases are called. */
import type { Ease } from '@glimbo/core/curve/ease';

export const EASE_NAMES = {
  smooth: 'Smooth',
  linear: 'Straight',
  hold: 'Hold',
  'ease-in': 'Ease in',
  'ease-out': 'Ease out',
  'ease-in-out': 'Ease in and out',
  whip: 'Whip',
  jolt: 'Jolt',
} as const;

export const easeName = (ease: Ease): string => (typeof ease === 'string' ? EASE_NAMES[ease] : 'Own curve');
