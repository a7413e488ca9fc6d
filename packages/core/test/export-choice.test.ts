/** Formats, codecs, and what somebody chooses of a clip. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { amountInWords, CODECS, codecFacts, endingOf } from '../src/export/codecs.js';
import { CONTAINER_FACTS } from '../src/export/containers.js';
import { frameBytes, planeSizes, YUV420, YUV444 } from '../src/colour/pixels.js';
import { chosenSize, expectedSize, firstChoice, settingsOf } from '../src/export/choice.js';
import { COMPARISONS } from '../src/export/settings.js';
import { estimateSize, learnedRatio } from '../src/export/estimate.js';
import { formatOf, formatsOf, ratioOf, shapesFor, sizeIn, withFormat } from '../src/take/formats.js';
import { newTake } from '../src/take/take.js';
import { readTake } from '../src/take/validate.js';
import { readClipSettings } from '../src/export/validate-settings.js';

const take = newTake('a.mp4', 10);
const both = { ...take, frame: { aspect: '16:9', formats: [{ aspect: '16:9' }, { aspect: '9:16' }] } };

describe('formats', () => {
  test('a take has the one that it names, or a list with it', () => {
    expect(formatsOf(take)).toEqual([{ aspect: '16:9' }]);
    expect(formatsOf(both).map((f) => f.aspect)).toEqual(['16:9', '9:16']);
    expect(formatOf(both, '9:16').aspect).toBe('9:16');
    expect(() => formatOf(take, '1:1')).toThrow(/no format/);
    expect(ratioOf(take)).toBeCloseTo(16 / 9, 12);
    expect(sizeIn(both, 1080)).toEqual({ width: 1920, height: 1080 });
  });

  test('another shape takes the place of the one that is worked on, or goes to it', () => {
    expect(withFormat(take, '4:5').frame).toEqual({ aspect: '4:5' });
    expect(withFormat(both, '9:16').frame).toEqual({ aspect: '9:16', formats: both.frame.formats });
    expect(withFormat(both, '1:1').frame).toEqual({ aspect: '1:1', formats: [{ aspect: '1:1' }, { aspect: '9:16' }] });
    expect(shapesFor(withFormat(take, '5:3'))).toContain('5:3');
    expect(new Set(shapesFor(both)).size).toBe(shapesFor(both).length);
  });

  test.each([
    [[], /formats are a list/],
    ['16:9', /formats are a list/],
    [[{ aspect: 'wide' }], /picture format/],
    [[{}], /picture format/],
    [[{ aspect: '16:9' }, { aspect: '16:9' }], /no two formats/],
    [[{ aspect: '9:16' }], /one of its formats/],
  ])('%j in a document are refused in words', (formats, words) => {
    expect(() => readTake({ ...take, frame: { aspect: '16:9', formats } })).toThrow(words);
  });

  test('in a document are read as they stand', () => {
    expect(readTake(both).frame).toEqual(both.frame);
  });
});

describe('codecs', () => {
  test('each says all that is asked of it', () => {
    for (const codec of CODECS) {
      const { label, container, bitsPerPixel, pixels, quality } = codecFacts(codec);
      expect(label.length).toBeGreaterThan(4);
      expect(CONTAINER_FACTS[container].ending).toBe(endingOf(codec));
      expect(label).toContain(CONTAINER_FACTS[container].label);
      expect(bitsPerPixel).toBeGreaterThan(0);
      expect([YUV420, YUV444]).toContain(pixels);
      if (quality) expect(quality.usual).toBeGreaterThan(quality.best);
    }
  });

  test('an amount is told as it was chosen, and not where there is none', () => {
    expect(amountInWords('h264', { quality: 23 })).toBe('quality 23');
    expect(amountInWords('h265', { bitRate: 18e6 })).toBe('18 Mbit/s');
    expect(amountInWords('h264', {})).toBe('quality 19');
    expect(amountInWords('prores', { quality: 3 })).toBe('');
  });

  test('planes of both ways to lay pixels down', () => {
    expect(frameBytes(YUV420, 6, 4)).toBe(36);
    expect(frameBytes(YUV444, 6, 4)).toBe(72);
    expect(planeSizes(YUV444, 5, 3)[2]).toEqual({ width: 5, height: 3 });
  });
});

describe('what is chosen', () => {
  test('makes settings that are accepted, whatever it is', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...CODECS),
        fc.constantFrom('none', ...COMPARISONS),
        fc.constantFrom('1080', '2160', 'free'),
        fc.boolean(),
        fc.constantFrom('quality', 'bitRate'),
        fc.constantFrom(take, both, withFormat(take, '2.35:1'), withFormat(take, '4:5')),
        (codec, compare, sizeClass, sphere, by, of) => {
          const choice = { ...firstChoice(30), codec, compare, sizeClass, sphere, by } as ReturnType<
            typeof firstChoice
          >;
          const settings = settingsOf(choice, of, 5760);
          expect(readClipSettings(settings)).toEqual(settings);
          expect(settings.width).toBe(sphere ? 5760 : chosenSize(choice, of).width);
          expect('quality' in settings || 'bitRate' in settings).toBe(codec !== 'prores');
        },
      ),
    );
  });

  test('before beside after is twice as wide, so that each keeps its size', () => {
    const choice = firstChoice(30);
    expect(chosenSize({ ...choice, compare: 'beside' }, take)).toEqual({ width: 3840, height: 1080 });
    expect(chosenSize({ ...choice, compare: 'over' }, take)).toEqual({ width: 1920, height: 2160 });
    expect(chosenSize({ ...choice, compare: 'inset' }, take)).toEqual({ width: 1920, height: 1080 });
  });

  test('is reckoned with what was learned', () => {
    const settings = settingsOf(firstChoice(30), take, 5760);
    const guess = estimateSize(settings, 10, 30, true);
    expect(expectedSize(settings, 10, true, {})).toEqual({ bytes: guess, learned: false, exact: false });
    expect(expectedSize(settings, 10, true, { h264: 1.5 })).toEqual({
      bytes: 1.5 * guess,
      learned: true,
      exact: false,
    });
    const rated = settingsOf({ ...firstChoice(30), by: 'bitRate', megabits: 8 }, take, 5760);
    expect(expectedSize(rated, 10, false, {})).toEqual({ bytes: 10e6, learned: false, exact: true });
  });

  test('six steps of quality are half the size; H.265 is smaller, ProRes far larger', () => {
    const size = (codec: (typeof CODECS)[number], quality?: number) =>
      estimateSize({ width: 1920, height: 1080, codec, quality }, 10, 30, false);
    expect(size('h264', 25) / size('h264', 19)).toBeCloseTo(0.5, 9);
    expect(size('h265')).toBeLessThan(size('h264'));
    expect(size('prores')).toBeGreaterThan(20 * size('h264'));
    expect(learnedRatio(undefined, 0, 100)).toBe(1);
  });
});
