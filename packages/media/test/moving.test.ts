/** What moves in a clip whose turning and whose walker are known; kept, read again, void when the motion changes. */
import { afterAll, describe, expect, jest, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import {
  angleBetween,
  apply,
  quaternionOf,
  RADIANS,
  rotationOf,
  transpose,
  vec3,
} from '@glimbo/core/geometry/rotation';
import { uprightTo } from '@glimbo/core/follow/aim';
import { Strangers } from '@glimbo/core/follow/strangers';
import { isSeen } from '@glimbo/core/follow/subject';
import { glimpse, glimpseOf } from '@glimbo/core/frame/sphere-frame';
import { NotWorld } from '@glimbo/core/follow/not-world';
import { directionOf } from '@glimbo/core/geometry/sphere';
import type { Motion } from '@glimbo/core/motion/motion';
import { seededRandom } from '@glimbo/core/random';
import { followSubject, outlineOf } from '../src/follow.js';
import { findSubjects } from '../src/find-subjects.js';
import { MediaError } from '../src/ffmpeg.js';
import { followBeside } from '../src/follow-beside.js';
import { followOnThread } from '../src/follow-thread.js';
import { keptMoving, movingIfKept } from '../src/kept-moving.js';
import { toWorldOf } from '../src/moving.js';
import { pictures } from '../src/sphere-pictures.js';

// It waits for ffmpeg, on any machine.
jest.setTimeout(120_000);

process.env.GLIMBO_ENGINE ??= resolve('build/engine');
const folder = mkdtempSync(join(tmpdir(), 'glimbo-moving-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const [W, RATE, FRAMES] = [512, 10, 60];
const facts = { rate: RATE, frames: FRAMES };
const turnAt = (n: number) => rotationOf({ pan: 4 * n, tilt: 6 * Math.sin(n / 5), roll: 5 * n });
const walkerAt = (n: number) => directionOf(-40 + 1.2 * n, -4);
const motionOf = (turns: boolean) =>
  ({
    frames: Array.from({ length: FRAMES }, (_, n) => ({ orientation: quaternionOf(turns ? turnAt(n) : turnAt(0)) })),
  }) as Motion;

/** A rig that rolls over and over before a still world in which one thing, 6° by 14°, goes its way. */
function film(): string {
  const random = seededRandom(2);
  const waves = Array.from({ length: 12 }, () => [0, 1, 2, 3].map(() => 30 * (random() - 0.5)));
  const bytes = Buffer.alloc((FRAMES * W * W) / 2);
  for (let n = 0, k = 0; n < FRAMES; n++) {
    const [turn, toWalker] = [turnAt(n), transpose(uprightTo(walkerAt(n)))];
    for (let y = 0; y < W / 2; y++)
      for (let x = 0; x < W; x++, k++) {
        const d = apply(turn, directionOf(((x + 0.5) / W - 0.5) * 360, (0.5 - (y + 0.5) / (W / 2)) * 180));
        const [a, b, c] = apply(toWalker, d);
        const on = c > 0 && Math.abs(Math.atan2(a, c)) < 3 * RADIANS && Math.abs(Math.atan2(b, c)) < 7 * RADIANS;
        let light = 110 + 4 * (random() - 0.5);
        for (const [p, q, r, s] of waves) light += 5 * Math.sin(p! * d[0] + q! * d[1] + r! * d[2] + s!);
        bytes[k] = on ? 190 + 20 * Math.sin(50 * b) : light;
      }
  }
  const file = join(folder, 'rolls.mp4');
  const raw = ['-f', 'rawvideo', '-pix_fmt', 'gray', '-s', `${W}x${W / 2}`, '-r', `${RATE}`, '-i', '-'];
  execFileSync('ffmpeg', ['-v', 'error', ...raw, '-c:v', 'libx264', '-crf', '24', '-pix_fmt', 'yuv420p', file], {
    input: bytes,
  });
  return file;
}

describe('before a rig that rolls over', () => {
  const file = film();
  const place = join(folder, 'kept');

  test('one streak goes where the walker goes, as large as it is, and is kept', async () => {
    const shares: number[] = [];
    const first = await keptMoving(file, facts, {
      motion: motionOf(true),
      folder: place,
      progress: (s) => shares.push(s),
    });
    expect(first.moving.still.every((still) => still)).toBe(true);
    const sure = first.moving.streaks.filter((streak) => streak.sure > 0.5);
    expect(sure).toHaveLength(1);
    const { looks } = sure[0]!;
    expect(looks.length).toBeGreaterThan(0.8 * (FRAMES / first.moving.every));
    for (const [frame, x, y, z, width, height] of looks) {
      expect(angleBetween(apply(turnAt(frame), [x, y, z]), walkerAt(frame))).toBeLessThan(1.5);
      expect(Math.abs(width - 6)).toBeLessThan(2.5);
      expect(Math.abs(height - 14)).toBeLessThan(2.5);
    }
    expect(shares.length).toBeGreaterThan(3);
    // Known, it takes no time, and says the same.
    const again = await keptMoving(file, facts, {
      motion: motionOf(true),
      folder: place,
      progress: () => shares.push(NaN),
    });
    expect(again.moving).toEqual(first.moving);
    expect(shares.some(Number.isNaN)).toBe(false);
    expect(readdirSync(place)).toHaveLength(2);
  });

  test('beside the world as it was kept the walker alone is not the world', async () => {
    const { besideAt } = await keptMoving(file, facts, { motion: motionOf(true), folder: place });
    for await (const picture of pictures(file, { rate: RATE, from: 31, count: 1, width: W })) {
      const beside = (await besideAt(31))!;
      const shares = new Float32Array(64 * 64);
      const look = glimpseOf(64);
      const toPicture = uprightTo(apply(transpose(turnAt(31)), walkerAt(31)));
      glimpse(picture, toPicture, 40 * RADIANS, look);
      new NotWorld(64).of(look, beside, toPicture, 40 * RADIANS, shares);
      expect(shares[32 * 64 + 32]).toBeGreaterThan(0.8);
      const far = shares.filter((_, i) => Math.hypot((i % 64) - 32, Math.floor(i / 64) - 32) > 18);
      expect(far.reduce((sum, v) => sum + v, 0) / far.length).toBeLessThan(0.03);
    }
  });

  test('a press on it is followed from end to end; a press on bare ground is refused', async () => {
    const motion = motionOf(true);
    const { besideAt } = await keptMoving(file, facts, { motion, folder: place });
    const inPicture = (n: number, d = walkerAt(n)) => apply(transpose(turnAt(n)), d);
    const track = await followSubject(file, facts, { frame: 20, direction: inPicture(20) }, { motion, besideAt });
    for (const [n, look] of track.looks.entries()) {
      expect(isSeen(look)).toBe(true);
      expect(angleBetween(vec3(look!), inPicture(n))).toBeLessThan(2);
    }
    const known = (await movingIfKept(file, motion, place))!;
    const beside = await known.besideAt(20);
    const direction = inPicture(20, directionOf(-15, -3));
    const press = { rate: RATE, frame: 20, direction, beside, recognised: null };
    const outline = await outlineOf(file, press);
    expect(angleBetween(outline.direction, inPicture(20))).toBeLessThan(2);
    expect([outline.width, outline.height].map((size) => Math.round(size / 2))).toEqual([3, 7]);
    const elsewhere = { ...press, direction: inPicture(20, directionOf(100, -20)) };
    const recognised = { direction: elsewhere.direction, width: 5, height: 11 };
    expect(await outlineOf(file, { ...elsewhere, recognised })).toEqual(recognised);
    await expect(outlineOf(file, elsewhere)).rejects.toThrow(/Nothing moves there, and nothing stands out/);
    const ground = { frame: 20, direction: inPicture(20, directionOf(100, -20)) };
    await expect(followSubject(file, facts, ground, { motion, besideAt })).rejects.toThrow(/Nothing/);
  });

  test('both ways at once, on threads, it is found where it is found one way after the other', async () => {
    const motion = motionOf(true);
    const { moving, film, besideAt } = await keptMoving(file, facts, { motion, folder: place });
    const size = { width: 6, height: 14 };
    const order = { frame: 20, direction: apply(transpose(turnAt(20)), walkerAt(20)), size };
    const strangers = new Strangers(moving, toWorldOf(motion));
    const here = await followSubject(file, facts, order, { motion, besideAt, strangers });
    expect(await followBeside(file, facts, order, { motion, folder: place })).toEqual(here);
    // What was found says the same here, with its kinds; what was found in another footage says nothing.
    const known = { ...moving, streaks: moving.streaks.map((s) => ({ ...s, kind: 'person' as const, portrait: 'x' })) };
    expect(await followBeside(file, facts, order, { motion, folder: place, found: known })).toEqual(here);
    const other = { ...known, frames: 7, streaks: [] };
    expect(await followBeside(file, facts, order, { motion, folder: place, found: other })).toEqual(here);

    const stop = new AbortController();
    const stopped = { motion, folder: place, signal: stop.signal, progress: () => stop.abort() };
    await expect(followBeside(file, facts, order, stopped)).rejects.toThrow(/abort/i);
    const box = { direction: order.direction, ...size };
    const way = { file: join(folder, 'gone.mp4'), rate: RATE, from: 20, until: 30, box, width: W };
    const gone = followOnThread(way, { motion, kept: { moving, film } }, () => {});
    await expect(gone).rejects.toBeInstanceOf(MediaError);
  });

  test('it is offered with its portrait, upright though the rig lies on its side', async () => {
    const shares: number[] = [];
    const options = { motion: motionOf(true), folder: place, progress: (s: number) => void shares.push(s) };
    const { streaks, recognised } = await findSubjects(file, facts, { ...options, detector: null });
    expect(recognised).toBe(false);
    const [portrait, ...others] = streaks.flatMap((streak) => streak.portrait ?? []);
    expect(others).toEqual([]);
    expect(shares.at(-1)).toBe(1);
    const raw = ['-f', 'rawvideo', '-pix_fmt', 'gray', '-'];
    const grey = execFileSync('ffmpeg', ['-v', 'error', '-i', '-', ...raw], {
      input: Buffer.from(portrait!, 'base64'),
    });
    expect(grey).toHaveLength(96 * 96);
    const light = (x: number, y: number) => grey[(48 + y) * 96 + 48 + x]!;
    // It is some 6 by 14 of 18 degrees.
    for (const y of [-28, 0, 28]) expect(light(0, y)).toBeGreaterThan(150);
    for (const x of [-30, 30]) expect(light(x, 0)).toBeLessThan(150);
  });

  test('a detector says what it is; whatever is bright is a person for this one', async () => {
    const side = 64;
    const detector = {
      side,
      async recognise(rgb: Float32Array) {
        const bright = Array.from({ length: side * side }, (_, i) => i).filter((i) => rgb[3 * i]! > 165);
        if (bright.length < 8) return [];
        const [columns, rows] = [bright.map((i) => i % side), bright.map((i) => Math.floor(i / side))];
        const box = {
          left: Math.min(...columns),
          right: Math.max(...columns) + 1,
          top: Math.min(...rows),
          bottom: Math.max(...rows) + 1,
        };
        return [{ kind: 'person' as const, likeness: 0.7, ...box }];
      },
    };
    const shares: number[] = [];
    const options = { motion: motionOf(true), folder: place, progress: (s: number) => void shares.push(s) };
    const { streaks, recognised } = await findSubjects(file, facts, { ...options, detector });
    expect(recognised).toBe(true);
    const people = streaks.filter(({ kind }) => kind === 'person');
    expect(people).toHaveLength(1);
    expect(people[0]!.portrait).toBeTruthy();
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    const stop = AbortSignal.abort();
    await expect(findSubjects(file, facts, { ...options, detector, signal: stop })).rejects.toThrow(/abort/i);
  });

  test('is not worked out where nobody asks for that', async () => {
    expect(await movingIfKept(file, motionOf(false), place)).toBeNull();
    expect(await movingIfKept(file, motionOf(true), join(folder, 'nowhere'))).toBeNull();
    // And what is known of a rig that stands is void for one that travels.
    const motion = motionOf(true);
    expect(await movingIfKept(file, motion, place)).not.toBeNull();
    const travels = motion.frames.map((frame) => ({ ...frame, travel: vec3([0, 0, 1]), travelConfidence: 0.9 }));
    expect(await movingIfKept(file, { ...motion, frames: travels }, place)).toBeNull();
  });

  test('another motion makes it void; a turning that is not known is no still world', async () => {
    const { moving, besideAt } = await keptMoving(file, facts, { motion: motionOf(false), folder: place });
    expect(moving.still.some((still) => still)).toBe(false);
    expect(moving.streaks).toEqual([]);
    expect(await besideAt(30)).toBeNull();
    expect(readdirSync(place)).toHaveLength(2);
  });

  test('where it cannot be kept it is told all the same, and following goes on without it', async () => {
    const taken = join(folder, 'taken');
    writeFileSync(taken, 'a file where a folder is wanted');
    const motion = motionOf(true);
    const { moving, besideAt } = await keptMoving(file, facts, { motion, folder: taken });
    expect(moving.streaks.filter(({ sure }) => sure > 0.5)).toHaveLength(1);
    expect(await besideAt(30)).toBeNull();
    const size = { width: 6, height: 14 };
    const order = { frame: 20, direction: apply(transpose(turnAt(20)), walkerAt(20)), size };
    const shares: number[] = [];
    const track = await followBeside(file, facts, order, { motion, folder: taken, progress: (s) => shares.push(s) });
    expect(track.looks).toHaveLength(FRAMES);
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    expect(readFileSync(taken, 'utf8')).toContain('wanted');
  });

  test('when it is stopped nothing is left half done', async () => {
    const stop = new AbortController();
    const other = join(folder, 'stopped');
    const work = keptMoving(file, facts, {
      motion: null,
      folder: other,
      progress: () => stop.abort(),
      signal: stop.signal,
    });
    await expect(work).rejects.toThrow(/abort/i);
    expect(readdirSync(other)).toEqual([]);
  });
});
