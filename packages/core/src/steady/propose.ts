/** Pins that suit a footage. */
import { apply, DEGREES, dot, matrixOf, turnBetween } from '../geometry/rotation.js';
import type { Rig } from '../motion/rig.js';
import type { Pin } from './settings.js';

/** Seconds between proposed pins, about. */
const APART = 3;

/** Pins where the horizon is straightest and the motion is least: one in every stretch of some seconds, and on both sides of cuts. */
export function proposePins(rig: Rig, range: { in: number; out: number }): Pin[] {
  const { rate } = rig;
  const up = rig.vertical;
  const restless = (n: number) => {
    const lean = Math.acos(Math.min(1, dot(apply(matrixOf(rig.frame(n)), [0, 1, 0]), up))) * DEGREES;
    const reach = Math.max(1, Math.round(rate / 10));
    const turning = turnBetween(rig.frame(n - reach), rig.frame(n + reach)) / ((2 * reach + 1) / rate);
    return lean + turning / 4;
  };
  const [first, last] = [rig.frameOf(range.in), rig.frameOf(range.out - 0.5 / rate)];
  const pins: Pin[] = [];
  for (let from = first; from <= last;) {
    const end = Math.min(last, rig.partOf(from)[1]);
    const parts = Math.max(1, Math.round((end - from) / rate / APART));
    for (let p = 0; p < parts; p++) {
      const [a, b] = [
        from + Math.round(((end - from) * p) / parts),
        from + Math.round(((end - from) * (p + 1)) / parts),
      ];
      let best = a;
      let least = Infinity;
      for (let n = a; n <= b; n++) {
        const here = restless(n);
        if (here < least) [best, least] = [n, here];
      }
      if (!pins.some((pin) => Math.abs(pin.time - best / rate) < 0.5)) pins.push({ time: best / rate, kind: 'filmed' });
    }
    from = end + 1;
  }
  return pins.sort((a, b) => a.time - b.time);
}

/** A pin set at a time, in the place of one that is there. */
export const setPin = (pins: readonly Pin[], pin: Pin): Pin[] =>
  [...pins.filter((p) => Math.abs(p.time - pin.time) > 1e-6), pin].sort((a, b) => a.time - b.time);

export const removePin = (pins: readonly Pin[], time: number): Pin[] =>
  pins.filter((p) => Math.abs(p.time - time) > 1e-6);
