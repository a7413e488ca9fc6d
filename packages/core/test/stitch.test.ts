/** Lenses: the model and its inverse, calibration against known lenses, matching and the seam on made-up overlaps. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Vec3 } from '../src/geometry/rotation.js';
import { calibrate, CalibrationError, seamError } from '../src/stitch/calibrate.js';
import { focalOf, lensAngle, lensDirection, lensPixel, lensRadius, type Lens } from '../src/stitch/lens.js';
import { bandDirection, bandPlace, lensMapper, overlapHalf, pictureOf, type Picture } from '../src/stitch/overlap.js';
import { housed, ratiosAt, SEAM_POINTS, seamAt, SECTORS, sphereWidth, twoLenses } from '../src/stitch/source.js';
import { cheapestSeam, overlapLooker, trackOf } from '../src/stitch/track.js';
import { readSource, SourceError } from '../src/stitch/validate.js';

const LENS: Lens = {
  centreX: 360,
  centreY: 360,
  radius: 350,
  fov: 204,
  k1: -0.008,
  k2: 0.001,
  pan: 3,
  tilt: -2,
  roll: 1,
};
const unit = (v: Vec3): Vec3 => {
  const n = Math.hypot(...v);
  return [v[0] / n, v[1] / n, v[2] / n];
};

describe('the lens model', () => {
  test('draws the edge of its field of view at its radius, and its axis at its centre', () => {
    expect(lensRadius(LENS, (102 * Math.PI) / 180)).toBeCloseTo(350, 9);
    const axis = lensDirection(LENS, 360, 360);
    expect(lensPixel(LENS, axis)).toMatchObject({ x: expect.closeTo(360, 6), y: expect.closeTo(360, 6) });
  });

  test('without radial terms is the equidistant fisheye: ffmpeg and textbooks put 90° at r = 90 / (fov / 2)', () => {
    const plain = { ...LENS, k1: 0, k2: 0, pan: 0, tilt: 0, roll: 0, fov: 180 };
    expect(lensPixel(plain, [1, 0, 0])).toMatchObject({ x: expect.closeTo(710, 6), y: expect.closeTo(360, 6) });
    expect(lensPixel(plain, [0, Math.SQRT1_2, Math.SQRT1_2]).y).toBeCloseTo(360 - 175, 6);
    expect(focalOf(plain)).toBeCloseTo(350 / (Math.PI / 2), 9);
  });

  test('pixel to direction and back is the identity, in the whole circle, for lenses as they come', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 0.999, noNaN: true }),
        fc.double({ min: -180, max: 180, noNaN: true }),
        fc.double({ min: 150, max: 235, noNaN: true }),
        fc.double({ min: -0.02, max: 0.02, noNaN: true }),
        fc.double({ min: -180, max: 180, noNaN: true }),
        (share, turn, fov, k1, pan) => {
          const lens = { ...LENS, fov, k1, pan };
          const [x, y] = [360 + share * 350 * Math.cos(turn), 360 + share * 350 * Math.sin(turn)];
          const back = lensPixel(lens, lensDirection(lens, x, y));
          expect(Math.hypot(back.x - x, back.y - y)).toBeLessThan(1e-5);
          expect(lensAngle(lens, lensRadius(lens, back.theta))).toBeCloseTo(back.theta, 8);
        },
      ),
    );
  });

  test('places round the seam come back as they went', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -179, max: 180, noNaN: true }),
        fc.double({ min: -80, max: 80, noNaN: true }),
        (azimuth, offset) => {
          const place = bandPlace(bandDirection(azimuth, offset));
          expect(Math.abs(place.azimuth - azimuth)).toBeLessThan(1e-9);
          expect(Math.abs(place.offset - offset)).toBeLessThan(1e-9);
        },
      ),
    );
    expect(bandDirection(90, 0).map((v) => Math.round(v * 1e9) / 1e9)).toEqual([1, 0, -0]);
    expect(bandDirection(0, 90)[2]).toBeCloseTo(-1);
  });

  test('a housing narrows what a lens sees', () => {
    expect(housed(LENS, 'underwater').fov).toBeLessThan(housed(LENS, 'guard').fov);
    expect(housed(LENS, 'bare')).toEqual(LENS);
  });
});

const SIDE = 720;
const nominal: [Lens, Lens] = [
  { centreX: 360, centreY: 360, radius: 352, fov: 204, k1: 0, k2: 0, pan: 0, tilt: 0, roll: 0 },
  { centreX: 1080, centreY: 360, radius: 352, fov: 204, k1: 0, k2: 0, pan: 180, tilt: 0, roll: 0 },
];
const truth: [Lens, Lens] = [
  { ...nominal[0], centreX: 361, centreY: 359.2, fov: 205, k1: -0.005 },
  { ...nominal[1], centreX: 1078.4, centreY: 361.1, fov: 203.1, pan: 180.8, tilt: -0.7, roll: 1.1 },
];

/** Blobs scattered over the sphere: something to see everywhere, with nothing alike. */
function scene(count = 4000) {
  let state = 7;
  const random = () => (state = (state * 16807) % 2147483647) / 2147483647;
  const cells = new Map<string, { d: Vec3; size: number; tone: number }[]>();
  const cell = (v: Vec3) => v.map((c) => Math.floor(c * 10)).join();
  for (let i = 0; i < count; i++) {
    const d = unit([random() - 0.5, random() - 0.5, random() - 0.5]);
    const key = cell(d);
    cells.set(key, [...(cells.get(key) ?? []), { d, size: 0.012 + 0.02 * random(), tone: random() < 0.5 ? -70 : 70 }]);
  }
  return (v: Vec3) => {
    const [a, b, c] = v.map((x) => Math.floor(x * 10)) as [number, number, number];
    let tone = 128;
    for (let i = -1; i <= 1; i++)
      for (let j = -1; j <= 1; j++)
        for (let k = -1; k <= 1; k++)
          for (const blob of cells.get(`${a + i},${b + j},${c + k}`) ?? []) {
            const r = Math.hypot(v[0] - blob.d[0], v[1] - blob.d[1], v[2] - blob.d[2]) / blob.size;
            if (r < 2) tone += blob.tone * Math.exp(-r * r * 1.5);
          }
    return tone;
  };
}

/** What the true lenses draw of a scene, with a gain for each lens. */
function film(lenses: [Lens, Lens], look: (d: Vec3) => number, gains = [1, 1]): Picture {
  const bytes = new Uint8Array((2 * SIDE * SIDE * 3) / 2).fill(128);
  for (let y = 0; y < SIDE; y++)
    for (let x = 0; x < 2 * SIDE; x++) {
      const n = x < SIDE ? 0 : 1;
      const lens = lenses[n]!;
      const r2 = (x + 0.5 - lens.centreX) ** 2 + (y + 0.5 - lens.centreY) ** 2;
      const inside = r2 < lens.radius ** 2;
      // Away from the seam nothing is looked at.
      const tone = inside && r2 > (0.8 * lens.radius) ** 2 ? look(lensDirection(lens, x + 0.5, y + 0.5)) : 128;
      bytes[y * 2 * SIDE + x] = Math.max(0, Math.min(255, Math.round(inside ? 16 + (tone - 16) * gains[n]! : 16)));
    }
  return pictureOf(bytes, 2 * SIDE, SIDE);
}

const filmed = film(truth, scene());
const grey = film(nominal, () => 120);

describe('calibration', () => {
  test('brings lenses that are off by a degree and more to below a tenth', () => {
    expect(seamError(nominal, truth).mean).toBeGreaterThan(0.8);
    const found = calibrate(filmed, nominal);
    expect(found.before).toBeGreaterThan(0.8);
    expect(found.after).toBeLessThan(0.08);
    expect(found.used).toBeGreaterThan(60);
    const { mean, worst } = seamError(found.lenses, truth);
    expect(mean).toBeLessThan(0.05);
    expect(worst).toBeLessThan(0.1);
  });

  test('leaves right lenses right', () => {
    const found = calibrate(filmed, truth);
    expect(seamError(found.lenses, truth).worst).toBeLessThan(0.08);
  });

  test('says so when there is nothing to compare', () => {
    expect(() =>
      calibrate(
        film(nominal, () => 120),
        nominal,
      ),
    ).toThrow(CalibrationError);
    const narrow = nominal.map((l) => ({ ...l, fov: 178 })) as [Lens, Lens];
    expect(() => calibrate(grey, narrow)).toThrow(/overlap too little/);
  });
});

describe('matching and the seam', () => {
  const source = twoLenses(2 * SIDE, SIDE, 204, nominal);

  test('finds the ratio of two lenses of different brightness, evenly all round', () => {
    const look = overlapLooker(source)!(film(nominal, scene(), [1, 0.85]));
    for (const ratio of look.ratios) expect(Math.abs(ratio - Math.log(1 / 0.85))).toBeLessThan(0.015);
  });

  test('goes round a place where the lenses differ, and keeps to the middle where they do not', () => {
    const clean = scene();
    // Near the azimuth of 90° the second lens sees something that the first does not, beyond the middle.
    const near = film(nominal, clean);
    const map = lensMapper(nominal[1]);
    for (let azimuth = 80; azimuth <= 100; azimuth += 0.1)
      for (let offset = -1; offset <= 4; offset += 0.1) {
        const [x, y] = map(bandDirection(azimuth, offset));
        near.y[Math.floor(y) * near.width + Math.floor(x)] = 235;
      }
    const track = trackOf([overlapLooker(source)!(near)]);
    const seam = track.seam[0]!;
    expect(seam[18]!).toBeLessThan(-0.8);
    expect(Math.abs(seam[0]!)).toBeLessThan(0.3);
    expect(Math.abs(seam[54]!)).toBeLessThan(0.3);
    // Neighbours never part by more than the band allows, so that no step shows.
    seam.forEach((v, i) => expect(Math.abs(v - seam[(i + 1) % SEAM_POINTS]!)).toBeLessThan(2.5));
  });

  test('stays where it was unless moving pays', () => {
    const rows = 25;
    const costs = new Float32Array(SEAM_POINTS * rows).fill(1);
    const before = new Array<number>(SEAM_POINTS).fill(15);
    expect(cheapestSeam(costs, before)).toEqual(before);
  });

  test('a track is read between its moments, and off means off', () => {
    const track = {
      every: 1,
      ratios: [new Array<number>(SECTORS * 3).fill(0), new Array<number>(SECTORS * 3).fill(0.2)],
      seam: [new Array<number>(SEAM_POINTS).fill(0), new Array<number>(SEAM_POINTS).fill(2)],
    };
    const moving = { ...source, track };
    expect(ratiosAt(moving, 0.5)![0]).toBeCloseTo(0.1);
    expect(seamAt(moving, 0.25)[9]).toBeCloseTo(0.5);
    expect(seamAt(moving, 99)[9]).toBe(2);
    expect(ratiosAt({ ...moving, match: 'off' }, 0.5)).toBeNull();
    expect(seamAt({ ...moving, seam: 'straight' }, 1)[9]).toBe(0);
  });

  test('how far the lenses overlap and how wide the sphere is', () => {
    expect(overlapHalf(nominal, 0)).toBeCloseTo(12, 1);
    expect(sphereWidth({ kind: 'sphere' }, 3840)).toBe(3840);
    expect(sphereWidth({ kind: 'part', left: -90, right: 90, top: 90, bottom: -90 }, 1920)).toBe(3840);
    expect(sphereWidth(source, 2 * SIDE)).toBe(Math.round((2 * Math.PI * focalOf(nominal[0])) / 64) * 64);
  });
});

describe('a source document', () => {
  const good = twoLenses(2 * SIDE, SIDE, 204, nominal);
  test('is taken when it is right', () => {
    expect(readSource(JSON.parse(JSON.stringify(good)))).toEqual(good);
    expect(readSource({ kind: 'sphere', stereo: { layout: 'over-under', eye: 'first' } }).kind).toBe('sphere');
  });
  test.each<[string, unknown, RegExp]>([
    ['no kind', {}, /kind must be one of/],
    ['a lens of no width', { ...good, lenses: [{ ...nominal[0], fov: 20 }, nominal[1]] }, /fov/],
    ['one lens of two', { ...good, lenses: [nominal[0]] }, /lenses/],
    ['an endless feather', { ...good, feather: 90 }, /feather/],
    ['a track of another shape', { ...good, track: { every: 1, ratios: [[1]], seam: [[2]] } }, /track/],
    ['edges the wrong way round', { kind: 'part', left: 90, right: -90, top: 90, bottom: -90 }, /edges/],
    ['a foreign eye', { kind: 'sphere', stereo: { layout: 'over-under', eye: 'third' } }, /eye/],
  ])('%s is refused in words', (_, plain, words) => {
    expect(() => readSource(plain)).toThrow(SourceError);
    expect(() => readSource(plain)).toThrow(words);
  });
});
