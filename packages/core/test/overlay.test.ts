/** Overlays: what is seen when and where, as SVG. */
import { describe, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { parse } from 'opentype.js';
import {
  addOverlay,
  changeOverlay,
  overlaysOf,
  removeOverlay,
  setOverlayValue,
  toggleOverlayKey,
} from '../src/edit/overlays.js';
import { usualPicture, usualTitle, type Title } from '../src/overlay/overlays.js';
import { pictureFacts } from '../src/overlay/picture-size.js';
import { lettersMissing, overlaySvg, presentOverlays, type Materials } from '../src/overlay/svg.js';
import { overlaysProblem } from '../src/overlay/validate.js';
import { newTake } from '../src/take/take.js';

const file = readFileSync('node_modules/@fontsource/fraunces/files/fraunces-latin-600-normal.woff');
const fonts = { sans: parse(file.buffer.slice(file.byteOffset, file.byteOffset + file.length) as ArrayBuffer) };
const materials: Materials = { fonts, pictures: new Map([['logo.png', { href: 'data:x', width: 200, height: 100 }]]) };
const wide = { width: 1280, height: 720 };
const title: Title = { ...usualTitle('Brindle Halt', 1, 9), fade: 0 };

/** The box round all points of an SVG's outlines. */
function boxOf(svg: string) {
  const d = [...svg.matchAll(/<path d="([^"]*)" fill="#/g)].map((m) => m[1]).join('');
  const numbers = [...d.matchAll(/-?\d+(?:\.\d+)?/g)].map((m) => Number(m[0]));
  const points = [...d.matchAll(/[ML](-?[\d.]+)[ ,]?(-?[\d.]+)/g)].map((m) => [Number(m[1]), Number(m[2])] as const);
  expect(numbers.length).toBeGreaterThan(20);
  const [xs, ys] = [points.map((p) => p[0]), points.map((p) => p[1])];
  return { left: Math.min(...xs), right: Math.max(...xs), top: Math.min(...ys), bottom: Math.max(...ys) };
}

describe('what is seen', () => {
  test('from its time to its time, fading in and out', () => {
    const faded = { ...title, fade: 1 };
    const opacity = (t: number) => presentOverlays([faded], t)[0]?.opacity ?? 0;
    expect([0.5, 1, 1.5, 2, 4, 4.5, 5, 6].map(opacity)).toEqual([0, 0, 0.5, 1, 1, 0.5, 0, 0]);
    expect(overlaySvg([title], wide, 0, materials)).toBeNull();
  });

  test('keyed opacity and place are what they are then', () => {
    const keyed: Title = {
      ...title,
      opacity: [
        { time: 1, value: 0, ease: 'linear' },
        { time: 3, value: 100 },
      ],
      x: [
        { time: 1, value: 0, ease: 'linear' },
        { time: 3, value: 1 },
      ],
    };
    expect(presentOverlays([keyed], 2)[0]).toMatchObject({ x: 0.5, opacity: 0.5 });
  });

  test('what cannot be drawn is left out, and so is a letter that the font lacks', () => {
    expect(overlaySvg([title, usualPicture('gone.png')], wide, 2, { fonts: {}, pictures: new Map() })).toBeNull();
    const svg = overlaySvg([{ ...title, text: 'Halt 駅' }], wide, 2, materials)!;
    expect(svg).toEqual(overlaySvg([{ ...title, text: 'Halt ' }], wide, 2, materials));
  });
});

describe('where it stands', () => {
  test.each([
    ['wide', wide],
    ['tall', { width: 720, height: 1280 }],
    ['square', { width: 900, height: 900 }],
  ])('at its corners it stays inside the safe area of a %s frame', (_, size) => {
    for (const [x, y] of [
      [0, 0],
      [1, 1],
      [0, 1],
    ] as const) {
      const box = boxOf(overlaySvg([{ ...title, x, y, shadow: false }], size, 2, materials)!);
      expect(box.left).toBeGreaterThan(0.045 * size.width);
      expect(box.right).toBeLessThan(0.955 * size.width);
      expect(box.top).toBeGreaterThan(0.045 * size.height);
      expect(box.bottom).toBeLessThan((size.height > size.width ? 0.81 : 0.955) * size.height);
    }
  });

  test('what is too wide is drawn smaller, and bars keep it inside what they leave', () => {
    const long = { ...title, text: 'A very long title for an open day at the garden railway', size: 20 };
    const box = boxOf(overlaySvg([long], wide, 2, materials)!);
    expect(box.right - box.left).toBeLessThan(0.91 * wide.width);
    const low = boxOf(
      overlaySvg(
        [
          { kind: 'bars', ratio: 2.39 },
          { ...title, y: 1 },
        ],
        wide,
        2,
        materials,
      )!,
    );
    expect(low.bottom).toBeLessThan((720 + 1280 / 2.39) / 2);
  });

  test('bars leave a picture of their ratio, above and below or at the sides', () => {
    const heights = (ratio: number, size: typeof wide) =>
      [
        ...(overlaySvg([{ kind: 'bars', ratio }], size, 0, materials) ?? '').matchAll(
          /width="(\d+)" height="(\d+)"\/>/g,
        ),
      ].map((m) => [Number(m[1]), Number(m[2])]);
    expect(heights(2, wide)).toEqual([
      [1280, 40],
      [1280, 40],
    ]);
    expect(heights(1, wide)).toEqual([
      [280, 720],
      [280, 720],
    ]);
    expect(heights(16 / 9, wide)).toEqual([]);
  });

  test('a picture keeps its shape', () => {
    const svg = overlaySvg([{ ...usualPicture('logo.png'), size: 10 }], wide, 0, materials)!;
    expect(svg).toMatch(/<image x="1088" y="36" width="128" height="64" opacity="1"/);
  });
});

describe('changing overlays', () => {
  const take = addOverlay(newTake('a.mp4', 10), title);
  test('bars lie below; what is taken away is gone; none leaves no look', () => {
    const both = addOverlay(take, { kind: 'bars', ratio: 2 });
    expect(overlaysOf(both).map((o) => o.kind)).toEqual(['bars', 'title']);
    expect(changeOverlay(both, 1, { text: 'x' }).look!.overlays![1]).toMatchObject({ text: 'x', font: 'sans' });
    expect(removeOverlay(take, 0).look).toBeUndefined();
  });

  test('a channel is keyed and freed again, its value kept', () => {
    const keyed = toggleOverlayKey(take, 0, 'x', 2);
    const moved = setOverlayValue(keyed, 0, 'x', 4, 0.9);
    expect((overlaysOf(moved)[0] as Title).x).toHaveLength(2);
    const freed = toggleOverlayKey(toggleOverlayKey(moved, 0, 'x', 2), 0, 'x', 4);
    expect((overlaysOf(freed)[0] as Title).x).toBe(0.9);
    expect((overlaysOf(setOverlayValue(take, 0, 'x', 4, 0.2))[0] as Title).x).toBe(0.2);
  });

  test.each([
    [[title, { kind: 'bars', ratio: 2.39 }, usualPicture('a.png')], null],
    [undefined, null],
    ['x', /list/],
    [[{ kind: 'bars', ratio: 9 }], /ratio/],
    [[{ ...title, colour: 'red' }], /colour/],
    [[{ ...title, font: 'other' }], /font/],
    [[{ ...title, x: 2 }], /x lies/],
    [[{ ...usualPicture('a.png'), file: '' }], /file/],
    [[{ kind: 'frame' }], /kind/],
  ])('%j is read or refused in words', (value, words) => {
    const problem = overlaysProblem(value);
    if (words) expect(problem).toMatch(words);
    else expect(problem).toBeNull();
  });
});

test('a picture’s size is read from its head, where it is whole', () => {
  const png = Buffer.from('89504e470d0a1a0a0000000d4948445200000010000000080806000000', 'hex');
  const end = Buffer.from('0000000049454e44ae426082', 'hex');
  const whole = Buffer.concat([png, Buffer.alloc(4), end]);
  expect(pictureFacts(whole)).toEqual({ type: 'image/png', width: 16, height: 8 });
  expect(pictureFacts(whole.subarray(0, -1))).toBeNull();
  expect(pictureFacts(Buffer.concat([png, Buffer.alloc(40)]))).toBeNull();
  const svg = (head: string) => pictureFacts(Buffer.from(`<?xml version="1.0"?><svg ${head}><g/></svg>`));
  expect(svg('width="30px" height="20"')).toMatchObject({ width: 30, height: 20 });
  expect(svg("width='30' height='20px'")).toMatchObject({ width: 30, height: 20 });
  expect(svg('viewBox="0 0 4 3"')).toMatchObject({ type: 'image/svg+xml', width: 4, height: 3 });
  expect(svg('')).toBeNull();
  expect(pictureFacts(Buffer.from('GIF89a'))).toBeNull();
});

test('letters that a font lacks are named, each once', () => {
  const font = fonts.sans;
  expect(lettersMissing(font, 'Halt 東駅\n東')).toEqual(['東', '駅']);
  expect(lettersMissing(font, 'Halt')).toEqual([]);
});
