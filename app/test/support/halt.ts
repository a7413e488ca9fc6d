/** The footage that parts of the Studio are tested with: ten seconds of it, not gathered yet. */
import type { Footage } from '~/model/footage';
import { facts } from '../world';

const HALT = {
  id: 'f',
  name: 'Halt',
  file: '/halt.mp4',
  facts: facts({ duration: 10, frames: 300 }),
  marks: [],
  ranges: [],
  gathered: null,
  motion: null,
};

export const halt = HALT as never as Footage;
