/** What a file says of its colour, and what is done about it. */
import { describe, expect, test } from '@jest/globals';
import { BT709_TAGS, colourName, colourTags } from '@glimbo/core/gather/colour';
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
