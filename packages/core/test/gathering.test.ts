/** Which files belong together, what a picture shows, and what moves by itself. */
import { describe, expect, test } from '@jest/globals';
import { fingerprintParts } from '../src/gather/fingerprint.js';
import { groupRecordings, partnerNames } from '../src/gather/recordings.js';
import { findCircle, recognise } from '../src/stitch/recognise.js';
import { ACTIVITY_BLOCKS, activityRow, bandLuma } from '../src/sweep/activity.js';
import { SWEEP_WIDTH } from '../src/sweep/sweep.js';

describe('recordings', () => {
  test('two lens files are one recording, companions go with theirs, what misses its partner is told', () => {
    const found = groupRecordings([
      'F/HALT_0001_A.MP4',
      'F/HALT_0001_B.MP4',
      'F/HALT_0001.LOW.MP4',
      'F/HALT_0002.MP4',
      'F/HALT_0002.LOW.MP4',
      'F/HALT_0005_A.MP4',
      'G/HALT_0005_B.MP4',
    ]);
    expect(found).toEqual([
      { name: 'HALT_0001', files: ['F/HALT_0001_A.MP4', 'F/HALT_0001_B.MP4'], companion: 'F/HALT_0001.LOW.MP4', problem: null },
      { name: 'HALT_0002', files: ['F/HALT_0002.MP4'], companion: 'F/HALT_0002.LOW.MP4', problem: null },
      { name: 'HALT_0005_A', files: ['F/HALT_0005_A.MP4'], companion: null, problem: expect.stringMatching(/second lens/) },
      { name: 'HALT_0005_B', files: ['G/HALT_0005_B.MP4'], companion: null, problem: expect.stringMatching(/first lens/) },
    ]); // prettier-ignore
  });

  test('numbered takes are not taken for lenses', () => {
    expect(partnerNames('garden_1.mp4')).toEqual([]);
    expect(groupRecordings(['garden_1.mp4', 'garden_2.mp4'])).toHaveLength(2);
    expect(partnerNames('pole-front.mov')).toEqual(['pole-back.mov']);
  });

  test('a fingerprint samples all of a small file, and beginning, middle and end of a large one', () => {
    expect(fingerprintParts(5)).toEqual([[0, 5]]);
    const parts = fingerprintParts(10e9);
    expect(parts[0]![0]).toBe(0);
    expect(parts.at(-1)![1]).toBe(10e9);
    expect(parts.reduce((sum, [a, b]) => sum + b - a, 0)).toBe(3 << 20);
  });
});

/** A grey disc on black, with a soft edge and a dark part inside. */
function disc(width: number, height: number, circles: [x: number, y: number, r: number][]) {
  const luma = new Uint8Array(width * height).fill(16);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (const [cx, cy, r] of circles) {
        const d = Math.hypot(x + 0.5 - cx, y + 0.5 - cy);
        if (d < r && !(y > cy && Math.abs(x - cx) < r * 0.1)) luma[y * width + x] = 60 + ((x * 7 + y * 3) % 120);
      }
  return luma;
}

describe('recognising a picture', () => {
  test('two circles are two lenses, found to a pixel', () => {
    const seen = recognise(
      disc(800, 400, [
        [203, 198, 190],
        [597, 202, 191],
      ]),
      800,
      400,
    );
    expect(seen.kind).toBe('two-lenses');
    if (seen.kind !== 'two-lenses') return;
    expect(Math.hypot(seen.circles[0].centreX - 203, seen.circles[0].centreY - 198)).toBeLessThan(1);
    expect(Math.hypot(seen.circles[1].centreX - 597, seen.circles[1].centreY - 202)).toBeLessThan(1);
    expect(Math.abs(seen.circles[1].radius - 191)).toBeLessThan(1.5);
  });

  test('one circle, also one that is cut off above and below', () => {
    expect(recognise(disc(400, 400, [[195, 205, 180]]), 400, 400).kind).toBe('one-lens');
    const cut = findCircle(disc(640, 360, [[322, 181, 260]]), 640, 360)!;
    expect(Math.hypot(cut.centreX - 322, cut.centreY - 181)).toBeLessThan(2);
    expect(Math.abs(cut.radius - 260)).toBeLessThan(2.5);
  });

  test('a picture that fills its frame is a sphere, and so is a dark one', () => {
    const full = Uint8Array.from({ length: 800 * 400 }, (_, i) => 60 + ((i * 13) % 150));
    expect(recognise(full, 800, 400).kind).toBe('sphere');
    expect(recognise(new Uint8Array(800 * 400).fill(18), 800, 400).kind).toBe('sphere');
  });
});

describe('activity', () => {
  const HEIGHT = 24;
  /** A textured horizon, shifted as turning (whole), travelling (along a sine, by distance) and with a thing in it. */
  function band(turn: number, travel: number, thing: number | null) {
    const rgb = new Uint8Array(SWEEP_WIDTH * HEIGHT * 3);
    // Waves that close round the horizon.
    const wave = (x: number, times: number) => Math.sin((x * 2 * Math.PI * times) / SWEEP_WIDTH + times);
    const texture = (x: number) => 110 + 40 * wave(x, 36) + 30 * wave(x, 13) + 25 * wave(x, 84);
    for (let y = 0; y < HEIGHT; y++)
      for (let x = 0; x < SWEEP_WIDTH; x++) {
        const heading = (x / SWEEP_WIDTH - 0.5) * 2 * Math.PI;
        let tone = texture(x - turn - travel * Math.sin(heading));
        if (thing !== null && Math.abs(x - thing) < 8 && y > 8 && y < 20) tone = 235;
        rgb.fill(tone, (y * SWEEP_WIDTH + x) * 3, (y * SWEEP_WIDTH + x) * 3 + 3);
      }
    return bandLuma(rgb, HEIGHT);
  }
  const blockOf = (x: number) => Math.floor((x / SWEEP_WIDTH) * ACTIVITY_BLOCKS);

  test('is nothing where nothing moves, however the rig turns and travels', () => {
    expect(Math.max(...activityRow(band(0, 0, 300), band(0, 0, 300)))).toBe(0);
    expect(Math.max(...activityRow(band(0, 0, null), band(9, 0, null)))).toBeLessThan(25);
    expect(Math.max(...activityRow(band(0, 0, null), band(3, 5, null)))).toBeLessThan(60);
  });

  test('stands out where something passes, also while the rig turns', () => {
    for (const turn of [0, 7]) {
      const row = activityRow(band(0, 0, 200), band(turn, 0, 216));
      const there = Math.max(row[blockOf(200)]!, row[blockOf(208)]!, row[blockOf(216)]!);
      expect(there).toBeGreaterThan(120);
      expect(row[blockOf(560)]!).toBeLessThan(25);
    }
  });
});
