/** Photographs of real scenes all round (CC0), leaned by known amounts: what levelling by itself is measured on. */
import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import {
  apply,
  DEGREES,
  multiply,
  rotationAbout,
  rotationOf,
  transpose,
  turnTo,
  type Matrix3,
  type Vec3,
} from '@glimbo/core/geometry/rotation';
import { directionOf } from '@glimbo/core/geometry/sphere';
import { seededRandom } from '@glimbo/core/random';

export const WIDTH = 512;
export const HEIGHT = WIDTH / 2;

/** Scenes in the open by day, the others in the open, and those under a roof. */
export const BY_DAY = ['city', 'dawn', 'forest', 'park', 'sunrise', 'sunset', 'venice'];
export const SCENES = [
  ...BY_DAY,
  ...['night', 'sky'],
  ...['apartment', 'bridge', 'esplanade', 'hall', 'lab', 'lobby', 'studio', 'warehouse', 'workshop'],
];

/** How far photographs are leaned at most, in degrees. */
const MOST = 25;

export interface Leaned {
  scene: string;
  grey: Uint8Array;
  /** Up in the picture's axes. */
  up: Vec3;
}

/** Light of a scene, three planes of WIDTH × HEIGHT (red, green, blue), as brightness and contrast of a camera would show it: 0 to 255. */
function shownOf(scene: string, folder: string): [Float32Array, Float32Array, Float32Array] {
  const module = createRequire(import.meta.url).resolve('@pmndrs/assets/package.json');
  const text = readFileSync(join(module, '..', 'hdri', `${scene}.exr.js`), 'utf8');
  const file = join(folder, `${scene}.exr`);
  writeFileSync(file, Buffer.from(text.slice(text.indexOf('base64,') + 7, text.lastIndexOf("'")), 'base64'));
  const raw = execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-pix_fmt', 'gbrpf32le', '-f', 'rawvideo', '-'], {
    maxBuffer: 1 << 28,
  });
  const n = WIDTH * HEIGHT;
  const light = new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + 12 * n));
  const [green, blue, red] = [light.subarray(0, n), light.subarray(n, 2 * n), light.subarray(2 * n)];
  const middle = Float32Array.from(green, (g, i) => 0.2126 * red[i]! + 0.7152 * g + 0.0722 * blue[i]!).sort()[n >> 1]!;
  const shown = (v: number) => 255 * (1 - Math.exp((-0.3 * Math.max(0, v)) / Math.max(1e-6, middle))) ** (1 / 2.2);
  return [red.map(shown), green.map(shown), blue.map(shown)];
}

/** A scene as a grey picture of WIDTH × HEIGHT. */
export function greyOf(scene: string, folder: string): Uint8Array {
  const [red, green, blue] = shownOf(scene, folder);
  return Uint8Array.from(green, (g, i) => 0.2126 * red[i]! + 0.7152 * g + 0.0722 * blue[i]!);
}

/** And in colour, three bytes a pixel. */
export function colourOf(scene: string, folder: string): Uint8Array {
  const planes = shownOf(scene, folder);
  return Uint8Array.from({ length: 3 * WIDTH * HEIGHT }, (_, i) => planes[i % 3]![Math.floor(i / 3)]!);
}

/** Looks a picture up at continuous pixels; it goes on at its other side. */
export function sample(picture: Uint8Array, u: number, v: number): number {
  const left = Math.floor(u);
  const top = Math.max(0, Math.min(HEIGHT - 2, Math.floor(v)));
  const fx = u - left;
  const fy = Math.max(0, Math.min(1, v - top));
  const a = top * WIDTH + (((left % WIDTH) + WIDTH) % WIDTH);
  const b = top * WIDTH + ((((left + 1) % WIDTH) + WIDTH) % WIDTH);
  return (
    (picture[a]! * (1 - fx) + picture[b]! * fx) * (1 - fy) +
    (picture[a + WIDTH]! * (1 - fx) + picture[b + WIDTH]! * fx) * fy
  );
}

/** What lies in a direction far away. */
export const far = (picture: Uint8Array, x: number, y: number, z: number) =>
  sample(
    picture,
    (Math.atan2(x, z) / (2 * Math.PI) + 0.5) * WIDTH - 0.5,
    (0.5 - Math.asin(Math.max(-1, Math.min(1, y))) / Math.PI) * HEIGHT - 0.5,
  );

/** Directions of all pixels, three numbers each. */
export const DIRECTIONS = new Float64Array(WIDTH * HEIGHT * 3);
for (let y = 0, k = 0; y < HEIGHT; y++)
  for (let x = 0; x < WIDTH; x++, k += 3)
    DIRECTIONS.set(directionOf(((x + 0.5) / WIDTH - 0.5) * 360, (0.5 - (y + 0.5) / HEIGHT) * 180), k);

/** The picture that a camera turned by a matrix (camera to world) takes of a scene. */
function turned(scene: Uint8Array, m: Matrix3): Uint8Array {
  const out = new Uint8Array(WIDTH * HEIGHT);
  for (let i = 0, k = 0; i < out.length; i++, k += 3) {
    const a = DIRECTIONS[k]!;
    const b = DIRECTIONS[k + 1]!;
    const c = DIRECTIONS[k + 2]!;
    out[i] = far(scene, m[0] * a + m[1] * b + m[2] * c, m[3] * a + m[4] * b + m[5] * c, m[6] * a + m[7] * b + m[8] * c);
  }
  return out;
}

/** Blurred, brightened or darkened, and noisy, each by lot. */
function worsened(grey: Uint8Array, random: () => number): Uint8Array {
  const [gain, lift, noise] = [0.6 + 0.8 * random(), 30 * (random() - 0.5), 10 * random()];
  const soft = random() < 0.3;
  return Uint8Array.from(grey, (v, i) => {
    const mean = soft ? (v + (grey[i + 1] ?? v) + (grey[i + WIDTH] ?? v) + (grey[i + WIDTH + 1] ?? v)) / 4 : v;
    return Math.max(0, Math.min(255, mean * gain + lift + noise * (random() + random() - 1)));
  });
}

/** Pictures as they come out of strong compression (JPEG). */
function compressed(pictures: Uint8Array[], folder: string): Uint8Array[] {
  const raw = ['-f', 'rawvideo', '-pix_fmt', 'gray', '-s', `${WIDTH}x${HEIGHT}`];
  const file = join(folder, 'leaned.avi');
  const input = Buffer.concat(pictures);
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...raw, '-i', '-', '-c:v', 'mjpeg', '-q:v', '12', file], { input });
  const read = ['-v', 'error', '-i', file, '-vf', 'format=gray', '-f', 'rawvideo', '-'];
  const bytes = execFileSync('ffmpeg', read, { maxBuffer: 1 << 30 });
  return pictures.map((p, i) => new Uint8Array(bytes.subarray(i * p.length, (i + 1) * p.length)));
}

/** How many pictures of each scene there are, by which lot, and which axis of the picture is up but for the lean. */
interface Leaning {
  each: number;
  seed?: number;
  up?: Vec3;
}

/** Pictures of scenes (by name, WIDTH × HEIGHT), leaned, turned and made worse by lot. `folder` is for what is needed on the way. */
export function leanedPictures(
  scenes: Record<string, Uint8Array>,
  folder: string,
  { each, seed = 7, up = [0, 1, 0] }: Leaning,
): Leaned[] {
  const random = seededRandom(seed);
  const mount = turnTo(up, [0, 1, 0]);
  const made = Object.entries(scenes).flatMap(([scene, grey]) =>
    Array.from({ length: each }, (): Leaned => {
      const [lean, towards] = [(Math.sqrt(random()) * MOST) / DEGREES, 2 * Math.PI * random()];
      const leaning = rotationAbout([Math.cos(towards) * lean, 0, Math.sin(towards) * lean]);
      const turn = multiply(multiply(leaning, rotationOf({ pan: 360 * random(), tilt: 0, roll: 0 })), mount);
      return { scene, grey: worsened(turned(grey, turn), random), up: apply(transpose(turn), [0, 1, 0]) };
    }),
  );
  const pictures = compressed(
    made.map((m) => m.grey),
    folder,
  );
  return made.map((m, i) => ({ ...m, grey: pictures[i]! }));
}

/** The same of photographs. */
export const leanedPhotographs = (scenes: readonly string[], folder: string, leaning: Leaning): Leaned[] =>
  leanedPictures(Object.fromEntries(scenes.map((scene) => [scene, greyOf(scene, folder)])), folder, leaning);
