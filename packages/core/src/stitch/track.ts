/** What a stitch follows over time: how much brighter one lens is than the other, and where the seam had best run. */
import { median } from './calibrate.js';
import { housed, SEAM_POINTS, SECTORS, type StitchTrack, type TwoLenses } from './source.js';
import { bandTable, overlapHalf, unrollColour, type Picture } from './overlap.js';

/** Seconds from one look at the overlap to the next. */
export const TRACK_EVERY = 0.2;
/** Seconds over which brightness is smoothed (standard deviation), so that a passer-by does not make it flicker. */
const MATCH_SMOOTHING = 1.2;

const COLUMNS = SEAM_POINTS * 2;
const ROWS = 25;

/** What one moment's overlap says. */
export interface OverlapLook {
  /** Logarithmic ratios, three a sector. */
  ratios: number[];
  /** Costs of letting the seam run through a place: SEAM_POINTS × ROWS. */
  costs: Float32Array;
  /** Half the height of the looked-at band in degrees. */
  half: number;
}

const TAPS = 2;

/** A way to look at the overlap in many pictures of one source. Null when the lenses do not overlap. */
export function overlapLooker(source: TwoLenses): ((picture: Picture) => OverlapLook) | null {
  const lenses = source.lenses.map((l) => housed(l, source.housing)) as TwoLenses['lenses'];
  const half = Math.min(10, overlapHalf(lenses, 2));
  if (half < 0.5) return null;
  const tables = lenses.map((lens) => bandTable(lens, COLUMNS, ROWS, half, TAPS));
  return (picture) => {
    const [a, b] = tables.map((table) => unrollColour(picture, table, TAPS)) as [Float32Array, Float32Array];
    const ratios = ratiosOf(a, b);
    return { ratios, costs: costsOf(a, b, ratios), half };
  };
}

/** Median over each sector of log(first / second), per colour; smoothed round the seam. Places that differ in content weigh little in a median. */
function ratiosOf(a: Float32Array, b: Float32Array): number[] {
  const width = COLUMNS / SECTORS;
  const raw = Array.from({ length: SECTORS }, (_, sector) =>
    [0, 1, 2].map((c) => {
      const values: number[] = [];
      for (let i = -width; i < width; i++)
        for (let r = 0; r < ROWS; r++) {
          const column = (sector * width + i + COLUMNS) % COLUMNS;
          const at = (r * COLUMNS + column) * 3 + c;
          const [p, q] = [a[at]!, b[at]!];
          if (Math.min(p, q) > 20 && Math.max(p, q) < 245) values.push(Math.log(p / q));
        }
      return values.length >= 12 ? median(values) : NaN;
    }),
  );
  const whole = [0, 1, 2].map((c) => median(raw.map((s) => s[c]!).filter(Number.isFinite)) || 0);
  const filled = raw.map((s) => s.map((v, c) => (Number.isFinite(v) ? v : whole[c]!)));
  return filled.flatMap((s, i) => {
    const before = filled[(i + SECTORS - 1) % SECTORS]!;
    const after = filled[(i + 1) % SECTORS]!;
    return s.map((v, c) => Math.max(-0.6, Math.min(0.6, 0.5 * v + 0.25 * (before[c]! + after[c]!))));
  });
}

/** Difference of the lenses, colours brought together, at each place the seam could run through. */
function costsOf(a: Float32Array, b: Float32Array, ratios: number[]): Float32Array {
  const costs = new Float32Array(SEAM_POINTS * ROWS);
  for (let i = 0; i < SEAM_POINTS; i++) {
    const sector = Math.round((i * SECTORS) / SEAM_POINTS) % SECTORS;
    const gains = [0, 1, 2].map((c) => Math.exp(ratios[sector * 3 + c]!));
    for (let r = 0; r < ROWS; r++) {
      let cost = 0;
      for (let k = 0; k < 2; k++) {
        const at = (r * COLUMNS + ((2 * i + k) % COLUMNS)) * 3;
        for (let c = 0; c < 3; c++) cost += Math.abs(a[at + c]! - gains[c]! * b[at + c]!);
      }
      costs[i * ROWS + r] = cost / 6;
    }
  }
  return costs;
}

/** Cost of a step of the seam from one azimuth to the next, and of leaving the middle and the place it had before, per row. */
const BENDING = 2.2;
const OFF_MIDDLE = 0.25;
const MOVING = 1.2;
const MOST_STEP = 3;

/**
 * The cheapest way round the band, closed, by dynamic programming: row of the seam at each azimuth. `before` is the
 * way it took a moment ago. The way is opened where leaving the middle is dearest, so that it closes where it matters.
 */
export function cheapestSeam(costs: Float32Array, before: number[] | null): number[] {
  const middle = (ROWS - 1) / 2;
  const at = (i: number, r: number) =>
    costs[i * ROWS + r]! + OFF_MIDDLE * Math.abs(r - middle) + (before ? MOVING * Math.abs(r - before[i]!) : 0);
  let start = 0;
  let least = Infinity;
  for (let i = 0; i < SEAM_POINTS; i++) {
    const here = at(i, middle);
    if (here < least) [start, least] = [i, here];
  }
  const home = Math.round(before ? before[start]! : middle);
  const from = new Int8Array(SEAM_POINTS * ROWS);
  let sums = new Float64Array(ROWS).fill(Infinity);
  sums[home] = 0;
  for (let step = 1; step <= SEAM_POINTS; step++) {
    const i = (start + step) % SEAM_POINTS;
    const next = new Float64Array(ROWS).fill(Infinity);
    for (let r = 0; r < ROWS; r++)
      for (let d = -MOST_STEP; d <= MOST_STEP; d++) {
        const previous = r + d;
        if (previous < 0 || previous >= ROWS) continue;
        const sum = sums[previous]! + BENDING * Math.abs(d) + at(i, r);
        if (sum < next[r]!) {
          next[r] = sum;
          from[i * ROWS + r] = previous;
        }
      }
    sums = next;
  }
  const way = new Array<number>(SEAM_POINTS);
  let row = home;
  for (let step = SEAM_POINTS; step >= 1; step--) {
    const i = (start + step) % SEAM_POINTS;
    way[i] = row;
    row = from[i * ROWS + row]!;
  }
  return way;
}

/** Joins the looks at a whole recording, TRACK_EVERY seconds apart, to its track. */
export function trackOf(looks: OverlapLook[]): StitchTrack {
  const ways: number[][] = [];
  for (const { costs } of looks) ways.push(cheapestSeam(costs, ways.at(-1) ?? null));
  const middle = (ROWS - 1) / 2;
  const degrees = ways.map((way, n) => way.map((row) => ((row - middle) * 2 * looks[n]!.half) / ROWS));
  const round = (v: number) => Math.round(v * 1e4) / 1e4;
  return {
    every: TRACK_EVERY,
    ratios: smoothed(
      looks.map((l) => l.ratios),
      MATCH_SMOOTHING / TRACK_EVERY,
    ).map((l) => l.map(round)),
    seam: smoothed(degrees.map(smoothRound), 1).map((l) => l.map(round)),
  };
}

/** A closed line smoothed with 1 2 1. */
const smoothRound = (line: number[]) =>
  line.map((v, i) => 0.5 * v + 0.25 * (line[(i + line.length - 1) % line.length]! + line[(i + 1) % line.length]!));

/** Each entry as the Gaussian-weighted mean of its neighbours in time. */
function smoothed(list: number[][], deviation: number): number[][] {
  const reach = Math.ceil(deviation * 2.5);
  return list.map((entry, n) => {
    const sum = entry.map(() => 0);
    let total = 0;
    for (let k = Math.max(0, n - reach); k <= Math.min(list.length - 1, n + reach); k++) {
      const weight = Math.exp(-0.5 * ((k - n) / deviation) ** 2);
      total += weight;
      list[k]!.forEach((v, i) => (sum[i]! += weight * v));
    }
    return sum.map((v) => v / total);
  });
}
