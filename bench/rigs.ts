/**
 * Clips as real rigs film them, made from photographs of whole spheres with a known motion: turned by a hand, in bad light, walking
 * among people, with a shutter that smears or reads row by row, half covered by who carries it.
 */
import { spawn } from 'node:child_process';
import { multiply, rotationAbout, rotationOf, type Matrix3, type Vec3 } from '@glimbo/core/geometry/rotation';
import { directionOf } from '@glimbo/core/geometry/sphere';
import { seededRandom } from '@glimbo/core/random';
import type { Truth } from '@glimbo/demo/truth';
import { far, greyOf, sample, WIDTH } from './photographs.js';

/** Size of the clips: that of the pictures that the analysis looks at. */
export const ACROSS = 1024;
export const DOWN = ACROSS / 2;
export const RATE = 30;
const FRAMES = 90;

/** What a rig goes through. */
export interface Rig {
  name: string;
  scene: string;
  /** Grey levels of noise (standard deviation), and how strongly it is compressed (x264's CRF). */
  noise: number;
  crf: number;
  /** Share of the time between frames in which the shutter is open. */
  shutter: number;
  /** Seconds from the first row to the last. */
  readout: number;
  /** How bright frame n is. */
  gain: (n: number) => number;
  /** Whether the rig walks over ground among people, and whether who carries it covers half of what is seen. */
  walks: boolean;
  covered: boolean;
}

const steady: Rig = {
  name: '',
  scene: 'park',
  noise: 2,
  crf: 23,
  shutter: 0,
  readout: 0,
  gain: () => 1,
  walks: false,
  covered: false,
};
const poor = { noise: 14, crf: 38 };
export const RIGS: Rig[] = [
  { ...steady, name: 'turned by hand' },
  ...['city', 'forest', 'hall'].map((scene): Rig => ({
    ...steady,
    ...poor,
    name: `noisy, compressed: ${scene}`,
    scene,
  })),
  { ...steady, name: 'walking in a crowd', scene: 'city', walks: true },
  { ...steady, name: 'smeared by the shutter', scene: 'lobby', shutter: 1, noise: 6 },
  { ...steady, name: 'exposure in steps', gain: (n) => [1, 1.5, 0.7, 1.1][Math.floor(n / 22) % 4]! },
  { ...steady, name: 'rows read in 20 ms', scene: 'city', readout: 0.02 },
  { ...steady, name: 'half covered', scene: 'forest', covered: true },
];

/** How the rig is turned at a time: swayed by hand and step. Turns a direction of the picture into the world's axes. */
function orientationAt(t: number): Matrix3 {
  const wave = (hertz: number, phase: number) => Math.sin(2 * Math.PI * hertz * t + phase);
  const turn = rotationOf({
    pan: 30 * wave(0.13, 0) + 2 * wave(0.9, 1) + 0.4 * wave(4.3, 2),
    tilt: 4 * wave(0.31, 3) + 1.2 * wave(1.9, 0.5) + 0.3 * wave(5.1, 1.5),
    roll: 3 * wave(0.23, 2) + 0.9 * wave(0.95, 2.5) + 0.3 * wave(6.2, 0.3),
  });
  return multiply(turn, rotationAbout([0.002 * wave(9, 1), 0, 0.002 * wave(8.3, 2)]));
}

const positionAt = (t: number): Vec3 => [0.1 * Math.sin(6 * t), 0.03 * Math.sin(12 * t), 1.4 * t];

interface Person {
  at: Vec3;
  walks: [x: number, z: number];
  looks: number;
}
const [EYES, TALL, STOUT] = [1.6, 1.75, 0.3];

/** People, on their way all about. */
function crowd(): Person[] {
  const random = seededRandom(4);
  return Array.from({ length: 60 }, () => {
    const way = 2 * Math.PI * random();
    return {
      at: [12 * (random() - 0.5), 0, 14 * random() - 5] as Vec3,
      walks: [0.8 * Math.cos(way), 0.8 * Math.sin(way)] as [number, number],
      looks: WIDTH * random(),
    };
  });
}

/** What a walker sees in a direction: the nearest person, the ground, or what is far away. */
function walkersView(picture: Uint8Array, people: Person[], t: number) {
  const [px, py, pz] = positionAt(t);
  const here = people
    .map(({ at, walks, looks }) => ({ x: at[0] + walks[0] * t - px, z: at[2] + walks[1] * t - pz, looks }))
    .filter(({ x, z }) => Math.hypot(x, z) > 2 * STOUT);
  const headings = 720;
  const nearby = Array.from({ length: headings }, (): typeof here => []);
  for (const one of here) {
    const heading = Math.atan2(one.x, one.z);
    const half = Math.asin(STOUT / Math.hypot(one.x, one.z)) + 0.01;
    for (let a = heading - half; a <= heading + half; a += (2 * Math.PI) / headings / 2)
      nearby[Math.floor((a / (2 * Math.PI) + 1) * headings) % headings]!.push(one);
  }
  return (x: number, y: number, z: number) => {
    const flat = Math.hypot(x, z);
    const [sx, sz] = [x / flat, z / flat];
    const ground = y < -0.02 ? ((EYES + py) * flat) / -y : Infinity;
    let [nearest, hit] = [ground, null as { u: number; v: number } | null];
    for (const one of nearby[Math.floor((Math.atan2(x, z) / (2 * Math.PI) + 1) * headings) % headings]!) {
      const along = one.x * sx + one.z * sz;
      const off = one.x * sz - one.z * sx;
      if (along <= 0 || Math.abs(off) >= STOUT) continue;
      const distance = along - Math.sqrt(STOUT ** 2 - off ** 2);
      const height = EYES + py + (distance * y) / flat;
      if (distance >= nearest || height > TALL) continue;
      nearest = distance;
      hit = { u: one.looks + 40 * Math.asin(off / STOUT), v: 60 + 80 * height };
    }
    if (hit) return sample(picture, hit.u, hit.v);
    if (ground === Infinity) return far(picture, x, y, z);
    const [gx, gz] = [px + ground * sx, pz + ground * sz];
    return sample(picture, 60 * gx, 128 + 100 * Math.sin(gz));
  };
}

/** Directions of all pixels, three numbers each. */
const DIRECTIONS = Float32Array.from({ length: ACROSS * DOWN * 3 }, () => 0);
for (let y = 0, k = 0; y < DOWN; y++)
  for (let x = 0; x < ACROSS; x++, k += 3)
    DIRECTIONS.set(directionOf(((x + 0.5) / ACROSS - 0.5) * 360, (0.5 - (y + 0.5) / DOWN) * 180), k);

/** One look through a rig, before noise. `covering` is what turns with it. */
function look(rig: Rig, picture: Uint8Array, covering: Uint8Array, people: Person[], t: number): Float32Array {
  const out = new Float32Array(ACROSS * DOWN);
  const seen = rig.walks ? walkersView(picture, people, t) : null;
  for (let y = 0; y < DOWN; y++) {
    const m = orientationAt(t + rig.readout * ((y + 0.5) / DOWN - 0.5));
    for (let i = y * ACROSS; i < (y + 1) * ACROSS; i++) {
      const a = DIRECTIONS[3 * i]!;
      const b = DIRECTIONS[3 * i + 1]!;
      const c = DIRECTIONS[3 * i + 2]!;
      const wx = m[0] * a + m[1] * b + m[2] * c;
      const wy = m[3] * a + m[4] * b + m[5] * c;
      const wz = m[6] * a + m[7] * b + m[8] * c;
      out[i] = rig.covered && c < 0 ? far(covering, a, b, c) : seen ? seen(wx, wy, wz) : far(picture, wx, wy, wz);
    }
  }
  return out;
}

/** Frame n as the rig's sensor has it. */
function exposed(rig: Rig, n: number, random: () => number, [picture, covering]: Uint8Array[], people: Person[]) {
  const looks = rig.shutter ? 8 : 1;
  const sum = new Float32Array(ACROSS * DOWN);
  for (let k = 0; k < looks; k++) {
    const t = (n + (rig.shutter * (k + 0.5 - looks / 2)) / looks) / RATE;
    look(rig, picture!, covering!, people, t).forEach((v, i) => (sum[i]! += v / looks));
  }
  const gain = rig.gain(n);
  const noise = () => rig.noise * 2 * (random() + random() + random() - 1.5);
  return Uint8Array.from(sum, (v) => Math.max(0, Math.min(255, v * gain + noise())));
}

/** Films a clip into a file; gives how it was truly filmed. */
export async function film(rig: Rig, file: string, folder: string, frames = FRAMES): Promise<Truth> {
  const pictures = [greyOf(rig.scene, folder), greyOf('workshop', folder)];
  const random = seededRandom(9);
  const people = crowd();
  const raw = ['-f', 'rawvideo', '-pix_fmt', 'gray', '-s', `${ACROSS}x${DOWN}`, '-r', `${RATE}`, '-i', '-'];
  const encode = ['-c:v', 'libx264', '-preset', 'veryfast', '-crf', `${rig.crf}`, '-pix_fmt', 'yuv420p', file];
  const encoder = spawn('ffmpeg', ['-v', 'error', '-y', ...raw, ...encode], { stdio: ['pipe', 'inherit', 'inherit'] });
  const ended = new Promise((resolve, reject) => encoder.on('close', resolve).on('error', reject));
  for (let n = 0; n < frames; n++)
    if (!encoder.stdin.write(exposed(rig, n, random, pictures, people)))
      await new Promise((resolve) => encoder.stdin.once('drain', resolve));
  encoder.stdin.end();
  await ended;
  const times = Array.from({ length: frames }, (_, n) => n / RATE);
  return { rate: RATE, orientations: times.map(orientationAt), positions: times.map(positionAt) };
}
