/** Following, against where the demo's people and trains truly are, beside template matching by normalised cross-correlation. */
import { execFileSync } from 'node:child_process';
import { basename, join } from 'node:path';
import { glimpse, glimpseOf, type SphereFrame } from '@glimbo/core/frame/sphere-frame';
import { uprightTo } from '@glimbo/core/follow/aim';
import { Strangers } from '@glimbo/core/follow/strangers';
import { foundOf } from '@glimbo/core/follow/subject';
import type { Box, Found } from '@glimbo/core/follow/box';
import { TRUSTED } from '@glimbo/core/follow/tracker';
import {
  angleBetween,
  matrixOf,
  multiply,
  RADIANS,
  transpose,
  vec3,
  type Matrix3,
  type Vec3,
} from '@glimbo/core/geometry/rotation';
import { cameraOf, directionAt } from '@glimbo/core/lens/view';
import type { Motion } from '@glimbo/core/motion/motion';
import { lookWidth } from '@glimbo/media/follow';
import { followPictures, type Known } from '@glimbo/media/follow-way';
import { keptMoving } from '@glimbo/media/kept-moving';
import { toWorldOf } from '@glimbo/media/moving';
import { pictures } from '@glimbo/media/sphere-pictures';
import { clipOf, pointedOut, quantile, truthOf, VISIBLE, type Truth } from './demo-truth.js';
import { folder } from './measure.js';
import { overPole } from './over-pole.js';

const WIDTH = 960;
const FRAMES = 450;
const FOLLOWED = {
  turntable: [
    'blue visitor',
    'yellow visitor',
    'pink visitor',
    'white visitor',
    'teal visitor',
    'rust visitor',
    'violet child',
    'orange child',
    'other engine',
    'balloon 1',
  ],
  'ridge-loop': ['green visitor', 'yellow visitor', 'rust visitor', 'teal visitor'],
} as const;

/** Those that go far enough to be followed over the pole. */
const OVER_POLE = [
  'orange child',
  'other engine',
  'white visitor',
  'balloon 1',
  'blue visitor',
  'yellow visitor',
] as const;

/** Noise of a small sensor at dusk, and what a weak line leaves of it. */
function spoiled(clip: string): string {
  const file = join(folder, 'spoiled.mp4');
  const noise = `scale=${2 * WIDTH}:${WIDTH},noise=alls=18:allf=t`;
  const args = ['-i', clip, '-an', '-vf', noise, '-c:v', 'libx264', '-preset', 'veryfast', '-crf', '40', '-y', file];
  execFileSync('ffmpeg', ['-v', 'error', '-nostdin', ...args]);
  return file;
}

async function framesOf(clip: string, width: number): Promise<SphereFrame[]> {
  const frames: SphereFrame[] = [];
  for await (const picture of pictures(clip, { rate: 30, from: 0, count: FRAMES, width })) frames.push(picture);
  return frames;
}

/** The first picture of a subject, looked for again round where it was last: the plainest way there is. */
class TemplateMatcher {
  private readonly template: Float32Array;
  private toPicture: Matrix3;
  private readonly look = glimpseOf(64);

  constructor(frame: SphereFrame, box: { direction: Vec3; width: number; height: number }) {
    this.toPicture = uprightTo(box.direction);
    this.across = 2 * Math.max(box.width, box.height) * RADIANS;
    glimpse(frame, this.toPicture, this.across, this.look);
    this.template = Float32Array.from({ length: 32 * 32 }, (_, i) => this.luma(16 + (i % 32), 16 + Math.floor(i / 32)));
  }

  private readonly across: number;
  private luma = (x: number, y: number) => this.look.planes[0][y * 64 + x]!;

  step(frame: SphereFrame, turn: Matrix3): Found {
    this.toPicture = multiply(turn, this.toPicture);
    glimpse(frame, this.toPicture, this.across, this.look);
    let best = { x: 16, y: 16, score: -1 };
    for (let y = 0; y <= 32; y++)
      for (let x = 0; x <= 32; x++) {
        const score = this.correlation(x, y);
        if (score > best.score) best = { x, y, score };
      }
    const view = { pan: 0, tilt: 0, roll: 0, fov: (this.across * 180) / Math.PI, bend: 1, shiftX: 0, shiftY: 0 };
    const ahead = directionAt(cameraOf(view, 64, 64), best.x + 16, best.y + 16) ?? [0, 0, 1];
    const m = this.toPicture;
    const direction = vec3([0, 3, 6].map((k) => m[k]! * ahead[0] + m[k + 1]! * ahead[1] + m[k + 2]! * ahead[2]));
    this.toPicture = uprightTo(direction);
    const size = (this.across * 90) / Math.PI;
    return { direction, width: size, height: size, trust: best.score > 0.5 ? best.score : 0 };
  }

  private correlation(x0: number, y0: number): number {
    let [sum, square, own, ownSquare, both] = [0, 0, 0, 0, 0];
    for (let i = 0; i < 1024; i++) {
      const [a, b] = [this.luma(x0 + (i % 32), y0 + (i >> 5)), this.template[i]!];
      sum += a;
      square += a * a;
      own += b;
      ownSquare += b * b;
      both += a * b;
    }
    const spread = Math.sqrt((square - (sum * sum) / 1024) * (ownSquare - (own * own) / 1024));
    return spread > 0 ? (both - (sum * own) / 1024) / spread : 0;
  }
}

/** Finds a subject in each frame after one in which it is pointed out, by number. */
type Follower = (frames: readonly SphereFrame[], start: number, box: Box) => Promise<Found[]>;

const motionOf = (truth: Truth) => ({ frames: truth.frames as Motion['frames'] }) as Motion;

/** As the product does. */
const tracked =
  (truth: Truth, { besideAt, strangers }: Pick<Known, 'besideAt' | 'strangers'>): Follower =>
  async (frames, start, box) => {
    const found: Found[] = [];
    const seen = frames.slice(start).map((picture, k) => ({ n: start + k, picture }));
    const known = { motion: motionOf(truth), besideAt, strangers };
    const way = { rate: truth.rate, from: start, until: frames.length, box };
    await followPictures(seen, way, known, (n, look) => (found[n] = foundOf(look)));
    return found;
  };

const matched =
  (truth: Truth): Follower =>
  async (frames, start, box) => {
    const matcher = new TemplateMatcher(frames[start]!, box);
    const found: Found[] = [];
    for (let n = start + 1; n < frames.length; n++) {
      const [a, b] = [truth.frames[n - 1]!, truth.frames[n]!];
      found[n] = matcher.step(frames[n]!, multiply(transpose(matrixOf(b.orientation)), matrixOf(a.orientation)));
    }
    return found;
  };

/** How well something follows a subject, from its first good look on. */
async function judge(truth: Truth, frames: readonly SphereFrame[], name: string, follower: Follower) {
  const { looks } = truth.subjects.find((s) => s.name === name)!;
  const { start, box } = pointedOut(truth, name);
  const [off, sizes]: [number[], number[]] = [[], []];
  let [lost, seen] = [0, 0];
  const began = performance.now();
  const found = await follower(frames, start, box);
  const each = (performance.now() - began) / (frames.length - start);
  found.forEach(({ direction, width, height, trust }, n) => {
    const look = n % 3 === 0 ? looks[n / 3] : undefined;
    if (!look || look[5] < VISIBLE) return;
    seen++;
    const apart = angleBetween(direction, vec3([look[1], look[2], look[3]]));
    if (trust < TRUSTED || apart > look[4] / 2) lost++;
    else {
      off.push(apart);
      sizes.push(Math.abs(Math.max(width, height) / look[4] / 0.9 - 1));
    }
  });
  return { median: quantile(off, 0.5), most: quantile(off, 0.95), size: quantile(sizes, 0.5), lost, seen, each };
}

const inWords = ({ median, most, size, lost, seen, each }: Awaited<ReturnType<typeof judge>>) =>
  [
    `${median.toFixed(2)}° (95 % ${most.toFixed(2)}°)`,
    `lost or wrong ${lost} of ${seen}`,
    `size ${(100 * size).toFixed(0)} % off`,
    `${each.toFixed(1)} ms`,
  ].join(', ');

/** What is known of a clip, as the truth has its turning. */
async function watched(file: string, truth: Truth) {
  const motion = motionOf(truth);
  const { besideAt, moving } = await keptMoving(
    file,
    { rate: 30, frames: FRAMES },
    { motion, folder: join(folder, `${basename(file)}.moving`) },
  );
  console.log(
    `${basename(file)}: the world stands still in ${moving.still.filter((v) => v).length} of ${moving.still.length} stages`,
  );
  return { besideAt, strangers: new Strangers(moving, toWorldOf(motion)) };
}

/** Nothing is known of it. */
const UNKNOWN = { besideAt: async () => null, strangers: null };

/** Followed right over the pole: the clip turned so that each goes there. */
async function reportPole() {
  for (const name of OVER_POLE) {
    const truth = truthOf('turntable');
    const over = await overPole('turntable', truth, name, lookWidth(pointedOut(truth, name).box));
    const judged = await judge(over.truth, over.frames, name, tracked(over.truth, UNKNOWN));
    console.log(`turntable turned, ${name} over the pole: ${inWords(judged)}`);
  }
}

export async function reportFollow() {
  await reportPole();
  let better = 0;
  const all: { ours: number; theirs: number }[] = [];
  const medians: number[] = [];
  for (const [clip, names] of Object.entries(FOLLOWED)) {
    const truth = truthOf(clip);
    const widthOf = (name: string) => lookWidth(pointedOut(truth, name).box);
    const files = [clipOf(clip), spoiled(clipOf(clip))] as const;
    const [sharp, noisy] = [await watched(files[0], truth), await watched(files[1], truth)];
    let [width, frames, poor]: [number, SphereFrame[], SphereFrame[]] = [0, [], []];
    for (const name of [...names].sort((a, b) => widthOf(a) - widthOf(b))) {
      if (widthOf(name) !== width) {
        width = widthOf(name);
        [frames, poor] = [await framesOf(files[0], width), await framesOf(files[1], width)];
      }
      const ours = await judge(truth, frames, name, tracked(truth, sharp));
      const theirs = await judge(truth, frames, name, matched(truth));
      const spoilt = await judge(truth, poor, name, tracked(truth, noisy));
      console.log(`${clip}, ${name}: ${inWords(ours)}; spoiled ${inWords(spoilt)}; a template ${inWords(theirs)}`);
      if (ours.median <= 0.7 && ours.most <= 2 && ours.lost < 0.1 * ours.seen) better++;
      medians.push(spoilt.median);
      all.push({ ours: ours.lost / ours.seen, theirs: theirs.lost / theirs.seen });
    }
  }
  const mean = (of: 'ours' | 'theirs') => (100 * all.reduce((sum, a) => sum + a[of], 0)) / all.length;
  console.log(
    `${better} of ${all.length} within 0.7° and 2°, lost or wrong less than a tenth of the time;`,
    `all lost or wrong ${mean('ours').toFixed(1)} % of the time, a template ${mean('theirs').toFixed(1)} %;`,
    `spoiled by noise and compression ${medians.filter((m) => m <= 1.2).length} of ${all.length} within 1.2°`,
  );
}
