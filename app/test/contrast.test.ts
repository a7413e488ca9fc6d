/** What is drawn on each sheet can be told apart: WCAG 2.2, 4.5 for text and 3 for edges and marks. */
import { describe, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';

const css = readFileSync('app/app.css', 'utf8');

/** The colours of a sheet by name. */
function sheet(start: string): Record<string, string> {
  const block = css.slice(css.indexOf(start)).split('}')[0]!;
  return Object.fromEntries([...block.matchAll(/--([\w-]+): (#[0-9a-f]{6})/g)].map((m) => [m[1]!, m[2]!]));
}

function luminance(hex: string): number {
  const [r, g, b] = [1, 3, 5].map((i) => {
    const v = parseInt(hex.slice(i, i + 2), 16) / 255;
    return v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

function contrast(a: string, b: string): number {
  const [low, high] = [luminance(a), luminance(b)].sort((x, y) => x - y) as [number, number];
  return (high + 0.05) / (low + 0.05);
}

const TEXT: [string, string][] = [
  ...['paper', 'sheet', 'rule'].flatMap((on): [string, string][] => [
    ['ink', on],
    ['muted', on],
  ]),
  ['camera', 'sheet'],
  ['level', 'sheet'],
  ['on-camera', 'camera'],
  ['paper', 'ink'],
];
const MARKS: [string, string][] = [
  ['edge', 'paper'],
  ['edge', 'sheet'],
  ['camera', 'paper'],
  ['level', 'paper'],
  ['focus', 'paper'],
  ['focus', 'sheet'],
  ['focus', 'rule'],
];

describe.each([
  ['day', ':root {'],
  ['night', ":root[data-sheet='night'] {"],
])('the %s sheet', (_, start) => {
  const colours = sheet(start);
  test.each(TEXT)('%s is read on %s', (ink, on) => {
    expect(contrast(colours[ink]!, colours[on]!)).toBeGreaterThanOrEqual(4.5);
  });
  test.each(MARKS)('%s is seen on %s', (mark, on) => {
    expect(contrast(colours[mark]!, colours[on]!)).toBeGreaterThanOrEqual(3);
  });
});
