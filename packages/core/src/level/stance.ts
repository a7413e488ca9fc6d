/** How the picture stands: which of its six axes up lies near. Rigs hang head down, or lie on a side. */
import { angleBetween, dot, vec3, type Vec3 } from '../geometry/rotation.js';
import { aboveOf, layersFor, layersOf } from './evidence/layers.js';
import { net } from './evidence/net.js';
import type { Seen } from './evidence/seen.js';
import type { Proposal } from './proposal.js';
import { skyward } from './skyward.js';

/** The axes of the picture along which up may lie, each followed by the opposite one. */
const LINES: Vec3[] = [
  [0, 1, 0],
  [1, 0, 0],
  [0, 0, 1],
];
/** How often a rig is held upright, head down, and with up at each of the four sides. */
interface Priors {
  upright: number;
  over: number;
  aside: number;
}
const USUAL: Priors = { upright: 0.93, over: 0.03, aside: 0.0075 };
/** With these it is judged how sure that is: what is known for sure is told by the picture, not by what rigs usually do. */
const DOUBTING: Priors = { upright: 0.6, over: 0.3, aside: 0.025 };
/** By how much less the layers tell there: of pictures in which they lie askew they are sure, too. */
const DOUBTED = 0.7;

/** Degrees about an axis within which its layers are looked at, from one direction to the next, and how far rigs usually lean. */
const REACH = 40;
const STEP = 10;
/** Every so manieth place of the layers will do. */
const SPARSE = 2;
const LEAN = 15;
/** How much layers count. */
const LAYERS = 40;
/** The directions about each axis, with the logarithm of how often rigs lean that far. */
const NEAR = LINES.map((axis) =>
  net(axis, REACH, STEP).map((up) => ({ up, prior: -0.5 * (angleBetween(up, axis) / LEAN) ** 2 })),
);
/**
 * Logarithm of how much likelier up is towards an open sky than away from it, that of the clearest, and how clear a sky it takes. Less
 * clear ones tell far less: lit floors and windows look like sky, too. The power is fitted to that.
 */
const SKY = 6;
const OPEN = 0.76;
const POWER = 8;
const CLEAREST = 8;
/** How much brightness counts beside the direction in which it is bright and smooth. */
const BRIGHTER = 1.3;
/** How much less smooth a sky may be than the ground: snow and sunlit floors are bright, too, but not as smooth. */
const ROUGHER = 0.1;

/** What one look tells of a line: how well the layers lie across it, and what is like a sky towards its first end. */
interface Told {
  layers: number;
  /** How clearly what is bright and smooth lies there; by how much it is brighter, and smoother, than at the other end. */
  skyward: number;
  brighter: number;
  smoother: number;
}

/** Logarithm of how much likelier up is at the first end than at the other: where all that is like a sky lies at the same one. */
function skyTells({ skyward, brighter, smoother }: Told): number {
  const end = Math.sign(brighter);
  if (skyward * end <= 0) return 0;
  const clear = Math.sqrt(skyward * BRIGHTER * brighter);
  const smooth = Math.max(0, Math.min(1, 1 + (smoother * end) / ROUGHER));
  return end * smooth * Math.min(CLEAREST, SKY * (clear / OPEN) ** POWER);
}

/** Puts together what all looks of a footage tell, in the picture's axes: they see the same scene, so it is their mean. */
export class Stance {
  private readonly sums = LINES.map((): Told => ({ layers: 0, skyward: 0, brighter: 0, smoother: 0 }));
  private looks = 0;

  look(seen: Seen) {
    const layers = layersOf(seen);
    const sky = skyward(seen);
    NEAR.forEach((directions, i) => {
      const near = directions.map(({ up, prior }) => ({ up, score: prior + LAYERS * layersFor(layers, up, SPARSE) }));
      const { up } = near.reduce((a, b) => (b.score > a.score ? b : a));
      const { brighter, smoother } = aboveOf(layers, up);
      const sum = this.sums[i]!;
      sum.layers += logSum(near.map((n) => n.score));
      sum.skyward += dot(sky, up);
      sum.brighter += brighter;
      sum.smoother += smoother;
    });
    this.looks++;
  }

  /** The axis that up is nearest to, and how likely it is that one. */
  get axis(): Proposal {
    const usually = this.axes(USUAL, 1);
    const [n] = usually.reduce((best, axis, i) => (axis.likely > best[1] ? [i, axis.likely] : best), [0, 0]);
    const { up, likely } = usually[n]!;
    return { up, confidence: Math.min(likely, this.axes(DOUBTING, DOUBTED)[n]!.likely) };
  }

  /** How likely up is near each axis; `counts`: how much the layers do. */
  private axes({ upright, over, aside }: Priors, counts: number): { up: Vec3; likely: number }[] {
    const looks = Math.max(1, this.looks);
    const scored = LINES.flatMap((axis, i) => {
      const told = this.sums[i]!;
      const tells = skyTells({
        layers: told.layers / looks,
        skyward: told.skyward / looks,
        brighter: told.brighter / looks,
        smoother: told.smoother / looks,
      });
      const layers = (counts * told.layers) / looks;
      const [here, there] = i === 0 ? [upright, over] : [aside, aside];
      // The sky only parts one end of a line from the other: a window at the side is no reason to take the side for up.
      return [
        { up: axis, score: layers + Math.log(here) - Math.log1p(Math.exp(-tells)) },
        {
          up: vec3(axis.map((v) => (v === 0 ? 0 : -v))),
          score: layers + Math.log(there) - Math.log1p(Math.exp(tells)),
        },
      ];
    });
    const all = logSum(scored.map(({ score }) => score));
    return scored.map(({ up, score }) => ({ up, likely: Math.exp(score - all) }));
  }
}

/** The logarithm of the sum of what has these logarithms. */
function logSum(logs: number[]): number {
  const most = Math.max(...logs);
  return most + Math.log(logs.reduce((sum, v) => sum + Math.exp(v - most), 0));
}
