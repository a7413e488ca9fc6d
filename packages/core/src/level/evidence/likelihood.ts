/**
 * How likely directions are to be up, from edges and skyline. Each cue is a mixture: a share of what is seen that obeys it, with
 * its spread, and the rest that lies anyhow. Share and spread are those that fit best, so that a cue that is not there says
 * nothing, and one that is blurred says it softly. Logarithms, 0 for a direction about which nothing is known.
 */
import { DEGREES, type Vec3 } from '../../geometry/rotation.js';
import type { Edges } from './edges.js';

/** Sines of the heights between which edges may be upright: on the ground lines run every way. */
const HIGHEST = 0.75;
const LOWEST = -0.3;
/** How many edges stand for one thing seen: windows overlap, and what is seen has length. */
const OVERLAP = 8;
/** Neighbouring headings of the skyline that stand for one thing seen. */
const NEIGHBOURS = 3;

/** Bins of the sine off upright, growing by a fixed factor from the finest on. */
const BINS = 32;
const FINEST = 0.004;
const GROWTH = 1.2;
const binOf = (sine: number) =>
  sine <= FINEST ? 0 : Math.min(BINS - 1, 1 + Math.floor(Math.log(sine / FINEST) / Math.log(GROWTH)));
const middleOf = (bin: number) => (bin === 0 ? FINEST / 2 : Math.min(1, FINEST * GROWTH ** (bin - 0.5)));
/** The bin of every thousandth, so that no logarithm is taken for an edge. */
const BIN_TABLE = Uint8Array.from({ length: 2001 }, (_, i) => binOf(i / 2000));

/** Logarithms of a mixture against chance, bin by bin, for every spread and share that is thought of. */
function tables(spreads: number[], shares: number[], ratio: (bin: number, spread: number) => number): Float64Array[] {
  return spreads.flatMap((spread) =>
    shares.map((share) =>
      Float64Array.from({ length: BINS }, (_, bin) => Math.log(1 - share + share * ratio(bin, spread))),
    ),
  );
}

/** Upright edges, trunks among them that lean: sines of a Cauchy distribution against even ones. */
const UPRIGHT = tables([0.012, 0.025, 0.05, 0.1, 0.2], [0.02, 0.05, 0.1, 0.2, 0.35], (bin, spread) => {
  const q = middleOf(bin) / spread;
  return 1 / (Math.atan(1 / spread) * spread * (1 + q * q));
});
/** Edges along the horizon: angles of a normal distribution on the sphere against even ones. */
const ALONG = tables([0.015, 0.03], [0.005, 0.015, 0.04, 0.1], (bin, spread) => {
  const q = middleOf(bin) / spread;
  return (2 / (spread * spread)) * Math.exp(-0.5 * q * q);
});

/** Sines of a skyline's heights in thousandths from −1 to 1, and hills of several sizes. */
const HEIGHTS = 2001;
const HILLS = [0.8, 1.6, 3.2, 6.4] as const;
const SKYLINE = HILLS.map((hill) =>
  Float64Array.from({ length: HEIGHTS }, (_, i) => {
    const h = Math.asin((i - 1000) / 1000) * DEGREES;
    const near = h >= 0 ? Math.exp(-h / hill) : Math.exp(h / 0.7);
    const above = h >= 0 ? Math.exp(-h / 16) / 16 : 0;
    const below = h < 0 ? Math.exp(h / 10) / 10 : 0;
    // Against a skyline that lies anywhere within some 60°.
    return Math.log(((0.6 * near) / (hill + 0.7) + 0.28 * above + 0.1 * below + 0.0004) * 60);
  }),
);

const best = (histogram: Float64Array, among: Float64Array[]) => {
  let most = 0;
  for (const table of among) {
    let sum = 0;
    for (let bin = 0; bin < BINS; bin++) sum += histogram[bin]! * table[bin]!;
    most = Math.max(most, sum);
  }
  return most;
};

export interface Evidence {
  upright: number;
  along: number;
  skyline: number;
  layers: number;
}

/** How well every `stride`th edge stands upright, if a direction is up. */
export function uprightFor({ normals, places, weights, count }: Edges, [x, y, z]: Vec3, stride = 1): number {
  const off = new Float64Array(BINS);
  for (let i = 0; i < count; i += stride) {
    const k = 3 * i;
    const height = places[k]! * x + places[k + 1]! * y + places[k + 2]! * z;
    if (height > HIGHEST || height < LOWEST) continue;
    const lean = Math.abs(normals[k]! * x + normals[k + 1]! * y + normals[k + 2]! * z);
    off[BIN_TABLE[Math.floor(lean * 2000)]!]! += weights[i]! * stride;
  }
  return best(off, UPRIGHT) / OVERLAP;
}

/** How well every `stride`th edge lies along the horizon, if a direction is up. */
export function alongFor({ normals, places, weights, count }: Edges, [x, y, z]: Vec3, stride = 1): number {
  const along = new Float64Array(BINS);
  for (let i = 0; i < count; i += stride) {
    const k = 3 * i;
    const height = places[k]! * x + places[k + 1]! * y + places[k + 2]! * z;
    const lean = Math.abs(normals[k]! * x + normals[k + 1]! * y + normals[k + 2]! * z);
    const away = Math.sqrt(Math.max(0, 2 * (1 - lean)) + height * height);
    along[BIN_TABLE[Math.min(2000, Math.floor(away * 2000))]!]! += weights[i]! * stride;
  }
  return best(along, ALONG) / OVERLAP;
}

/** What a skyline, three numbers for each of its directions, says of a direction. */
export function skylineFor(skyline: Float64Array, [x, y, z]: Vec3): number {
  const sums = [0, 0, 0, 0];
  const [a, b, c, d] = SKYLINE as [Float64Array, Float64Array, Float64Array, Float64Array];
  for (let k = 0; k < skyline.length; k += 3) {
    const place = Math.round((skyline[k]! * x + skyline[k + 1]! * y + skyline[k + 2]! * z) * 1000) + 1000;
    sums[0]! += a[place]!;
    sums[1]! += b[place]!;
    sums[2]! += c[place]!;
    sums[3]! += d[place]!;
  }
  return Math.max(0, ...sums) / NEIGHBOURS;
}
