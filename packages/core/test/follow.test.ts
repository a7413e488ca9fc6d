/** Following: transforms, filters against known shifts and sizes, the tracker on a made sphere, and the framing rule. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { boxMeans, ColourModel } from '../src/follow/colours.js';
import { peakOf, CorrelationFilter, Spectrum } from '../src/follow/correlation.js';
import { CHANNELS, featuresOf, hann } from '../src/follow/features.js';
import { complexOf, Fourier } from '../src/follow/fft.js';
import { aimAt, followingOf, shareAt } from '../src/follow/following.js';
import { boxDrawn } from '../src/follow/point-out.js';
import { USUAL_RULE, type Follow } from '../src/follow/rule.js';
import { ScaleFilter } from '../src/follow/scale.js';
import { cellOf, glimpse, glimpseOf, SphereFrame } from '../src/frame/sphere-frame.js';
import { isSeen, lostStretches, readSubject, type SubjectLook, type SubjectTrack } from '../src/follow/subject.js';
import { uprightTo } from '../src/follow/aim.js';
import { SubjectTracker } from '../src/follow/tracker.js';
import {
  angleBetween,
  apply,
  RADIANS,
  IDENTITY,
  multiply,
  rotationOf,
  transpose,
  unit,
  vec3,
  type Matrix3,
  type Vec3,
} from '../src/geometry/rotation.js';
import { directionOf } from '../src/geometry/sphere.js';
import { cameraOf, DEFAULT_VIEW, directionAt, pixelOf } from '../src/lens/view.js';
import { seededRandom } from '../src/random.js';
import { newTake } from '../src/take/take.js';
import { readTake } from '../src/take/validate.js';

const [W, H] = [480, 240];

/** Directions of all pixels, once. */
const DIRECTIONS = Array.from({ length: W * H }, (_, i) =>
  directionOf((((i % W) + 0.5) / W - 0.5) * 360, (0.5 - (Math.floor(i / W) + 0.5) / H) * 180),
);

/** Soft noise, as light. */
function noise(turn: Matrix3): Uint8Array {
  const random = seededRandom(7);
  const waves = Array.from({ length: 6 }, () => [0, 1, 2, 3].map(() => (random() - 0.5) * 24));
  return Uint8Array.from(DIRECTIONS, (direction) => {
    const [x, y, z] = apply(turn, direction);
    return waves.reduce((sum, [a, b, c, phase]) => sum + 4 * Math.sin(a! * x + b! * y + c! * z + phase!), 120);
  });
}
const STILL_NOISE = noise(IDENTITY);

/** A sphere of noise with a coloured disc of rings, `size` degrees across, in a direction of the world, or without one. */
function sphere(at: Vec3 | null, size = 20, turn?: Matrix3): SphereFrame {
  const luma = turn ? noise(turn) : STILL_NOISE.slice();
  const tints = [new Uint8Array((W * H) / 4).fill(120), new Uint8Array((W * H) / 4).fill(122)] as const;
  const half = ((size / 2) * Math.PI) / 180;
  const axes = at && transpose(multiply(turn ? transpose(turn) : IDENTITY, uprightTo(at)));
  for (let i = 0; axes && i < W * H; i++) {
    const d = DIRECTIONS[i]!;
    if (axes[6] * d[0] + axes[7] * d[1] + axes[8] * d[2] < Math.cos(half)) continue;
    const off = Math.acos(Math.min(1, axes[6] * d[0] + axes[7] * d[1] + axes[8] * d[2]));
    luma[i] = 90 + 60 * Math.sign(Math.sin((off / half) * 6));
    const [x, y] = [i % W, Math.floor(i / W)];
    const t = (y >> 1) * (W / 2) + (x >> 1);
    tints[0][t] = 90;
    tints[1][t] = 170;
  }
  return new SphereFrame({ width: W, height: H, planes: [luma, ...tints] });
}

test('the transform is that of the definition, and its inverse undoes it', () => {
  const side = 8;
  const random = seededRandom(3);
  const data = complexOf(side * side);
  for (let i = 0; i < side * side; i++) [data.re[i], data.im[i]] = [random() - 0.5, random() - 0.5];
  const before = { re: data.re.slice(), im: data.im.slice() };
  const fourier = new Fourier(side);
  fourier.forward(data);
  for (const [u, v] of [
    [0, 0],
    [1, 0],
    [3, 5],
    [7, 2],
  ] as const) {
    let [re, im] = [0, 0];
    for (let y = 0; y < side; y++)
      for (let x = 0; x < side; x++) {
        const a = (-2 * Math.PI * (u * x + v * y)) / side;
        const [r, m] = [before.re[y * side + x]!, before.im[y * side + x]!];
        re += r * Math.cos(a) - m * Math.sin(a);
        im += r * Math.sin(a) + m * Math.cos(a);
      }
    expect(data.re[v * side + u]).toBeCloseTo(re, 9);
    expect(data.im[v * side + u]).toBeCloseTo(im, 9);
  }
  fourier.inverse(data);
  data.re.forEach((r, i) => expect(r).toBeCloseTo(before.re[i]!, 12));
  expect(() => new Fourier(12)).toThrow(RangeError);
});

describe('a look', () => {
  test('is upright, and sees the direction that it looks in', () => {
    fc.assert(
      fc.property(fc.integer({ min: -180, max: 180 }), fc.integer({ min: -89, max: 89 }), (lon, lat) => {
        const d = directionOf(lon, lat);
        const m = uprightTo(d);
        expect(angleBetween(apply(m, [0, 0, 1]), d)).toBeLessThan(1e-5);
        expect(m[3]).toBeCloseTo(0, 9);
        multiply(m, transpose(m)).forEach((v, i) => expect(v).toBeCloseTo(IDENTITY[i]!, 9));
      }),
    );
  });

  test('goes over the seam and the poles like anywhere else', () => {
    const look = glimpseOf(32);
    const middles = (
      [
        [180, 0],
        [-179, 10],
        [40, 88],
        [0, -90],
        [12, 3],
      ] as const
    ).map(([lon, lat]) => {
      const at = directionOf(lon, lat);
      glimpse(sphere(at, 24), uprightTo(at), 0.8, look);
      return look.planes[2][16 * 32 + 16]!;
    });
    for (const red of middles) expect(red).toBe(170);
  });
});

test('a line drawn round something is a box of degrees, however it goes round, also near the pole and over the seam', () => {
  const camera = cameraOf({ ...DEFAULT_VIEW, pan: 175, tilt: -10 }, 640, 360);
  const corners = [
    [300, 120],
    [340, 120],
    [340, 240],
    [300, 240],
  ].map(([x, y]) => directionAt(camera, x!, y!));
  const box = boxDrawn(corners)!;
  const pixel = pixelOf(camera, box.direction)!;
  expect(pixel.x).toBeCloseTo(320, 6);
  expect(pixel.y).toBeCloseTo(180, -1);
  expect(box.height / box.width).toBeGreaterThan(2.8);
  const again = boxDrawn([...corners].reverse())!;
  expect(again.width).toBeCloseTo(box.width, 9);
  expect(angleBetween(again.direction, box.direction)).toBeCloseTo(0, 9);
  fc.assert(
    fc.property(
      fc.double({ min: -180, max: 180, noNaN: true }),
      fc.double({ min: -88, max: 88, noNaN: true }),
      fc.double({ min: 2, max: 60, noNaN: true }),
      (longitude, latitude, size) => {
        const at = directionOf(longitude, latitude);
        const round = Array.from({ length: 60 }, (_, i) => {
          const [a, half] = [(i / 60) * 2 * Math.PI, (size / 2) * RADIANS];
          return apply(uprightTo(at), [Math.sin(half) * Math.cos(a), Math.sin(half) * Math.sin(a), Math.cos(half)]);
        });
        const found = boxDrawn(round)!;
        expect(angleBetween(found.direction, at) / RADIANS).toBeLessThan(0.2);
        expect(Math.abs(found.width - size)).toBeLessThan(0.3);
        expect(Math.abs(found.height - size)).toBeLessThan(0.3);
      },
    ),
  );
});

test('a line beyond the projection, or round more than half of everything, is no box; a mere stroke has a least width', () => {
  expect(boxDrawn([directionOf(0, 0), null, directionOf(2, 0)])).toBeNull();
  expect(boxDrawn([directionOf(0, 0), directionOf(120, 0), directionOf(-120, 0)])).toBeNull();
  expect(boxDrawn([directionOf(0, 0), directionOf(0, 5)])!.width).toBe(0.5);
});

test('a look is as wide as it says', () => {
  // A disc 20 degrees across in a look 40 degrees wide takes half of its middle row.
  const at = directionOf(-50, 20);
  const look = glimpseOf(64);
  glimpse(sphere(at, 20), uprightTo(at), (40 * Math.PI) / 180, look);
  const row = Array.from(look.planes[2].slice(32 * 64, 33 * 64));
  const own = row.filter((v) => v === 170).length;
  expect(own).toBeGreaterThanOrEqual(30);
  expect(own).toBeLessThanOrEqual(35);
  expect(64 * cellOf(1e-3, 64)).toBeCloseTo(1e-3, 6);
});

describe('the filters', () => {
  const at = directionOf(30, 10);
  const frame = sphere(at, 20);
  const across = (20 * 2.4 * Math.PI) / 180;
  const spectrum = new Spectrum(64, CHANNELS);
  const seen = (toPicture: Matrix3, width = across) => {
    const look = glimpseOf(64);
    const features = Array.from({ length: CHANNELS }, () => new Float32Array(64 * 64));
    glimpse(frame, toPicture, width, look);
    featuresOf(look, features);
    return spectrum.of(features, hann(64));
  };

  test('find a known shift', () => {
    const cell = cellOf(across, 64);
    const filter = new CorrelationFilter(spectrum, 26);
    filter.learn(seen(uprightTo(at)), 1);
    // Another one that holds what lies five cells to the right for the middle answers as much further left.
    const other = new CorrelationFilter(spectrum, 26);
    const beside = apply(uprightTo(at), [-5 * cell, 0, 1]);
    other.learn(seen(uprightTo(unit(vec3(beside)))), 1);
    for (const [right, up] of [
      [0, 0],
      [4, -3],
      [-7.4, 2.3],
    ] as const) {
      const aside = apply(uprightTo(at), [-right * cell, -up * cell, 1]);
      const [map, others] = spectrum.answers(seen(uprightTo(unit(vec3(aside)))), filter, other);
      const { x, y } = peakOf(map, 64);
      expect(Math.abs(x - right)).toBeLessThan(0.7);
      expect(Math.abs(y + up)).toBeLessThan(0.7);
      expect(Math.abs(peakOf(others, 64).x - (right - 5))).toBeLessThan(0.9);
    }
  });

  test('find a known size', () => {
    const scale = new ScaleFilter();
    scale.learn(frame, uprightTo(at), 0.45, 1);
    for (const factor of [0.92, 1, 1.06, 1.12]) {
      // A step at a time, as from frame to frame.
      let across = 0.45 / factor;
      for (let k = 0; k < 8; k++) across *= scale.find(frame, uprightTo(at), across);
      expect(across / 0.45).toBeGreaterThan(0.95);
      expect(across / 0.45).toBeLessThan(1.05);
    }
  });
});

describe('the tracker', () => {
  /** Errors in degrees, size over its truth, and trust, along a way. */
  function along(
    way: (n: number) => Vec3,
    frames: number,
    {
      size = () => 20,
      hidden = () => false,
      turn,
    }: {
      size?: (n: number) => number;
      hidden?: (n: number) => boolean;
      turn?: (n: number) => Matrix3;
    } = {},
  ) {
    const at = (n: number) => (turn ? apply(transpose(turn(n)), way(n)) : way(n));
    const frameOf = (n: number) => sphere(hidden(n) ? null : way(n), size(n), turn?.(n));
    const tracker = new SubjectTracker(frameOf(0), { direction: at(0), width: size(0), height: size(0) });
    return Array.from({ length: frames }, (_, k) => {
      const n = k + 1;
      const step = turn ? multiply(transpose(turn(n)), turn(k)) : null;
      const found = tracker.step(frameOf(n), { turn: step });
      return {
        error: angleBetween(found.direction, at(n)),
        size: Math.max(found.width, found.height) / size(n),
        trust: found.trust,
      };
    });
  }

  test('goes across the seam, and over a pole', () => {
    for (const way of [
      (n: number) => directionOf(165 + 1.2 * n, -5),
      (n: number) => directionOf(n < 20 ? 10 : -170, n < 20 ? 66 + 1.2 * n : 114 - 1.2 * n),
    ]) {
      const found = along(way, 34);
      expect(Math.max(...found.slice(2).map((f) => f.error))).toBeLessThan(1.5);
      expect(found.every((f) => f.trust > 0.35)).toBe(true);
    }
  });

  test('goes with a rig that turns quickly, where its motion is known', () => {
    const turn = (n: number) => rotationOf({ pan: 7 * n, tilt: 3 * Math.sin(n), roll: 0 });
    const found = along(() => directionOf(20, 5), 20, { turn });
    expect(Math.max(...found.map((f) => f.error))).toBeLessThan(1);
  });

  /** A tower without any colour in noise as light as it is, 10 × 20 degrees: dark to the left, its windows to the right. */
  function tower(at: Vec3, turn: Matrix3): SphereFrame {
    const luma = noise(turn);
    const axes = transpose(multiply(transpose(turn), uprightTo(at)));
    for (let i = 0; i < W * H; i++) {
      const [x, y, z] = apply(axes, DIRECTIONS[i]!);
      if (z < 0 || Math.abs(x) > 0.087 || Math.abs(y) > 0.174) continue;
      luma[i] = x < 0 ? 105 : y > 0.1 ? 125 : 125 + 18 * Math.sign(Math.sin(70 * y));
    }
    const tint = new Uint8Array((W * H) / 4).fill(128);
    return new SphereFrame({ width: W, height: H, planes: [luma, tint, tint] });
  }

  test('is never lost by a rig that rolls right over, again and again, and shakes, where its motion is known', () => {
    const at = directionOf(25, 8);
    const shake = (n: number) => rotationOf({ pan: 2 * Math.sin(2.3 * n), tilt: 2 * Math.sin(3.1 * n), roll: 0 });
    const turn = (n: number) => multiply(shake(n), rotationOf({ pan: 0, tilt: 0, roll: 5 * n }));
    const seen = (n: number) => apply(transpose(turn(n)), at);
    const tracker = new SubjectTracker(tower(at, turn(0)), { direction: seen(0), width: 10, height: 20 });
    for (let n = 1; n < 90; n++) {
      const found = tracker.step(tower(at, turn(n)), { turn: multiply(transpose(turn(n)), turn(n - 1)) });
      expect(found.trust).toBeGreaterThan(0.35);
      expect(angleBetween(found.direction, seen(n))).toBeLessThan(1);
    }
  });

  test('says that it is gone, and finds it again', () => {
    const found = along((n) => directionOf(0.6 * n, 0), 44, { hidden: (n) => n >= 12 && n < 30 });
    expect(found.slice(14, 28).every((f) => f.trust < 0.35)).toBe(true);
    expect(found.slice(38).every((f) => f.trust >= 0.35 && f.error < 1.5)).toBe(true);
  });
});

describe('a subject', () => {
  const look = (lon: number, trust = 1): SubjectLook => {
    const [x, y, z] = directionOf(lon, 0);
    return [x, y, z, 8, 12, trust];
  };
  const track = (looks: (SubjectLook | null)[]): SubjectTrack => ({
    format: 'glimbo-subject',
    version: 2,
    rate: 10,
    looks,
  });

  test('is lost where it is not seen for a second', () => {
    const looks = [
      ...Array.from({ length: 10 }, () => look(0)),
      ...Array.from({ length: 15 }, () => look(0, 0.1)),
      look(5),
    ];
    expect(lostStretches(track(looks))).toEqual([{ in: 1, out: 2.5 }]);
    expect(lostStretches(track(looks.slice(0, 18)))).toEqual([]);
    expect(isSeen(null)).toBe(false);
  });

  test('is read from its document, or refused with a reason', () => {
    const whole = track([look(3), null]);
    expect(readSubject(JSON.parse(JSON.stringify(whole)))).toEqual(whole);
    // One of the first version has one size.
    const first = readSubject({ ...whole, version: 1, looks: [[0, 0, 1, 12, 0.5], null] });
    expect(first).toEqual(track([[0, 0, 1, 12, 12, 0.5], null]));
    for (const wrong of [
      null,
      {},
      { ...whole, version: 3 },
      { ...whole, rate: 0 },
      { ...whole, looks: 3 },
      { ...whole, looks: [[1, 1, 1, 5, 5, 1]] },
      { ...whole, looks: [[0, 0, 1, 5, 1]] },
      { ...whole, looks: [[0, 0, 1, 5, 200, 1]] },
      { ...whole, version: 1, looks: [[0, 0, 1, 0, 1]] },
    ])
      expect(() => readSubject(wrong)).toThrow();
  });

  const rule: Follow = { ...USUAL_RULE, subject: 'a.json', in: 0, out: 20, blend: 0, soft: 0 };
  const still = { at: () => IDENTITY };
  const following = (over: Partial<Follow>, looks: SubjectLook[]) =>
    followingOf([{ ...rule, ...over }], () => track(looks), still)!;
  const placeIn = (view: typeof DEFAULT_VIEW, direction: Vec3, ratio = 16 / 9) => {
    const camera = cameraOf(view, 1600 * ratio, 1600);
    const p = pixelOf(camera, direction)!;
    return [p.x / (camera.width / 2) - 1, 1 - p.y / (camera.height / 2)];
  };

  test('stands in the frame where the rule says, in every format and lens', () => {
    fc.assert(
      fc.property(
        fc.record({
          lon: fc.integer({ min: -179, max: 179 }),
          lat: fc.integer({ min: -50, max: 50 }),
          x: fc.integer({ min: -60, max: 60 }),
          y: fc.integer({ min: -60, max: 60 }),
          roll: fc.integer({ min: -30, max: 30 }),
          bend: fc.constantFrom(0, 1),
          ratio: fc.constantFrom(16 / 9, 9 / 16, 1),
        }),
        ({ lon, lat, x, y, roll, bend, ratio }) => {
          const view = { ...DEFAULT_VIEW, roll, bend, fov: 70 };
          const direction = directionOf(lon, lat);
          const aim = aimAt(view, direction, x / 100, y / 100, ratio);
          // Straight up and down are not left: nearly there it stands elsewhere.
          if (Math.abs(aim.tilt) > 89.9) return;
          const [px, py] = placeIn({ ...view, ...aim }, direction, ratio);
          expect(px).toBeCloseTo(x / 100, 6);
          expect(py).toBeCloseTo(y / 100, 6);
        },
      ),
    );
  });

  test('keeps its size by zooming, and its room ahead', () => {
    const looks = Array.from({ length: 40 }, (_, n) => look(3 * n));
    const zoomed = following({ size: 40 }, looks)(DEFAULT_VIEW, 2, 16 / 9);
    const half = (6 * Math.PI) / 180;
    expect((2 * Math.tan(half)) / cameraOf(zoomed, 1600, 900).scale / 900).toBeCloseTo(0.4, 2);
    // It goes to the right at 30 degrees a second: half of the room is behind it.
    const ahead = following({ ahead: 0.6, soft: 0.2 }, looks)(DEFAULT_VIEW, 2, 16 / 9);
    expect(placeIn(ahead, directionOf(60, 0))[0]).toBeCloseTo(-0.3, 1);
  });

  test('is come to and left softly; the pan goes on round', () => {
    const looks = Array.from({ length: 100 }, (_, n) => look(5 * n));
    const blended = { ...rule, in: 2, out: 8, blend: 1 };
    expect([shareAt(blended, 1.9), shareAt(blended, 2.5), shareAt(blended, 5), shareAt(blended, 8)]).toEqual([
      0, 0.5, 1, 0,
    ]);
    const seen = following({ in: 2, out: 8, blend: 1 }, looks);
    expect(seen(DEFAULT_VIEW, 1, 1)).toBe(DEFAULT_VIEW);
    expect(seen({ ...DEFAULT_VIEW, pan: 300 }, 6, 1).pan).toBeCloseTo(300, 6);
  });

  test('softness takes the tremble out, a dead zone lets the camera rest', () => {
    const random = seededRandom(5);
    const looks = Array.from({ length: 200 }, (_, n) => look(0.5 * n + random() * 2));
    const pans = (over: Partial<Follow>) =>
      Array.from({ length: 100 }, (_, k) => following(over, looks)(DEFAULT_VIEW, 5 + k / 10, 1).pan);
    const jerk = (list: number[]) =>
      Math.max(...list.slice(3).map((_, i) => Math.abs(list[i + 3]! - 3 * list[i + 2]! + 3 * list[i + 1]! - list[i]!)));
    expect(jerk(pans({ soft: 0.8 }))).toBeLessThan(jerk(pans({})) / 10);
    const resting = Array.from({ length: 60 }, (_, n) => look(n % 2 ? 1 : -1));
    const held = Array.from(
      { length: 40 },
      (_, k) => followingOf([{ ...rule, dead: 4 }], () => track(resting), still)!(DEFAULT_VIEW, 1 + k / 10, 1).pan,
    );
    expect(Math.max(...held) - Math.min(...held)).toBeLessThan(1e-6);
  });

  test('nobody is followed where nothing is known; takes are checked', () => {
    expect(followingOf([rule], () => null, still)).toBeNull();
    expect(followingOf([rule], () => track([look(0, 0)]), still)).toBeNull();
    const take = { ...newTake('a.mp4', 20), follows: [rule] };
    expect(readTake(structuredClone(take)).follows).toEqual([rule]);
    for (const wrong of [{ x: 2 }, { in: 5, out: 5 }, { subject: '' }, { soft: -1 }])
      expect(() => readTake({ ...take, follows: [{ ...rule, ...wrong }] })).toThrow();
  });
});

describe('colours', () => {
  const look = glimpseOf(32);
  const half = { x: 6, y: 6 };
  look.planes[0].fill(100);
  look.planes[1].fill(128);
  look.planes[2].fill(128);
  for (let i = 0; i < 32 * 32; i++)
    if (Math.hypot((i % 32) + 0.5 - 16, Math.floor(i / 32) + 0.5 - 16) < 6) look.planes[2][i] = 180;

  test('say which cells belong to the subject', () => {
    const model = new ColourModel();
    model.learn(look, half, 1);
    const likely = new Float32Array(32 * 32);
    model.likely(look, likely);
    expect(likely[16 * 32 + 16]).toBeGreaterThan(0.9);
    expect(likely[2 * 32 + 2]).toBeLessThan(0.1);
    const means = boxMeans(likely, 32, { x: 4, y: 4 });
    const best = means.indexOf(Math.max(...means));
    expect(Math.hypot((best % 32) - 16, Math.floor(best / 32) - 16)).toBeLessThan(2.9);
  });

  test('means over boxes are those of the definition', () => {
    const random = seededRandom(9);
    const map = Float32Array.from({ length: 64 }, random);
    const means = boxMeans(map, 8, { x: 2, y: 1 });
    for (const [x, y] of [
      [4, 4],
      [0, 0],
      [7, 2],
    ] as const) {
      let sum = 0;
      for (let j = y - 1; j < y + 1; j++)
        for (let i = x - 2; i < x + 2; i++) if (i >= 0 && j >= 0 && i < 8 && j < 8) sum += map[j * 8 + i]!;
      expect(means[y * 8 + x]).toBeCloseTo(sum / 8, 5);
    }
  });
});

test('smaller sizes of a frame are means of it', () => {
  const frame = sphere(directionOf(10, 0));
  const whole = frame.levelFor(0);
  const half = frame.levelFor((2 * Math.PI * 2) / W);
  expect([half.width, half.height]).toEqual([W / 2, H / 2]);
  const at = (x: number, y: number) => whole.planes[0][y * W + x]!;
  expect(half.planes[0][30 * (W / 2) + 50]).toBe((at(100, 60) + at(101, 60) + at(100, 61) + at(101, 61) + 2) >> 2);
  expect(frame.levelFor(10).width).toBe(W / 8);
  // A part that is asked for by itself is what it is in the whole.
  const part = sphere(directionOf(10, 0)).levelFor((2 * Math.PI * 4) / W, 0.4, 0.5);
  const all = frame.levelFor((2 * Math.PI * 4) / W);
  const rows = (p: number, from: number, to: number) => {
    const w = W / (p === 0 ? 4 : 8);
    return [part, all].map((level) => level.planes[p]!.slice(from * w, to * w));
  };
  for (const [mine, theirs] of [rows(0, 24, 30), rows(1, 12, 15), rows(2, 12, 15)]) expect(mine).toEqual(theirs);
});
