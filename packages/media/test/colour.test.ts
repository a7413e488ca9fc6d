/** What a file says of its colour, and what is done about it. */
import { describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { BT709_TAGS, colourName, colourTags } from '@glimbo/core/gather/colour';
import { codesOfRgb } from '@glimbo/core/look/table';
import { fromLinear, toLinear } from '@glimbo/core/look/transfer';
import { toBt709 } from '../src/colour.js';

const tags = (matrix?: string, primaries?: string, transfer?: string, range?: string, pixelFormat = 'yuv420p') =>
  colourTags({ matrix, primaries, transfer, range, pixelFormat });

describe('colour', () => {
  test('that is not told, or told in words that nobody knows, is BT.709 in video range', () => {
    expect(tags()).toEqual(BT709_TAGS);
    expect(tags('unknown', 'reserved', 'evil:filter', 'unknown')).toEqual(BT709_TAGS);
    expect(toBt709()).not.toContain('zscale');
    expect(toBt709(tags('bt709', 'bt709', 'bt709', 'tv'))).not.toContain('zscale');
  });

  test('of another matrix, range, or primaries is converted; of high dynamic range it is brought down', () => {
    expect(toBt709(tags('smpte170m'))).toMatch(/colorspace=smpte170m.*zscale.*matrix=bt709/);
    expect(toBt709(tags(undefined, undefined, undefined, undefined, 'yuvj420p'))).toMatch(/range=pc.*range=limited/);
    expect(toBt709(tags('bt2020nc'))).toContain('color_primaries=bt2020');
    for (const transfer of ['smpte2084', 'arib-std-b67'])
      expect(toBt709(tags('bt2020nc', 'bt2020', transfer))).toMatch(/transfer=linear.*tonemap.*transfer=bt709/);
    expect(toBt709(tags('bt709', 'bt709', 'smpte170m'))).not.toContain('zscale');
  });

  test.each([
    ['red', [1, 0, 0]],
    ['green', [0, 1, 0]],
    ['cyan', [0, 1, 1]],
    ['a muted red', [0.5, 0.35, 0.3]],
  ] as const)('%s of BT.2020 comes to what its R’G’B’ are in BT.709, cut off one by one', (_, rgb) => {
    // Weights of BT.2020's light, and from its linear colours to those of BT.709 (ITU-R BT.2020, BT.2087).
    const luma = 0.2627 * rgb[0] + 0.678 * rgb[1] + 0.0593 * rgb[2];
    const codes = [16 + 219 * luma, 128 + (224 * (rgb[2] - luma)) / 1.8814, 128 + (224 * (rgb[0] - luma)) / 1.4746];
    const light = rgb.map(toLinear);
    const mixed = [
      [1.6605, -0.5876, -0.0728],
      [-0.1246, 1.1329, -0.0083],
      [-0.0182, -0.1006, 1.1187],
    ].map((row) =>
      fromLinear(Math.max(0, Math.min(1, row[0]! * light[0]! + row[1]! * light[1]! + row[2]! * light[2]!))),
    );
    const size = 64;
    const raw = Buffer.concat(codes.map((c, p) => Buffer.alloc(p ? (size / 2) ** 2 : size ** 2, Math.round(c))));
    const out = execFileSync(
      'ffmpeg',
      [
        ...['-v', 'error', '-f', 'rawvideo', '-pix_fmt', 'yuv420p', '-s', `${size}x${size}`, '-i', '-'],
        ...['-vf', toBt709(tags('bt2020nc', 'bt2020', 'bt2020-10')), '-f', 'rawvideo', '-pix_fmt', 'yuv420p', '-'],
      ],
      { input: raw },
    );
    const wanted = codesOfRgb(mixed as [number, number, number]);
    const found = [out[0]!, out[size * size]!, out[(size * size * 5) / 4]!];
    found.forEach((code, p) => expect(Math.abs(code - wanted[p]!)).toBeLessThanOrEqual(2));
  });

  test('nothing that a file says can become a filter of its own', () => {
    for (const evil of ['bt709,movie=/etc/passwd', "x'y", 'a:b'])
      expect(toBt709(tags(evil, evil, evil, evil))).toBe(toBt709());
  });

  test('has a name where it is not the usual', () => {
    expect(colourName(tags('bt709', 'bt709', 'bt709', 'tv'))).toBeNull();
    expect(colourName(tags('smpte170m'))).toBe('BT.601');
    expect(colourName(tags('bt2020nc', 'bt2020', 'arib-std-b67'))).toBe('BT.2020 HLG');
    expect(colourName(tags('bt709', 'bt709', 'bt709', 'pc'))).toBe('BT.709, full range');
  });
});
