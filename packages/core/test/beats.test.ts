/** Beats in sounds whose beats are known. */
import { describe, expect, test } from '@jest/globals';
import { seededRandom } from '../src/random.js';
import { beatsOf, tempoOf } from '../src/sound/beats.js';
import { HEARD_RATE, OnsetMeter } from '../src/sound/onsets.js';

/** A sound of some seconds, with short tones at times, over noise. */
function heard(seconds: number, struck: { at: number; loud: number; hertz: number }[], noise = 0.01): number[] {
  const random = seededRandom(5);
  const sound = Float64Array.from({ length: seconds * HEARD_RATE }, () => (random() - 0.5) * 2 * noise);
  for (const { at, loud, hertz } of struck)
    for (let i = 0; i < 0.15 * HEARD_RATE; i++) {
      const n = Math.round(at * HEARD_RATE) + i;
      const t = i / HEARD_RATE;
      if (n < sound.length) sound[n]! += loud * Math.exp(-t * 30) * Math.sin(2 * Math.PI * hertz * t);
    }
  const meter = new OnsetMeter();
  sound.forEach((s) => meter.hear(s));
  return meter.onsets;
}

const every = (gap: number, from: number, to: number) =>
  Array.from({ length: Math.floor((to - from) / gap) + 1 }, (_, i) => from + i * gap);
const off = (beats: number[], at: number) => Math.min(...beats.map((b) => Math.abs(b - at)));

describe('beats', () => {
  test.each([84, 120, 148])('%s a minute are met, nearly all within 20 ms, with weaker sounds in between', (bpm) => {
    const gap = 60 / bpm;
    const true_ = every(gap, 0.4, 29);
    const random = seededRandom(bpm);
    const struck = [
      ...true_.map((at) => ({ at, loud: 0.5, hertz: 110 })),
      ...true_.map((at) => ({ at: at + gap / 2, loud: 0.08, hertz: 2500 })),
      ...Array.from({ length: 20 }, () => ({ at: random() * 29, loud: 0.15, hertz: 700 })),
    ];
    const beats = beatsOf(heard(30, struck));
    const inside = true_.filter((t) => t > 1 && t < 28);
    const met = inside.filter((t) => off(beats, t) < 0.02);
    expect(met.length / inside.length).toBeGreaterThan(0.9);
    expect(inside.filter((t) => off(beats, t) < 0.04).length / inside.length).toBeGreaterThan(0.97);
    expect(beats.filter((b) => b < 28.5 && off(true_, b) > 0.03).length).toBeLessThan(2);
    expect(tempoOf(beats)!).toBeCloseTo(bpm, -0.5);
    const bias = inside.map((t) => beats.reduce((a, b) => (Math.abs(b - t) < Math.abs(a - t) ? b : a)) - t);
    expect(Math.abs(bias.reduce((a, b) => a + b, 0) / bias.length)).toBeLessThan(0.01);
  });

  test('follow a tempo that changes', () => {
    const struck: number[] = [0.5];
    while (struck.at(-1)! < 58) struck.push(struck.at(-1)! + 60 / (100 + (20 * struck.at(-1)!) / 60));
    const beats = beatsOf(
      heard(
        60,
        struck.map((at) => ({ at, loud: 0.5, hertz: 150 })),
      ),
    );
    const met = struck.filter((t) => off(beats, t) < 0.03);
    expect(met.length / struck.length).toBeGreaterThan(0.95);
  });

  test('are not claimed in silence, in noise, where things happen at random, or in no time at all', () => {
    const random = seededRandom(8);
    const whenever = Array.from({ length: 60 }, () => ({ at: random() * 29, loud: 0.5, hertz: 300 }));
    expect(beatsOf(heard(30, [], 0))).toEqual([]);
    expect(beatsOf(heard(30, [], 0.2))).toEqual([]);
    expect(beatsOf(heard(30, whenever))).toEqual([]);
    expect(beatsOf([])).toEqual([]);
    expect(tempoOf([1])).toBeNull();
  });

  test('are there while the music lasts, and nowhere else', () => {
    const struck = every(0.5, 20, 40).map((at) => ({ at, loud: 0.5, hertz: 110 }));
    const beats = beatsOf(heard(70, struck));
    expect(beats.filter((b) => b > 24 && b < 36).length).toBeGreaterThanOrEqual(23);
    expect(beats.filter((b) => b < 10 || b > 50)).toEqual([]);
  });
});
