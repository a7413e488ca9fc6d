/** Reads whole motion analyses beside the interface: what takes seconds for an hour of footage must not hold it up. */
import { Rig } from '@glimbo/core/motion/rig';
import type { Motion } from '@glimbo/core/motion/motion';
import { proposePins } from '@glimbo/core/steady/propose';
import { correctionOf, mountOf, type Corrected } from '@glimbo/core/correction/correction';
import { automaticLevel } from '@glimbo/core/edit/levelling';
import type { Take } from '@glimbo/core/take/take';
import { readTurning } from '@glimbo/core/correction/turning';

/** What can be asked of a motion analysis. */
const QUESTIONS = {
  turning: (motion: Motion, take: Asked) => readTurning(motion, take),
  level: (motion: Motion, take: Asked) => {
    const byHand = take.level?.keys.filter((k) => !k.auto);
    return automaticLevel(motion, correctionOf(take, motion), take.range, byHand);
  },
  pins: (motion: Motion, take: Asked) => proposePins(new Rig(motion, mountOf(take)), take.range),
};
export type Questions = typeof QUESTIONS;
/** What of a take is asked about. */
export type Asked = Corrected & Pick<Take, 'range'>;

export interface Request {
  id: number;
  question: keyof Questions;
  take: Asked;
  /** Sent along when it is another than the last time. */
  motion?: Motion;
}

let motion: Motion;

self.onmessage = ({ data }: MessageEvent<Request>) => {
  motion = data.motion ?? motion;
  self.postMessage({ id: data.id, answer: QUESTIONS[data.question](motion, data.take) });
};
