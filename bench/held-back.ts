/**
 * Scenes that no constant of levelling was chosen on: panoramas of real places (Debian's `stellarium-data`) under skies of our own,
 * since theirs are left out, and drawn ones. All as grey pictures of WIDTH × HEIGHT.
 */
import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { DEGREES, type Vec3 } from '@glimbo/core/geometry/rotation';
import { lonLatOf } from '@glimbo/core/geometry/sphere';
import { seededRandom } from '@glimbo/core/random';
import { clouds, drawn, rough } from './bare-scenes.js';

const PANORAMAS = '/usr/share/stellarium/landscapes';

/** A picture's light and how far it covers what is behind it, 0 to 255. */
interface Picture {
  width: number;
  height: number;
  at: (x: number, y: number) => { grey: number; cover: number };
}
/** Light of a direction, 0 to 255. */
type Light = (direction: Vec3) => number;

function read(name: string): Picture {
  const file = join(PANORAMAS, name);
  const probe = ['-v', 'error', '-show_entries', 'stream=width,height', '-of', 'csv=p=0', file];
  const [width, height] = execFileSync('ffprobe', probe).toString().split(',').map(Number) as [number, number];
  const raw = ['-v', 'error', '-i', file, '-pix_fmt', 'rgba', '-f', 'rawvideo', '-'];
  const bytes = execFileSync('ffmpeg', raw, { maxBuffer: 1 << 28 });
  const inside = (v: number, most: number) => Math.max(0, Math.min(most - 1, Math.floor(v)));
  return {
    width,
    height,
    at(x, y) {
      const [r, g, b, cover] = bytes.subarray(4 * (inside(y, height) * width + inside(x, width)));
      return { grey: 0.2126 * r! + 0.7152 * g! + 0.0722 * b!, cover: cover! };
    },
  };
}

const over = ({ grey, cover }: { grey: number; cover: number }, behind: number) =>
  (grey * cover + behind * (255 - cover)) / 255;

/** Pictures side by side all round, from one height in degrees to another, above a ground that is seen as a plane. */
function ring(
  names: string[],
  { top, bottom, tangents = false }: { top: number; bottom: number; tangents?: boolean },
  ground: string,
  sky: Light,
): Light {
  const sides = names.map(read);
  const below = read(ground);
  const rise = (degrees: number) => (tangents ? Math.tan(degrees / DEGREES) : degrees);
  const reach = Math.tan(-bottom / DEGREES);
  return (d) => {
    const { longitude, latitude } = lonLatOf(d);
    if (latitude >= top) return sky(d);
    if (latitude > bottom) {
      const place = (longitude / 360 + 0.5) * sides.length;
      const side = sides[Math.floor(place) % sides.length]!;
      const down = (rise(top) - rise(latitude)) / (rise(top) - rise(bottom));
      return over(side.at((place % 1) * side.width, down * side.height), sky(d));
    }
    const on = (v: number, size: number) => (0.5 + (0.5 * v * reach) / -d[1]) * size;
    return below.at(on(d[0], below.width), on(d[2], below.height)).grey;
  };
}

/** A whole sphere, or its part from a height down. */
function sphere(name: string, top: number, sky: Light): Light {
  const picture = read(name);
  return (d) => {
    const { longitude, latitude } = lonLatOf(d);
    if (latitude >= top) return sky(d);
    const [x, y] = [longitude / 360 + 0.5, (top - latitude) / (top + 90)];
    return over(picture.at(x * picture.width, y * picture.height), sky(d));
  };
}

/** What lies about the zenith, seen by one lens; below it there is dark ground. */
function lens(name: string, across: number, sky: Light): Light {
  const picture = read(name);
  return (d) => {
    const away = Math.acos(Math.max(-1, Math.min(1, d[1]))) * DEGREES;
    if (away > 0.48 * across) return 20 + 40 * rough(9 * d[0], 9 * d[1], 9 * d[2]);
    const r = away / across;
    const level = Math.max(1e-9, Math.hypot(d[0], d[2]));
    const [x, y] = [0.5 + (r * d[0]) / level, 0.5 + (r * d[2]) / level];
    return over(picture.at(x * picture.width, y * picture.height), sky(d));
  };
}

const clear: Light = ([, y]) => 205 - 80 * Math.max(0, y);
const overcast: Light = ([x, y, z]) => 190 + 30 * rough(2 * x, 5 * y, 2 * z) - 25 * Math.max(0, y);
const black: Light = () => 4;
const numbered = (place: string, count: number) => Array.from({ length: count }, (_, i) => `${place}${i + 1}.png`);

const real = (): Record<string, Light> => ({
  snow: ring(numbered('hurricane/hurricane', 8), { top: 58, bottom: -17 }, 'hurricane/hurricaneb.png', overcast),
  meadow: ring(numbered('guereins/guereins', 8), { top: 18.6, bottom: -21.4 }, 'guereins/guereinsb.png', clouds),
  'town edge': ring(
    numbered('garching/garching-gl', 4),
    { top: 3, bottom: -60, tangents: true },
    'garching/garching-ground3.png',
    overcast,
  ),
  ocean: ring(numbered('ocean/ocean', 8), { top: 0, bottom: -45 }, 'ocean/ocean9.png', clouds),
  mound: sphere('grossmugl/grossmugl_leeberg_crop11.25_2048.png', 11.25, clouds),
  'red plain': sphere('mars/mars.png', 90, clear),
  'grey hills': sphere('moon/apollo17.png', 90, black),
  glade: lens('trees/trees_512.png', 210, clouds),
});

/** A hall with columns, a gallery, and windows high up on one side. */
function hall(d: Vec3): number {
  const reach = [9, d[1] > 0 ? 7 : 1.6, 16].map((half, k) => half / Math.max(1e-9, Math.abs(d[k]!)));
  const nearest = Math.min(...reach);
  const [x, y, z] = d.map((v) => v * nearest) as [number, number, number];
  if (nearest === reach[1]) return d[1] > 0 ? 120 + 40 * (Math.floor(z / 2) & 1) : 90 + 60 * rough(x, 0, z);
  const along = nearest === reach[0] ? z : x;
  const column = Math.abs(((along + 40) % 4) - 2) < 0.35;
  const gallery = Math.abs(y - 2.5) < 0.25;
  const window = d[0] > 0 && nearest === reach[0] && y > 4 && Math.abs(((along + 42) % 4) - 2) < 0.8;
  if (window) return 250;
  return (column ? 150 : gallery ? 60 : 110) + 30 * rough(2 * along, 2 * y, 3);
}

/** A lake among mountains, with what is mirrored in it. */
function lake(d: Vec3): number {
  const heading = Math.atan2(d[0], d[2]);
  const ridge =
    (9 + 6 * Math.sin(2 * heading + 2) + 4 * Math.sin(5 * heading + 1) + 1.5 * Math.sin(13 * heading)) / DEGREES;
  const mirrored: Vec3 = [d[0], Math.abs(d[1]), d[2]];
  const land = Math.asin(mirrored[1]) < ridge;
  const light = land ? 70 + 70 * rough(7 * mirrored[0], 9 * mirrored[1], 7 * mirrored[2]) : clouds(mirrored);
  if (d[1] >= 0) return light;
  const [gx, gz] = [(1.6 * d[0]) / -d[1], (1.6 * d[2]) / -d[1]];
  return 0.6 * light + 25 + 40 * Math.min(1, -3 * d[1]) * (rough(0.8 * gx, 0, 0.8 * gz) - 0.45);
}

/** Trunks by their place round about: how wide, and by how much each leans (radians). */
const random = seededRandom(71);
const TRUNKS = Array.from({ length: 60 }, () => ({
  wide: 0.08 + 0.3 * random(),
  lean: (14 * (random() + random() - 1)) / DEGREES,
}));

/** A wood on a slope: trunks that stand, some of them leaning, on ground that is not level. */
function slope(d: Vec3): number {
  const heading = Math.atan2(d[0], d[2]);
  const rise = Math.asin(d[1]);
  const place = (heading / (2 * Math.PI) + 0.5) * TRUNKS.length;
  const { wide, lean } = TRUNKS[Math.floor(place) % TRUNKS.length]!;
  const off = Math.abs((place % 1) - 0.5 - (lean * rise * TRUNKS.length) / (2 * Math.PI));
  const ground = d[1] + 0.2 * Math.sin(heading) * Math.sqrt(1 - d[1] ** 2);
  if (ground < -0.12) return 80 + 110 * (rough(12 * d[0], 12 * d[1], 12 * d[2]) - 0.4);
  if (off < wide * Math.cos(rise)) return 45 + 50 * rough(30 * heading, 3 * d[1], 1);
  return rough(9 * d[0], 9 * d[1], 9 * d[2]) > 0.5 - 0.25 * d[1] ? 95 : 170;
}

/** All of them by name; without the real ones where the package is not installed, which is said. */
export function heldBackScenes(): Record<string, Uint8Array> {
  const installed = existsSync(PANORAMAS);
  if (!installed) console.log('Without the real scenes that are held back: apt-get install stellarium-data');
  const scenes = { ...(installed ? real() : {}), hall, lake, slope };
  return Object.fromEntries(Object.entries(scenes).map(([name, light]) => [name, drawn(light)]));
}
