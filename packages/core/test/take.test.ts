import { describe, expect, test } from '@jest/globals';
import { apply } from '../src/geometry/rotation.js';
import { aspectRatio, parseSize, sizeOf } from '../src/lens/format.js';
import { estimateSize } from '../src/export/estimate.js';
import { correctionOf } from '../src/correction/correction.js';
import { newTake } from '../src/take/take.js';
import { framesIn } from '../src/take/timing.js';
import { readTake, TakeError } from '../src/take/validate.js';
import { squeezeBand } from '../src/sweep/sweep.js';

const valid = () => JSON.parse(JSON.stringify(newTake('ridge-loop.mp4', 15))) as Record<string, never>;
const problems = (change: object) => {
  try {
    readTake({ ...valid(), ...change });
    return [];
  } catch (error) {
    expect(error).toBeInstanceOf(TakeError);
    return (error as TakeError).problems;
  }
};

describe('take documents', () => {
  test('of the published example are read, with absent channels filled in', () => {
    const take = readTake({
      format: 'glimbo-take',
      version: 1,
      footage: 'ridge-loop.mp4',
      range: { in: 1, out: 9 },
      orientation: { mount: { pan: 0, tilt: 0, roll: 0 }, centre: { pan: 0, tilt: 0 } },
      frame: { aspect: '16:9' },
      path: {
        turn: 'dials',
        pan: [
          { time: 1, value: -40, ease: 'smooth' },
          { time: 4.5, value: 75, ease: 'hold' },
        ],
        fov: [{ time: 1, value: 75 }],
      },
    });
    expect(take.path.tilt).toEqual([]);
    expect(framesIn(take.range.out - take.range.in, 30)).toBe(240);
  });

  test('keep what this version does not know', () => {
    expect(readTake({ ...valid(), look: { weather: 'dusk' } })).toHaveProperty('look', { weather: 'dusk' });
  });

  test.each([
    ['another format', { format: 'else' }, /format/],
    ['a range that is backwards', { range: { in: 5, out: 2 } }, /out point/],
    ['a range that is no number', { range: { in: 'x', out: 2 } }, /range\.in/],
    ['an aspect that is none', { frame: { aspect: 'wide' } }, /picture format/],
    ['keyframes out of order', { path: { pan: [{ time: 2, value: 0 }, { time: 1, value: 0 }] } }, /order of time/],
    ['a value that is no number', { path: { pan: [{ time: 2, value: null }] } }, /numbers/],
    ['an unknown ease', { path: { pan: [{ time: 2, value: 1, ease: 'bouncy' }] } }, /an ease is one of/],
    ['a Bézier that runs back in time', { path: { pan: [{ time: 2, value: 1, ease: [2, 0, 0, 1] }] } }, /an ease/],
    ['no footage', { footage: '' }, /footage/],
  ])('with %s are refused in words', (_, change, words) => expect(problems(change).join()).toMatch(words)); // prettier-ignore

  test('that are not even objects are refused', () => {
    for (const v of [null, 3, 'take', []]) expect(() => readTake(v)).toThrow(TakeError);
  });
});

describe('orientation', () => {
  test('the centre becomes ahead, and upside down is turned over', () => {
    const centred = correctionOf({ orientation: { centre: { pan: 90, tilt: 0 } } }).at(0);
    apply(centred, [1, 0, 0]).forEach((v, i) => expect(v).toBeCloseTo([0, 0, 1][i]!, 12));
    const turned = correctionOf({ orientation: { mount: { pan: 0, tilt: 0, roll: 180 } } }).at(0);
    apply(turned, [0, -1, 0]).forEach((v, i) => expect(v).toBeCloseTo([0, 1, 0][i]!, 12));
  });
});

describe('formats and sizes', () => {
  test('of each class', () => {
    expect(sizeOf('16:9', 1080)).toEqual({ width: 1920, height: 1080 });
    expect(sizeOf('9:16', 1080)).toEqual({ width: 1080, height: 1920 });
    expect(sizeOf('4:5', 1080)).toEqual({ width: 1080, height: 1350 });
    expect(sizeOf('2.35:1', 1080)).toEqual({ width: 1920, height: 818 });
    expect(sizeOf('1:1', 2160)).toEqual({ width: 2160, height: 2160 });
  });
  test('typed wrongly are refused in words', () => {
    expect(() => aspectRatio('0:9')).toThrow(/picture format/);
    for (const text of ['1920', '1921x1080', '9x9', '99999x100']) expect(() => parseSize(text)).toThrow(/1920x1080/);
  });
  test('a bit rate gives the size of a clip nearly exactly', () => {
    expect(estimateSize({ width: 1920, height: 1080, codec: 'h264', bitRate: 8e6 }, 10, 30, false)).toBe(1e7);
  });
});

test('a row of the Sweep keeps a small thing that passes by', () => {
  const [width, height] = [4, 12];
  const band = new Uint8Array(width * height * 3).fill(100);
  for (let y = 5; y < 7; y++) band[(y * width + 2) * 3] = 255;
  const row = new Uint8Array(width * 3);
  squeezeBand(band, width, height, row, 0);
  expect(row[0]).toBe(100);
  expect(row[6]).toBeGreaterThan(170);
});
