/** What all cues together say of where up is: the likeliest direction, and how sure that is. */
import { angleBetween, type Vec3 } from '../geometry/rotation.js';
import { edgesOf } from './evidence/edges.js';
import { layersFor, layersOf } from './evidence/layers.js';
import { alongFor, skylineFor, uprightFor, type Evidence } from './evidence/likelihood.js';
import { uprightNear } from './evidence/upright.js';
import { RIGHT } from './sure.js';
import { net } from './evidence/net.js';
import type { Seen } from './evidence/seen.js';
import { skylineOf } from './evidence/skyline.js';

/** Degrees about the guess within which up is looked for, and how far rigs usually lean. */
const REACH = 40;
const USUAL = 15;
/** Degrees between the directions that are looked at: first everywhere, then climbing from the best, in the end finely. */
const COARSE = 4;
const CLIMB = [2, 1];
const FINE = [0.5, 0.25];
/** Where many directions are looked at, every so manieth edge, and place of the layers, will do. */
const STRIDE = 5;
const SPARSE = 2;
/** Likeliest directions that are climbed from, so many degrees apart. */
const PEAKS = 3;
const APART = 10;
/** Degrees about a peak in which likelihood is summed up, and from one direction to the next there. */
const ROUND = 8;
const SUMMED = 2;
/** From this logarithm of likelihood on uprights alone say where up is to a fraction of a degree. */
const UPRIGHT = 2;
/**
 * How much each cue counts: what is seen is not as independent as the mixtures take it to be. Set so that of the proposals called
 * p % sure p % are right, over leaned photographs (`bench accuracy` prints the table).
 */
const COUNTS: Evidence = { upright: 1.4, along: 0.08, skyline: 0.18, layers: 85 };

export interface Proposal {
  up: Vec3;
  /** How likely it is within RIGHT of the truth, 0…1. */
  confidence: number;
}

interface Scored {
  up: Vec3;
  score: number;
}

const best = (all: readonly Scored[]) => all.reduce((a, b) => (b.score > a.score ? b : a));

/**
 * Up near a guess in a picture. `without` leaves a cue out, to see what it is worth.
 */
export function proposeUp(seen: Seen, guess: Vec3, without?: keyof Evidence): Proposal {
  const { soft, width } = seen;
  const { strongest, spread } = edgesOf(seen);
  const counts = without ? { ...COUNTS, [without]: 0 } : COUNTS;
  const layers = layersOf(seen);
  let skyline = skylineOf(soft, width, guess);
  const ofAllElse = (up: Vec3, stride: number) =>
    counts.upright * uprightFor(strongest, up, stride) +
    counts.along * alongFor(spread, up, stride) +
    counts.layers * layersFor(layers, up, stride > 1 ? SPARSE : 1) -
    0.5 * (angleBetween(up, guess) / USUAL) ** 2;
  const ofSkyline = (up: Vec3) => counts.skyline * skylineFor(skyline, up);
  const score = (up: Vec3, stride: number) =>
    angleBetween(up, guess) > REACH ? -Infinity : ofAllElse(up, stride) + ofSkyline(up);

  const coarse = net(guess, REACH, COARSE).map((up) => ({ up, score: ofAllElse(up, STRIDE) }));
  const everywhere = (): Scored[] => coarse.map(({ up, score: rest }) => ({ up, score: rest + ofSkyline(up) }));
  // Looked at along the right way down, the skyline is clearer.
  skyline = skylineOf(soft, width, best(everywhere()).up);
  const all = everywhere();
  const peaks = peaksOf(all).map((p) => climb(p, CLIMB, (up) => score(up, STRIDE)));
  const top = best(peaks);
  const likeliest = climb(top, FINE, (u) => score(u, 1)).up;
  const up = uprightFor(strongest, likeliest) >= UPRIGHT ? uprightNear(strongest, likeliest) : likeliest;
  return { up, confidence: sureness(up, peaks, all, (u) => score(u, STRIDE)) };
}

/** The likeliest directions that lie apart. */
function peaksOf(all: readonly Scored[]): Scored[] {
  const peaks: Scored[] = [];
  for (const one of [...all].sort((a, b) => b.score - a.score))
    if (peaks.length < PEAKS && peaks.every((p) => angleBetween(p.up, one.up) > APART)) peaks.push(one);
  return peaks;
}

/** Goes up from a direction in ever smaller steps. */
function climb({ up: from }: Scored, steps: number[], score: (up: Vec3) => number): Scored {
  let top: Scored = { up: from, score: score(from) };
  for (const step of steps)
    for (let before = -Infinity; top.score > before + 1e-9;) {
      before = top.score;
      top = best([top, ...net(top.up, step * 1.5, step).map((up) => ({ up, score: score(up) }))]);
    }
  return top;
}

/** The share of all likelihood that lies within RIGHT of a direction. */
function sureness(up: Vec3, peaks: Scored[], all: readonly Scored[], score: (up: Vec3) => number): number {
  const most = best(peaks).score;
  let [right, sum] = [0, 0];
  const add = (u: Vec3, s: number, area: number) => {
    const share = Math.exp(s - most) * area;
    sum += share;
    if (angleBetween(u, up) <= RIGHT) right += share;
  };
  // Finely round each peak, coarsely elsewhere; each direction stands for its area.
  peaks.forEach((peak, i) => {
    for (const u of net(peak.up, ROUND, SUMMED))
      if (peaks.slice(0, i).every((p) => angleBetween(p.up, u) > ROUND)) add(u, score(u), SUMMED ** 2);
  });
  for (const { up: u, score: s } of all) if (peaks.every((p) => angleBetween(p.up, u) > ROUND)) add(u, s, COARSE ** 2);
  return sum > 0 ? right / sum : 0;
}
