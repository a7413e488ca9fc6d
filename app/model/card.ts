/** A camera card and what is on it. */
import type { CardRecording } from '@glimbo/media/card';

export interface CardState {
  /** The simulated card, if this is the demo. */
  demo: 'inserted' | 'ejected' | null;
  folder: string | null;
  recordings: CardRecording[];
  problem: string | null;
}

export interface CardLook {
  duration: number | null;
  width: number;
  height: number;
  lenses: number;
  /** A name in the Library under which the same content is there already. */
  known: string | null;
  problem: string | null;
  /** Name of the picture in the folder of looks. */
  picture: string | null;
}
