/** The look: each step of the chain against known values, tables against the chain, `.cube` files against ffmpeg's reader. */
import { afterAll, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { apply, vec3, type Vec3 } from '../src/geometry/rotation.js';
import { mapOfDecision, readDecision, writeDecision } from '../src/look/cdl.js';
import { CubeError, cubeOf, mapOfCube, readCube, writeCube } from '../src/look/cube.js';
import { gradeOf } from '../src/look/grade.js';
import { fromOklab, toOklab } from '../src/look/oklab.js';
import { DIALS, NEUTRAL, type Grade } from '../src/look/settings.js';
import { bake, codesOfRgb, directly, lookUp, rgbOfCodes } from '../src/look/table.js';
import { fromLinear, toLinear } from '../src/look/transfer.js';
import { daylight, whiteBalance } from '../src/look/white-balance.js';
import { seededRandom } from '../src/random.js';

const graded = (change: Partial<Grade>) => gradeOf({ ...NEUTRAL, ...change });
const grey = (v: number): Vec3 => [v, v, v];
const near = (a: Vec3, b: Vec3, digits = 6) => a.forEach((v, k) => expect(v).toBeCloseTo(b[k]!, digits));

describe('the transfer of BT.709', () => {
  test.each([
    [0, 0],
    [0.018, 0.081],
    [0.18, 0.409],
    [1, 1],
  ])('light %f is %f', (light, v) => {
    expect(fromLinear(light)).toBeCloseTo(v, 3);
    expect(toLinear(fromLinear(light))).toBeCloseTo(light, 9);
    expect(fromLinear(-light)).toBeCloseTo(-fromLinear(light), 12);
  });
});

describe('light', () => {
  test('nothing done is nothing changed', () => {
    for (const rgb of [grey(0), grey(0.5), grey(1), [1, 0, 0], [0.2, 0.7, 0.4]] as Vec3[])
      near(graded({})(rgb), rgb, 9);
  });

  test('a stop doubles light', () => {
    const [v] = graded({ exposure: 1 })(grey(0.3));
    expect(toLinear(v)).toBeCloseTo(2 * toLinear(0.3), 9);
    expect(toLinear(graded({ exposure: -2 })(grey(0.8))[0])).toBeCloseTo(toLinear(0.8) / 4, 9);
  });

  test('contrast leaves mid-grey alone and doubles the stops about it at the far end', () => {
    const middle = fromLinear(0.18);
    expect(graded({ contrast: 70 })(grey(middle))[0]).toBeCloseTo(middle, 9);
    expect(toLinear(graded({ contrast: 100 })(grey(fromLinear(0.09)))[0])).toBeCloseTo(0.045, 9);
  });

  test('shadows and highlights move their own side alone, more the farther out', () => {
    const lift = (change: Partial<Grade>, light: number) =>
      toLinear(graded(change)(grey(fromLinear(light)))[0]) / light;
    expect(lift({ shadows: 50 }, 0.4)).toBeCloseTo(1, 9);
    expect(lift({ highlights: -50 }, 0.05)).toBeCloseTo(1, 9);
    expect(lift({ shadows: 50 }, 0.02)).toBeGreaterThan(lift({ shadows: 50 }, 0.09));
    expect(lift({ shadows: 50 }, 0.18 / 16)).toBeCloseTo(2, 6);
    expect(lift({ highlights: -50 }, 0.7)).toBeLessThan(0.9);
  });

  test('black and white points lie where they are put', () => {
    expect(graded({ black: -10 })(grey(0.1))[0]).toBeCloseTo(0, 9);
    expect(graded({ white: -10 })(grey(1))[0]).toBeCloseTo(1 / 1.1, 6);
    expect(graded({ white: 10 })(grey(0.5))[0]).toBeCloseTo(0.5 / 0.9, 6);
  });

  test('a shoulder keeps what goes over white apart, in order and below white', () => {
    const bright = graded({ exposure: 1.5 });
    const out = [0.5, 0.7, 0.8, 0.9, 0.97, 1].map((v) => bright(grey(v))[0]);
    for (let i = 1; i < out.length; i++) expect(out[i]!).toBeGreaterThan(out[i - 1]! + 0.002);
    expect(out.at(-1)).toBeCloseTo(1, 6);
  });

  test('lighter stays lighter, whatever the dials say', () => {
    const dial = (name: keyof Grade) => fc.double({ min: DIALS[name].least, max: DIALS[name].most, noNaN: true });
    const dials = fc.record({
      exposure: dial('exposure'),
      contrast: dial('contrast'),
      white: dial('white'),
      black: dial('black'),
    });
    fc.assert(
      fc.property(dials, (change) => {
        const map = graded(change);
        const out = Array.from({ length: 21 }, (_, i) => map(grey(i / 20))[0]);
        return out.every((v, i) => i === 0 || v >= out[i - 1]! - 1e-9);
      }),
    );
  });
});

describe('colour', () => {
  test('daylight lies where the CIE’s tables have it', () => {
    // D50, D55, D65 and D75 (CIE 15:2004, table T.3).
    for (const [kelvin, x, y] of [
      [5003, 0.3457, 0.3585],
      [5503, 0.3324, 0.3474],
      [6504, 0.3127, 0.329],
      [7504, 0.299, 0.3149],
    ] as const) {
      const found = daylight(1e6 / kelvin);
      expect(found[0]).toBeCloseTo(x, 3);
      expect(found[1]).toBeCloseTo(y, 3);
    }
  });

  test('white is adapted as Bradford’s matrices have it from D65 to D50', () => {
    // From D65's white to D50's by the published product of matrices: XYZ of 1, 1, 1 becomes D50's white.
    const mired = 1e6 / 5003 - 1e6 / 6504;
    const toXyz = (rgb: Vec3): Vec3 => [
      0.4124 * rgb[0] + 0.3576 * rgb[1] + 0.1805 * rgb[2],
      0.2126 * rgb[0] + 0.7152 * rgb[1] + 0.0722 * rgb[2],
      0.0193 * rgb[0] + 0.1192 * rgb[1] + 0.9505 * rgb[2],
    ];
    near(toXyz(apply(whiteBalance(mired, 0), [1, 1, 1])), [0.9642, 1, 0.8252], 2);
    near(apply(whiteBalance(0, 0), [0.3, 0.5, 0.7]), [0.3, 0.5, 0.7], 9);
  });

  test('warmer is redder, tint is between green and magenta, and brightness stays', () => {
    const [r, g, b] = graded({ temperature: 40 })(grey(0.5));
    expect(r).toBeGreaterThan(g);
    expect(g).toBeGreaterThan(b);
    const magenta = graded({ tint: 60 })(grey(0.5));
    expect(magenta[1]).toBeLessThan(Math.min(magenta[0], magenta[2]));
    const light = (v: Vec3) => 0.2126 * toLinear(v[0]) + 0.7152 * toLinear(v[1]) + 0.0722 * toLinear(v[2]);
    expect(light([r, g, b])).toBeCloseTo(toLinear(0.5), 3);
  });

  test('Oklab is where its paper has it, and comes back', () => {
    near(toOklab([1, 1, 1]), [1, 0, 0], 3);
    near(toOklab([1, 0, 0]), [0.628, 0.225, 0.126], 3);
    near(fromOklab(toOklab([0.2, 0.5, 0.9])), [0.2, 0.5, 0.9], 6);
  });

  test('saturation scales chroma and keeps hue and lightness; grey stays grey', () => {
    const rgb: Vec3 = [0.6, 0.4, 0.3];
    const lab = (v: Vec3) => toOklab(vec3(v.map(toLinear)));
    const [before, after] = [lab(rgb), lab(graded({ saturation: 40 })(rgb))];
    near(after, [before[0], 1.4 * before[1], 1.4 * before[2]], 6);
    near(graded({ saturation: 80, vibrance: 50 })(grey(0.4)), grey(0.4), 5);
    const [r, g, b] = graded({ saturation: -100 })(rgb);
    expect(Math.max(r, g, b) - Math.min(r, g, b)).toBeLessThan(1e-4);
    const gain = (v: Vec3) => Math.hypot(...lab(graded({ vibrance: 60 })(v)).slice(1)) / Math.hypot(...lab(v).slice(1));
    expect(gain([0.5, 0.46, 0.44])).toBeGreaterThan(gain([0.9, 0.2, 0.1]));
  });
});

describe('a baked table', () => {
  const GRADES: Partial<Grade>[] = [
    { exposure: 0.5, contrast: 15, saturation: 15 },
    { temperature: 35, shadows: 40, highlights: -40, vibrance: 30 },
    { contrast: -30, black: 8, tint: -20, saturation: -40 },
  ];

  test.each(GRADES)('says what the chain says: %j', (change) => {
    const map = graded(change);
    const [table, direct] = [bake(map, 65), directly(map)];
    const random = seededRandom(8);
    const off: number[] = [];
    for (let i = 0; i < 2000; i++) {
      const codes = codesOfRgb([random(), random(), random()]);
      const [a, b] = [lookUp(table, codes), direct(codes)];
      off.push(...a.map((v, k) => Math.abs(v - b[k]!)));
    }
    expect(off.reduce((s, v) => s + v) / off.length).toBeLessThan(0.5);
    expect(Math.max(...off)).toBeLessThan(2);
  });

  test('codes are BT.709’s in video range', () => {
    near(codesOfRgb([1, 1, 1]), [235, 128, 128]);
    near(codesOfRgb([1, 0, 0]), [62.56, 102.34, 240], 2);
    near(rgbOfCodes(codesOfRgb([0.3, 0.8, 0.1])), [0.3, 0.8, 0.1], 9);
  });
});

describe('a .cube file', () => {
  const folder = mkdtempSync(join(tmpdir(), 'glimbo-look-'));
  afterAll(() => rmSync(folder, { recursive: true, force: true }));
  const look = graded({ exposure: 0.4, temperature: 30, saturation: 25 });

  test('is read as ffmpeg reads it', () => {
    const cube = readCube(writeCube(cubeOf('Warm', look, 17)));
    const file = join(folder, 'warm.cube');
    writeFileSync(file, writeCube(cube));
    const random = seededRandom(3);
    const pixels = Uint16Array.from({ length: 3 * 4096 }, () => 65535 * random());
    const raw = ['-f', 'rawvideo', '-pix_fmt', 'gbrp16le', '-s', '64x64', '-i', '-'];
    const filter = ['-vf', `lut3d=file=${file}:interp=tetrahedral`, '-pix_fmt', 'gbrp16le', '-f', 'rawvideo', '-'];
    const read = execFileSync('ffmpeg', ['-v', 'error', ...raw, ...filter], { input: Buffer.from(pixels.buffer) });
    const theirs = new Uint16Array(read.buffer.slice(read.byteOffset, read.byteOffset + read.byteLength));
    const map = mapOfCube(cube);
    let square = 0;
    for (let i = 0; i < 4096; i++) {
      const [g, b, r] = [pixels[i]!, pixels[4096 + i]!, pixels[8192 + i]!].map((v) => v / 65535) as [
        number,
        number,
        number,
      ];
      const ours = map([r, g, b]).map((v) => 65535 * Math.max(0, Math.min(1, v)));
      [theirs[8192 + i]!, theirs[i]!, theirs[4096 + i]!].forEach((v, k) => (square += (v - ours[k]!) ** 2));
    }
    expect(10 * Math.log10(65535 ** 2 / (square / (3 * 4096)))).toBeGreaterThan(60);
  });

  test('comes back as it was written', () => {
    const cube = { ...cubeOf('A “look”', look, 5), least: [-0.1, 0, 0] as Vec3, most: [1.2, 1, 1] as Vec3 };
    expect(readCube(writeCube(cube))).toEqual({ ...cube, values: cube.values.map((v) => Number(v.toFixed(6))) });
  });

  test('of one dimension is a curve for each channel, between its ends', () => {
    const cube = readCube('# a curve\nLUT_1D_SIZE 3\nLUT_1D_INPUT_RANGE 0 2\n0 0 1\n0.5 0.2 0.5\n1 1 0\n');
    near(mapOfCube(cube)([1, 0.5, 3]), [0.5, 0.1, 0]);
    near(mapOfCube(cube, 0.5)([1, 0.5, 0]), [0.75, 0.3, 0.5]);
  });

  test.each([
    ['', /how large/],
    ['LUT_3D_SIZE 2\n0 0 0\n', /cut short/],
    ['LUT_3D_SIZE 2.5', /2 to 129/],
    ['LUT_3D_SIZE 900', /2 to 129/],
    ['LUT_1D_SIZE 2\nLUT_3D_SIZE 2', /second time/],
    ['LUT_1D_SIZE 2\n0 0\n1 1 1', /Line 2 .* 3 numbers/],
    ['LUT_1D_SIZE 2\n0 0 nan\n1 1 1', /Line 2/],
    ['LUT_1D_SIZE 2\nDOMAIN_MIN 1 0 0\n0 0 0\n1 1 1', /not below/],
    ['{"json": true}', /no LUT says/],
  ])('%j is refused in a sentence', (text, words) => expect(() => readCube(text)).toThrow(words));

  test('whatever it holds it is read or refused in words', () => {
    const good = writeCube(cubeOf('x', look, 3));
    const word = fc.constantFrom(
      'LUT_1D_SIZE',
      'LUT_3D_SIZE',
      'DOMAIN_MIN',
      '1e999',
      '-',
      '0.5',
      '3',
      '\n',
      'TITLE',
      '"',
    );
    const broken = fc.oneof(
      fc.string(),
      fc.array(word).map((w) => w.join(' ')),
      fc.tuple(fc.nat(good.length), fc.nat(9)).map(([at, n]) => good.slice(0, at) + good.slice(at + n)),
    );
    fc.assert(
      fc.property(broken, (text) => {
        try {
          const cube = readCube(text);
          return mapOfCube(cube)([0.3, 0.6, 0.9]).every(Number.isFinite);
        } catch (error) {
          return error instanceof CubeError;
        }
      }),
      { numRuns: 300 },
    );
  });
});

describe('a colour decision', () => {
  const evening = {
    id: 'Evening & "more"',
    slope: [1.1, 1, 0.9] as Vec3,
    offset: [0.01, 0, -0.01] as Vec3,
    power: [1, 1, 1.5] as Vec3,
    saturation: 1.2,
  };

  test('comes back as it was written, wherever it stands in a list', () => {
    const read = readDecision(writeDecision(evening));
    expect({ ...read, id: '' }).toEqual({ ...evening, id: '' });
    const list = `<!-- <Slope>9 9 9</Slope> --><ColorDecision>${writeDecision(evening)}</ColorDecision>`;
    expect(readDecision(`<ColorDecisionList>${list}</ColorDecisionList>`).slope).toEqual(evening.slope);
    expect(readDecision(`<!-- <ColorCorrection><!-- --><ColorCorrectionRef/>${list}`).slope).toEqual(evening.slope);
    for (const opened of ['<!--', '<ColorCorrection', '<ColorCorrection>'])
      expect(() => readDecision(opened.repeat(900_000 / opened.length))).toThrow(/no colour decision/);
    expect(readDecision('<ColorCorrection id="x"></ColorCorrection>')).toMatchObject({
      id: 'x',
      power: [1, 1, 1],
      saturation: 1,
    });
  });

  test('does what the standard says', () => {
    const [r, g, b] = [0.5 * 1.1 + 0.01, 0.4, (0.3 * 0.9 - 0.01) ** 1.5];
    const luma = 0.2126 * r + 0.7152 * g + 0.0722 * b;
    near(mapOfDecision(evening)([0.5, 0.4, 0.3]), vec3([r, g, b].map((v) => luma + 1.2 * (v - luma))), 9);
    const plain = mapOfDecision({ ...evening, slope: [1, 1, 1], offset: [0, 0, 0] });
    near(plain([2, 3, 4]), plain([1, 1, 1]));
  });

  test.each([
    ['', /no colour decision/],
    ['<ColorCorrection><Slope>1 1</Slope></ColorCorrection>', /Slope should be 3 numbers/],
    ['<ColorCorrection><Saturation>much</Saturation></ColorCorrection>', /Saturation should be a number/],
    ['<ColorCorrection><Power>1 0 1</Power></ColorCorrection>', /above 0/],
  ])('%j is refused in a sentence', (text, words) => expect(() => readDecision(text)).toThrow(words));
});
