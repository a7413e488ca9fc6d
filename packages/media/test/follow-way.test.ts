/** How often somebody is looked at on the way, and what is told of the frames between. */
import { expect, test } from '@jest/globals';
import { foundOf, isSeen, type SubjectLook } from '@glimbo/core/follow/subject';
import { SphereFrame } from '@glimbo/core/frame/sphere-frame';
import {
  angleBetween,
  apply,
  dot,
  quaternionOf,
  RADIANS,
  rotationAbout,
  transpose,
} from '@glimbo/core/geometry/rotation';
import { directionOf } from '@glimbo/core/geometry/sphere';
import type { Motion } from '@glimbo/core/motion/motion';
import { followPictures } from '../src/follow-way.js';

const [W, H, RATE, FRAMES] = [480, 240, 30, 60];
const SIZE = 14;

const DIRECTIONS = Array.from({ length: W * H }, (_, i) =>
  directionOf((((i % W) + 0.5) / W - 0.5) * 360, (0.5 - (Math.floor(i / W) + 0.5) / H) * 180),
);

/** The rig turns; a spotted disc goes along a heading of the world by some degrees a frame. */
const turnAt = (n: number) => rotationAbout([0.004 * n, 0.01 * n, 0]);
const discAt = (n: number, speed: number) => directionOf(10 + speed * n, 4);

function picture(n: number, speed: number): SphereFrame {
  const luma = new Uint8Array(W * H);
  const disc = discAt(n, speed);
  const turn = turnAt(n);
  DIRECTIONS.forEach((seen, i) => {
    const d = apply(turn, seen);
    const on = dot(d, disc) > Math.cos((SIZE / 2) * RADIANS);
    const spots = Math.sin(14 * (d[1] - disc[1]) + 1) + Math.sin(23 * (d[0] - disc[0]) - 0.5);
    luma[i] = on ? 170 + 40 * spots : 90 + 25 * Math.sin(9 * d[0] + 7 * d[1]) + 15 * Math.sin(21 * d[2]);
  });
  const tint = () => new Uint8Array((W * H) / 4).fill(128);
  return new SphereFrame({ width: W, height: H, planes: [luma, tint(), tint()] });
}

const frames = Array.from({ length: FRAMES }, (_, n) => ({ orientation: quaternionOf(turnAt(n)) }));
const motion = { frames: frames as Motion['frames'] } as Motion;

/** Follows the disc from its first frame on: what is told of each frame, and how many were looked at. */
async function followed(speed: number) {
  const looks: SubjectLook[] = [];
  let looked = -1;
  const besideAt = async () => {
    looked++;
    return null;
  };
  const box = { direction: apply(transpose(turnAt(0)), discAt(0, speed)), width: SIZE, height: SIZE };
  function* seen() {
    for (let n = 0; n < FRAMES; n++) yield { n, picture: picture(n, speed) };
  }
  const way = { rate: RATE, from: 0, until: FRAMES, box };
  await followPictures(seen(), way, { motion, besideAt, strangers: null }, (n, look) => (looks[n] = look));
  return { looks, looked };
}

test.each([0.1, 1.4])('at %d° a frame every frame has its look, where it truly is', async (speed) => {
  const { looks } = await followed(speed);
  for (let n = 1; n < FRAMES; n++) {
    expect(isSeen(looks[n])).toBe(true);
    // A document holds no more digits than are known.
    expect(looks[n]!.every((v) => Number(v.toFixed(5)) === v)).toBe(true);
    const direction = apply(turnAt(n), foundOf(looks[n]!).direction);
    expect(angleBetween(direction, discAt(n, speed))).toBeLessThan(0.12 * SIZE);
  }
});

test('once it is known how it goes, who goes slowly is looked at every other frame, who goes fast at every one', async () => {
  expect((await followed(0.1)).looked).toBeLessThan(10 + 0.6 * (FRAMES - 10));
  expect((await followed(1.4)).looked).toBeGreaterThan(0.9 * (FRAMES - 1));
});
