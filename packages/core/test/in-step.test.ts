/** A stretcher that is off is brought in step: a made-up one with known faults, and what is measured of it. */
import { describe, expect, test } from '@jest/globals';
import {
  clicksFor,
  correctedTimes,
  latenessOf,
  onsets,
  temposThrough,
  timeAt,
  wantedTimes,
  type Tempo,
} from '../src/pace/in-step.js';

const SECONDS = 8;
const profile = (speed: (at: number) => number): Tempo[] =>
  Array.from({ length: SECONDS * 40 }, (_, i) => ({ at: i / 40, tempo: speed(i / 40) }));

/** One that begins late, takes each tempo so many seconds of the input too early, and hears only whole milliseconds. */
function heardBy(tempos: readonly Tempo[], ahead: number, late: number, clicks: readonly number[]): number[] {
  const times = wantedTimes(
    tempos.map((t) => ({ ...t, at: t.at - ahead })),
    SECONDS,
  );
  return clicks.map((at) => Math.round(1000 * (timeAt(times, at) + late)) / 1000);
}

describe('a stretcher', () => {
  test('times and tempos are each other’s inverse', () => {
    const times = wantedTimes(
      profile((at) => 0.4 + at / 6),
      SECONDS,
    );
    const again = wantedTimes(temposThrough(times), SECONDS);
    times.forEach((time, i) => expect(again[i]).toBeCloseTo(time, 9));
    expect(wantedTimes([{ at: 0, tempo: 0.5 }], 2).at(-1)).toBeCloseTo(4, 9);
    expect(timeAt(wantedTimes([{ at: 0, tempo: 2 }], 2), 1.01)).toBeCloseTo(0.505, 9);
  });

  test.each<[string, (at: number) => number]>([
    ['a ramp up', (at) => 0.25 * 8 ** (at / SECONDS)],
    ['a sudden ramp down', (at) => Math.max(0.4, Math.min(1.8, 1.8 - (at - 3) * 1.4))],
    ['a wave', (at) => 2 ** Math.sin(2 * at)],
    ['half speed', () => 0.5],
  ])('that is off by up to eight hundredths of a second in %s is within 10 ms after a few rounds', (_, speed) => {
    const tempos = profile(speed);
    const wanted = wantedTimes(tempos, SECONDS);
    const clicks = clicksFor(wanted, 0.2, 0.03);
    const checked = clicks.map((at) => at + 0.013);
    let asked = wanted;
    const off = () =>
      Math.max(
        ...heardBy(temposThrough(asked), 0.02, 0.01, checked).map((h, i) => Math.abs(h - timeAt(wanted, checked[i]!))),
      );
    const before = off();
    for (let round = 0; round < 5; round++) {
      const heard = heardBy(temposThrough(asked), 0.02, 0.01, clicks);
      asked = correctedTimes(asked, latenessOf(clicks, wanted, heard));
    }
    expect(off()).toBeLessThan(0.01);
    expect(off()).toBeLessThan(before);
  });

  test('clicks are heard evenly, and told from each other', () => {
    const wanted = wantedTimes([{ at: 0, tempo: 0.25 }], 4);
    const clicks = clicksFor(wanted, 0.2, 0.03);
    const gaps = clicks.slice(1).map((at, i) => timeAt(wanted, at) - timeAt(wanted, clicks[i]!));
    expect(Math.min(...gaps)).toBeGreaterThanOrEqual(0.2 - 1e-9);
    // One that is not heard is left out, and its neighbour is not taken for it.
    const heard = clicks.filter((_, i) => i !== 3).map((at) => timeAt(wanted, at) + 0.02);
    const off = latenessOf(clicks, wanted, heard);
    expect(off.map((o) => o.at)).toEqual(clicks.filter((_, i) => i !== 3));
    off.forEach((o) => expect(o.late).toBeCloseTo(0.02, 9));
  });

  test('sounds begin where it was silent before', () => {
    const signal = new Float32Array(1000);
    for (const at of [100, 110, 500]) signal[at] = -0.5;
    expect(onsets(signal, 1000, 0.1, 0.02)).toEqual([0.1, 0.5]);
    expect(correctedTimes([0, 1, 2], [])).toEqual([0, 1, 2]);
  });
});
