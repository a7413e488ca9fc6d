/** Drawn scenes all round in which hardly anything stands upright, as grey pictures: what levelling finds hard. */
import { DEGREES, vec3, type Vec3 } from '@glimbo/core/geometry/rotation';
import { directionOf } from '@glimbo/core/geometry/sphere';
import { seededRandom } from '@glimbo/core/random';
import { DIRECTIONS, HEIGHT, WIDTH } from './photographs.js';

const random = seededRandom(23);
const LATTICE = Float32Array.from({ length: 32 ** 3 }, random);

/** Smooth noise in space, 0…1. */
function noise(x: number, y: number, z: number): number {
  const [ix, iy, iz] = [Math.floor(x), Math.floor(y), Math.floor(z)];
  const [fx, fy, fz] = [x - ix, y - iy, z - iz].map((f) => f * f * (3 - 2 * f)) as [number, number, number];
  const at = (dx: number, dy: number, dz: number) =>
    LATTICE[(((ix + dx) & 31) * 32 + ((iy + dy) & 31)) * 32 + ((iz + dz) & 31)]!;
  const mix = (a: number, b: number, f: number) => a + (b - a) * f;
  const layer = (dz: number) => mix(mix(at(0, 0, dz), at(1, 0, dz), fx), mix(at(0, 1, dz), at(1, 1, dz), fx), fy);
  return mix(layer(0), layer(1), fz);
}
/** Four octaves of it. */
export const rough = (x: number, y: number, z: number) =>
  [1, 2, 4, 8].reduce((sum, f) => sum + noise(f * x, f * y, f * z) / (2 * f), 0);

/** Where a direction meets the ground below somebody's eyes, in metres; farther than 60 m nothing is told apart. */
const ground = ([x, y, z]: Vec3) => [1.6 * (x / -y), 1.6 * (z / -y)] as const;
const fading = (y: number) => Math.min(1, -y * 6);
export const clouds = ([x, y, z]: Vec3) => 150 + 70 * (1 - y) ** 2 + 40 * rough(3 * x, 6 * y, 3 * z);

function openWater(d: Vec3): number {
  if (d[1] >= 0) return clouds(d);
  const [gx, gz] = ground(d);
  return 95 + 45 * (1 + d[1]) ** 4 + 70 * fading(d[1]) * (rough(0.4 * gx, 0, 1.1 * gz) - 0.45);
}

function dunes(d: Vec3): number {
  const heading = Math.atan2(d[0], d[2]);
  const ridge =
    (3 + 2.2 * Math.sin(2 * heading + 1) + 1.6 * Math.sin(5 * heading) + 0.7 * Math.sin(11 * heading)) / DEGREES;
  if (d[1] > Math.sin(ridge)) return 205 - 60 * d[1];
  const slope = 25 * Math.sin(7 * heading + 9 * d[1]);
  return 150 + slope + 35 * (rough(9 * d[0], 14 * d[1], 9 * d[2]) - 0.45);
}

/** Trunks that lean by some 8° any way: where each meets the eye's height, which way it goes up, and how wide it is. */
const TRUNKS = Array.from({ length: 60 }, () => {
  const heading = 2 * Math.PI * random();
  const lean = ((random() + random() + random() - 1.5) * 16) / DEGREES;
  const side: Vec3 = [Math.cos(heading), 0, -Math.sin(heading)];
  const normal: Vec3 = [side[0] * Math.cos(lean), -Math.sin(lean), side[2] * Math.cos(lean)];
  return { foot: [Math.sin(heading), 0, Math.cos(heading)] as Vec3, normal, wide: (0.6 + 1.8 * random()) / DEGREES };
});

function leaningTrunks(d: Vec3): number {
  const on = TRUNKS.find(({ foot, normal, wide }) => {
    const before = d[0] * foot[0] + d[2] * foot[2] > 0;
    return before && d[1] > -4 * wide && Math.abs(d[0] * normal[0] + d[1] * normal[1] + d[2] * normal[2]) < wide;
  });
  if (on) return 35 + 30 * rough(20 * d[0], 4 * d[1], 20 * d[2]);
  if (d[1] < 0) return 90 + 120 * (rough(14 * d[0], 14 * d[1], 14 * d[2]) - 0.45);
  const leaves = rough(10 * d[0], 10 * d[1], 10 * d[2]);
  return leaves + 0.5 * d[1] > 0.62 ? 70 : 150 + 60 * d[1];
}

const fog = ([x, y, z]: Vec3) => 165 + 8 * y + 6 * (rough(2 * x, 2 * y, 2 * z) - 0.45);

const LANTERNS = Array.from({ length: 24 }, () => ({
  at: directionOf(360 * random() - 180, 18 * random() - 4),
  wide: (0.5 + 1.5 * random()) / DEGREES,
}));

function nightWithLanterns(d: Vec3): number {
  const light = LANTERNS.reduce((sum, { at, wide }) => {
    const away = Math.acos(Math.min(1, d[0] * at[0] + d[1] * at[1] + d[2] * at[2])) / wide;
    return sum + 220 * Math.exp(-away * away) + 14 / (1 + 0.02 * away * away);
  }, 0);
  return d[1] < 0 ? 6 + light * (0.5 + 0.5 * rough(20 * d[0], 20 * d[1], 20 * d[2])) : 9 + 0.6 * light;
}

function indoors(d: Vec3): number {
  const reach = [2.6, d[1] > 0 ? 1.2 : 1.5, 3.4].map((half, k) => half / Math.max(1e-9, Math.abs(d[k]!)));
  const nearest = Math.min(...reach);
  const [x, y, z] = d.map((v) => v * nearest) as [number, number, number];
  if (nearest === reach[1]) {
    const tile = (Math.floor(2 * x) + Math.floor(2 * z)) & 1;
    return d[1] > 0 ? 205 : 110 + 25 * tile;
  }
  const along = nearest === reach[0] ? z : x;
  const window = nearest === reach[2] && z > 0 && Math.abs(along) < 0.9 && y > -0.5 && y < 0.8;
  const shelf = nearest === reach[0] && y < 0.6 && (Math.floor(4 * along) & 3) === 0;
  return window ? 245 : shelf ? 60 + 40 * rough(3 * along, 8 * y, 0) : 160 - 15 * y;
}

const SCENES: Record<string, (direction: Vec3) => number> = {
  'open water': openWater,
  dunes,
  'leaning trunks': leaningTrunks,
  fog,
  'night with lanterns': nightWithLanterns,
  indoors,
};

/** All of them by name, WIDTH × HEIGHT. */
export const bareScenes = (): Record<string, Uint8Array> =>
  Object.fromEntries(Object.entries(SCENES).map(([name, light]) => [name, drawn(light)]));

export const drawn = (light: (direction: Vec3) => number): Uint8Array =>
  Uint8Array.from({ length: WIDTH * HEIGHT }, (_, i) =>
    Math.max(0, Math.min(255, light(vec3(DIRECTIONS.subarray(3 * i, 3 * i + 3))))),
  );
