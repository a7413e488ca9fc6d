/** Clarity and sharpening as the core does them: what they leave alone, and what they lift. */
import { describe, expect, test } from '@jest/globals';
import { blurWeights, cellOf, detailed, doesDetail } from '../src/look/detail.js';
import { MOST_REACH } from '../src/look/detail-numbers.js';

const [width, height] = [120, 90];
const plane = (value: (x: number, y: number) => number) =>
  Float32Array.from({ length: width * height }, (_, i) => value(i % width, Math.floor(i / width)));
const spread = (luma: Float32Array, from = 40, to = 80) => {
  const row = [...luma.subarray(45 * width + from, 45 * width + to)];
  return Math.max(...row) - Math.min(...row);
};
const texture = plane((x) => 100 + 8 * Math.sin(x / 1.2));

describe('weights of a blur', () => {
  test.each([0.3, 1, 2, 3])(
    'of a radius of %f pixels add up to 1, and reach no further than there is room',
    (radius) => {
      const weights = blurWeights(radius);
      expect(2 * weights.reduce((a, b) => a + b) - weights[0]!).toBeCloseTo(1, 9);
      expect(weights.length - 1).toBeLessThanOrEqual(MOST_REACH);
      expect(weights.every((w, i) => i === 0 || w < weights[i - 1]!)).toBe(true);
    },
  );
});

test('cells are as large as the frame wants, and never nothing', () => {
  expect([1080, 2160, 720, 90].map((side) => cellOf({ width: 2 * side, height: side }))).toEqual([4, 8, 3, 1]);
});

describe('detail', () => {
  test('of an even picture, and of nothing, is nothing', () => {
    const even = plane(() => 77);
    expect(detailed(even, width, height, { clarity: 100, sharpen: { amount: 200, radius: 2, threshold: 0 } })).toEqual(
      even,
    );
    expect(detailed(texture, width, height, {})).toEqual(texture);
    expect([{}, { clarity: 0 }, { sharpen: { amount: 0, radius: 1, threshold: 0 } }].some(doesDetail)).toBe(false);
  });

  test('clarity lifts what is local, and takes it away below zero', () => {
    expect(spread(detailed(texture, width, height, { clarity: 80 }))).toBeGreaterThan(1.4 * spread(texture));
    expect(spread(detailed(texture, width, height, { clarity: -80 }))).toBeLessThan(0.6 * spread(texture));
  });

  test('clarity leaves a strong edge without a halo', () => {
    const edge = plane((x) => (x < 60 ? 50 : 200));
    const out = detailed(edge, width, height, { clarity: 100 });
    expect(out.reduce((most, v, i) => Math.max(most, Math.abs(v - edge[i]!)), 0)).toBeLessThan(9);
  });

  test('sharpening lifts what is finer than its radius, and leaves noise below its threshold', () => {
    const sharpen = { amount: 100, radius: 1.5, threshold: 0 };
    expect(spread(detailed(texture, width, height, { sharpen }))).toBeGreaterThan(1.5 * spread(texture));
    expect(detailed(texture, width, height, { sharpen: { ...sharpen, threshold: 20 } })).toEqual(texture);
    const slope = plane((x) => 40 + x);
    const out = detailed(slope, width, height, { sharpen });
    expect(Math.abs(out[45 * width + 60]! - slope[45 * width + 60]!)).toBeLessThan(1e-3);
  });

  test('stays within the codes that stand for a picture', () => {
    const hard = plane((x) => (x % 2 ? 254 : 1));
    const out = detailed(hard, width, height, { sharpen: { amount: 200, radius: 3, threshold: 0 } });
    expect([Math.min(...out), Math.max(...out)]).toEqual([1, 254]);
  });
});
