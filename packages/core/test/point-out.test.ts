/** What was pressed on is found whole: a figure in three colours before a fence, and a block that lies. */
import { expect, test } from '@jest/globals';
import { boxAround, boxOfSize } from '../src/follow/point-out.js';
import { SphereFrame } from '../src/frame/sphere-frame.js';
import { standing } from '../src/follow/standing.js';
import { angleBetween } from '../src/geometry/rotation.js';
import { directionOf } from '../src/geometry/sphere.js';

const [W, H] = [960, 480];
type Colour = readonly [luma: number, blue: number, red: number];
const [SKY, GRASS, PALE, GAP] = [
  [225, 130, 126],
  [110, 110, 118],
  [210, 127, 128],
  [130, 112, 120],
] as const satisfies readonly Colour[];
const [HEAD, JACKET, TROUSERS] = [
  [170, 110, 150],
  [110, 80, 190],
  [50, 140, 125],
] as const satisfies readonly Colour[];

/** A picture of sky, fence and grass, in which a shape in degrees from its middle, right and up, may have other colours. */
function picture(at: { lon: number; lat: number }, shape: (x: number, y: number) => Colour | null): SphereFrame {
  const luma = new Uint8Array(W * H);
  const tints = [new Uint8Array((W * H) / 4), new Uint8Array((W * H) / 4)] as const;
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const [lon, lat] = [((x + 0.5) / W - 0.5) * 360, (0.5 - (y + 0.5) / H) * 180];
      const fence = Math.sin(lon * 3) > 0 ? PALE : GAP;
      const about = lat > 14 ? SKY : lat > -6 ? fence : GRASS;
      const off = ((lon - at.lon + 540) % 360) - 180;
      const [l, b, r] = shape(off, lat - at.lat) ?? about;
      luma[y * W + x] = l;
      const tint = (y >> 1) * (W / 2) + (x >> 1);
      tints[0][tint] = b;
      tints[1][tint] = r;
    }
  return new SphereFrame({ width: W, height: H, planes: [luma, ...tints] });
}

/** Somebody `tall` degrees high: a head, a jacket of half the height, trousers. */
const figure = (tall: number) => (x: number, y: number) => {
  const [across, up] = [Math.abs(x) / tall, y / tall];
  if (up > 0.5 || up < -0.5) return null;
  if (up > 0.32) return across < 0.08 ? HEAD : null;
  if (up > -0.12) return across < 0.15 ? JACKET : null;
  return across < 0.12 ? TROUSERS : null;
};

test.each([
  [10, 0, 3],
  [22, 179, -2],
])('somebody %d degrees high is found from hat to shoes by a press on the jacket', (tall, lon, lat) => {
  const frame = picture({ lon, lat }, figure(tall));
  const box = boxAround(frame, directionOf(lon + 0.03 * tall, lat + 0.12 * tall))!;
  expect(box.height / tall).toBeGreaterThan(0.8);
  expect(box.height / tall).toBeLessThan(1.2);
  expect(box.width).toBeLessThan(0.6 * tall);
  expect(angleBetween(box.direction, directionOf(lon, lat))).toBeLessThan(0.12 * tall);
});

test('where its size is said, the direction is its middle and its shape is found', () => {
  const somebody = boxOfSize(picture({ lon: 20, lat: 0 }, figure(18)), directionOf(20, 0), 18);
  expect(somebody.height).toBe(18);
  expect(somebody.width).toBeLessThan(9);
  const lying = picture({ lon: 20, lat: -10 }, (x, y) => (Math.abs(x) < 8 && Math.abs(y) < 4 ? JACKET : null));
  const box = boxOfSize(lying, directionOf(20, -10), 16);
  expect(box.width).toBe(16);
  expect(box.height).toBeLessThan(12);
  for (const found of [somebody.direction, box.direction])
    expect(Math.min(angleBetween(found, directionOf(20, 0)), angleBetween(found, directionOf(20, -10)))).toBeLessThan(
      1e-6,
    );
});

test('what lies is taken as it stands out', () => {
  const frame = picture({ lon: -60, lat: -10 }, (x, y) => (Math.abs(x) < 8 && Math.abs(y) < 3.5 ? JACKET : null));
  const box = boxAround(frame, directionOf(-59, -10))!;
  expect(box.width / 16).toBeGreaterThan(0.75);
  expect(box.width / 16).toBeLessThan(1.3);
  expect(standing(frame, box)).toBe(box);
});

test('on grass that is like the grass about it nothing stands out', () => {
  const frame = picture({ lon: 0, lat: 0 }, (x, y) => (Math.abs(x) < 2 && Math.abs(y) < 4 ? JACKET : null));
  for (const [lon, lat] of [
    [90, -45],
    [150, -60],
    [-100, -55],
  ] as const)
    expect(boxAround(frame, directionOf(lon, lat))).toBeNull();
  expect(boxAround(frame, directionOf(0, 0))).not.toBeNull();
});

test('a box ends where nothing stands beyond it', () => {
  const bare = picture({ lon: 0, lat: 0 }, (x, y) => (Math.abs(x) < 2 && Math.abs(y) < 4 ? JACKET : null));
  const box = standing(bare, { direction: directionOf(0, 0), width: 4, height: 6 });
  expect(box.height).toBeGreaterThan(7);
  expect(box.height).toBeLessThan(9.5);
});
