/**
 * A real recording of people who walk (Debian's `opencv-doc`), laid before a photograph as rigs would have filmed it that stand, shake,
 * are whirled over and turn, with boxes that were marked by hand. For the benchmark alone.
 */
import { execFileSync, spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, renameSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Box } from '@glimbo/core/follow/box';
import {
  apply,
  DEGREES,
  multiply,
  RADIANS,
  rotationOf,
  transpose,
  unit,
  type Matrix3,
  type Vec3,
} from '@glimbo/core/geometry/rotation';
import { seededRandom } from '@glimbo/core/random';
import { root } from './measure.js';
import { colourOf, WIDTH } from './photographs.js';

const RECORDING = '/usr/share/doc/opencv-doc/examples/data/vtest.avi';
/** What is made of it is kept between runs: it takes some minutes. */
const kept = join(tmpdir(), 'glimbo-walkers');

interface Marks {
  rate: number;
  width: number;
  height: number;
  people: Record<string, [frame: number, left: number, top: number, right: number, bottom: number][]>;
  /** From which frame to which somebody is surely not in the recording, as far as that was looked at. */
  away: Record<string, [from: number, to: number][]>;
}
export const marks = JSON.parse(readFileSync(join(root, 'bench/marks/walkers.json'), 'utf8')) as Marks;
export const { rate: RATE } = marks;
export const FRAMES = 795;

/** By lot, before anything was tried: constants are chosen on one half of the people, the other half's figures are those that count. */
export const { chosenOn, reported } = (() => {
  const random = seededRandom(20261201);
  const names = Object.keys(marks.people)
    .map((name) => ({ name, lot: random() }))
    .sort((a, b) => a.lot - b.lot)
    .map(({ name }) => name);
  return { chosenOn: names.slice(0, names.length >> 1), reported: names.slice(names.length >> 1) };
})();

/** Size of the spheres, and degrees that the recording is across. */
export const ACROSS = 1920;
const DOWN = ACROSS / 2;
const WIDE = 75;
const FOCAL = marks.width / 2 / Math.tan((WIDE / 2) * RADIANS);
/** From the recording's axes to the world's: it looks somewhat down. */
const LAID: Matrix3 = rotationOf({ pan: 20, tilt: -12, roll: 0 });
const TO_LAID = transpose(LAID);

export type RigName = 'standing' | 'shaking' | 'whirled' | 'turning';
export const RIGS: readonly RigName[] = ['standing', 'shaking', 'whirled', 'turning'];

/** How a rig lies in frame n: turns directions of the picture into the world's. */
export function orientationOf(rig: RigName, n: number): Matrix3 {
  const t = n / RATE;
  const wave = (hertz: number, phase: number) => Math.sin(2 * Math.PI * hertz * t + phase);
  if (rig === 'standing') return rotationOf({ pan: 0, tilt: 0, roll: 0 });
  if (rig === 'turning') return rotationOf({ pan: 25 * t, tilt: 3 * wave(0.2, 0), roll: 1.5 * wave(0.3, 1) });
  const shaken = multiply(
    rotationOf({ pan: 12 * wave(0.15, 0) + 1.5 * wave(1.3, 1) + 0.5 * wave(3.7, 2), tilt: 0, roll: 0 }),
    rotationOf({ pan: 0, tilt: 5 * wave(0.3, 3) + 1.2 * wave(1.9, 0.5), roll: 4 * wave(0.2, 2) + wave(2.3, 2.5) }),
  );
  // Right over twice in ten seconds.
  return rig === 'shaking' ? shaken : multiply(shaken, rotationOf({ pan: 14 * t, tilt: 0, roll: 72 * t }));
}

/** A direction of the world for a place in the recording, in pixels. */
const worldOf = (x: number, y: number): Vec3 =>
  apply(LAID, unit([(x - marks.width / 2) / FOCAL, (marks.height / 2 - y) / FOCAL, 1]));

/** Somebody's box at a mark, in the picture's axes of that frame. */
export function boxAt(rig: RigName, [frame, left, top, right, bottom]: Marks['people'][string][number]): Box {
  const [x, y] = [(left + right) / 2, (top + bottom) / 2];
  const angle = (a: Vec3, b: Vec3) =>
    2 * Math.asin(Math.min(1, Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]) / 2)) * DEGREES;
  return {
    direction: apply(transpose(orientationOf(rig, frame)), worldOf(x, y)),
    width: angle(worldOf(left, y), worldOf(right, y)),
    height: angle(worldOf(x, top), worldOf(x, bottom)),
  };
}

/** The photograph as planes of luma and two colours, laid large, so that the nearest pixel is near enough. */
function stage(folder: string): { side: number; planes: Uint8Array[] } {
  const rgb = colourOf('park', folder);
  const side = 2 * ACROSS;
  const args = ['-f', 'rawvideo', '-pix_fmt', 'rgb24', '-s', `${WIDTH}x${WIDTH / 2}`, '-i', '-'];
  const scaled = ['-vf', `scale=${side}:${side / 2}:flags=bicubic`, '-pix_fmt', 'yuv444p', '-f', 'rawvideo', '-'];
  const raw = execFileSync('ffmpeg', ['-v', 'error', ...args, ...scaled], { input: rgb, maxBuffer: 1 << 28 });
  const count = (side * side) / 2;
  return { side, planes: [0, 1, 2].map((p) => new Uint8Array(raw.subarray(p * count, (p + 1) * count))) };
}

/** The recording's frames, three planes of full size. */
async function* recorded(): AsyncGenerator<Uint8Array[]> {
  const child = spawn('ffmpeg', ['-v', 'error', '-i', RECORDING, '-pix_fmt', 'yuv444p', '-f', 'rawvideo', '-']);
  const count = marks.width * marks.height;
  let left = Buffer.alloc(0);
  for await (const chunk of child.stdout) {
    left = Buffer.concat([left, chunk as Buffer]);
    for (; left.length >= 3 * count; left = left.subarray(3 * count))
      yield [0, 1, 2].map((p) => new Uint8Array(left.subarray(p * count, (p + 1) * count)));
  }
}

/** Draws what a rig sees; a plane of colour is half as large. */
function see(m: Matrix3, frame: Uint8Array[], behind: ReturnType<typeof stage>, out: Uint8Array) {
  const count = ACROSS * DOWN;
  draw(m, frame[0]!, behind.side, behind.planes[0]!, 1, out.subarray(0, count));
  draw(m, frame[1]!, behind.side, behind.planes[1]!, 2, out.subarray(count, 1.25 * count));
  draw(m, frame[2]!, behind.side, behind.planes[2]!, 2, out.subarray(1.25 * count));
}

/** Draws one plane that is `part` times smaller than the sphere. */
function draw(m: Matrix3, frame: Uint8Array, side: number, behind: Uint8Array, part: number, out: Uint8Array) {
  const { width, height } = marks;
  const r = multiply(TO_LAID, m);
  const [w, h] = [ACROSS / part, DOWN / part];
  const sines = Float64Array.from({ length: w }, (_, x) => Math.sin(((x + 0.5) / w - 0.5) * 2 * Math.PI));
  const cosines = Float64Array.from({ length: w }, (_, x) => Math.cos(((x + 0.5) / w - 0.5) * 2 * Math.PI));
  for (let y = 0, i = 0; y < h; y++) {
    const latitude = (0.5 - (y + 0.5) / h) * Math.PI;
    const c = Math.cos(latitude);
    const b = Math.sin(latitude);
    for (let x = 0; x < w; x++, i++) {
      const a = c * sines[x]!;
      const d = c * cosines[x]!;
      const lz = r[6] * a + r[7] * b + r[8] * d;
      const u = lz > 0.5 ? width / 2 + (FOCAL * (r[0] * a + r[1] * b + r[2] * d)) / lz - 0.5 : -1;
      const v = lz > 0.5 ? height / 2 - (FOCAL * (r[3] * a + r[4] * b + r[5] * d)) / lz - 0.5 : -1;
      if (u >= 0 && v >= 0 && u < width - 1 && v < height - 1) {
        const p = (v | 0) * width + (u | 0);
        const f = u - (u | 0);
        const top = frame[p]! + (frame[p + 1]! - frame[p]!) * f;
        const low = frame[p + width]! + (frame[p + width + 1]! - frame[p + width]!) * f;
        out[i] = top + (low - top) * (v - (v | 0));
        continue;
      }
      const wx = m[0] * a + m[1] * b + m[2] * d;
      const wy = m[3] * a + m[4] * b + m[5] * d;
      const wz = m[6] * a + m[7] * b + m[8] * d;
      const su = Math.min(side - 1, ((Math.atan2(wx, wz) / (2 * Math.PI) + 0.5) * side) | 0);
      const sv = ((0.5 - Math.asin(wy > 1 ? 1 : wy < -1 ? -1 : wy) / Math.PI) * (side / 2)) | 0;
      out[i] = behind[Math.min(side / 2 - 1, sv) * side + su]!;
    }
  }
}

/** Counts up when rigs move otherwise, or their spheres are drawn otherwise. */
const EDITION = 1;

/** The sphere that a rig filmed, as a file; it is made where it is not there yet. */
export async function filmed(rig: RigName): Promise<string> {
  if (!existsSync(RECORDING)) throw new Error('There is no recording to lay into spheres: apt-get install opencv-doc');
  const file = join(kept, `${rig}-${EDITION}.mp4`);
  if (existsSync(file)) return file;
  mkdirSync(kept, { recursive: true });
  const behind = stage(kept);
  const raw = ['-f', 'rawvideo', '-pix_fmt', 'yuv420p', '-s', `${ACROSS}x${DOWN}`, '-r', `${RATE}`, '-i', '-'];
  const worse = ['-vf', 'noise=alls=5:allf=t', '-c:v', 'libx264', '-preset', 'veryfast', '-crf', '23', '-g', '20'];
  const part = `${file}.part.mp4`;
  const encoder = spawn('ffmpeg', ['-v', 'error', '-y', ...raw, ...worse, part], {
    stdio: ['pipe', 'inherit', 'inherit'],
  });
  const ended = new Promise((resolve, reject) => encoder.on('close', resolve).on('error', reject));
  let n = 0;
  for await (const frame of recorded()) {
    const out = new Uint8Array(ACROSS * DOWN * 1.5);
    see(orientationOf(rig, n++), frame, behind, out);
    if (!encoder.stdin.write(out)) await new Promise((resolve) => encoder.stdin.once('drain', resolve));
  }
  encoder.stdin.end();
  await ended;
  renameSync(part, file);
  return file;
}
