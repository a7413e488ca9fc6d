/** How the picture stands: which of its six axes up lies near. Rigs hang head down, or lie on a side. */
import { angleBetween, dot, vec3, type Vec3 } from '../geometry/rotation.js';
import { layersFor, layersOf, skyAbove } from './evidence/layers.js';
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
/** How often rigs are held upright, head down, and with up at each of the four sides. */
const UPRIGHT = 0.93;
const OVER = 0.03;
const ASIDE = 0.0075;

/** Degrees about an axis within which its layers are looked at, from one direction to the next, and how far rigs usually lean. */
const REACH = 40;
const STEP = 10;
/** Every so manieth place of the layers will do. */
const SPARSE = 2;
const USUAL = 15;
/** How much layers count. */
const LAYERS = 40;
/** The directions about each axis, with the logarithm of how often rigs lean that far. */
const NEAR = LINES.map((axis) =>
  net(axis, REACH, STEP).map((up) => ({ up, prior: -0.5 * (angleBetween(up, axis) / USUAL) ** 2 })),
);
/**
 * Logarithm of how much likelier up is towards an open sky than away from it, that of the clearest, and how clear a sky it takes. Less
 * clear ones tell far less: lit floors (0.95 on photographs of halls) and windows look like sky, too. The power is fitted to that.
 */
const SKY = 6;
const OPEN = 1.2;
const POWER = 8;
const CLEAREST = 8;
const skyTells = (clear: number) => Math.sign(clear) * Math.min(CLEAREST, SKY * (Math.abs(clear) / OPEN) ** POWER);

/** What one look tells of a line: how well the layers lie across it, and how clearly the sky is towards its first end. */
interface Told {
  layers: number;
  sky: number;
}

/** Puts together what all looks of a footage tell, in the picture's axes: they see the same scene, so it is their mean. */
export class Stance {
  private readonly sums = LINES.map((): Told => ({ layers: 0, sky: 0 }));
  private looks = 0;

  look(seen: Seen) {
    const layers = layersOf(seen);
    const sky = skyward(seen);
    NEAR.forEach((directions, i) => {
      const near = directions.map(({ up, prior }) => ({ up, score: prior + LAYERS * layersFor(layers, up, SPARSE) }));
      const { up } = near.reduce((a, b) => (b.score > a.score ? b : a));
      const sum = this.sums[i]!;
      sum.layers += logSum(near.map((n) => n.score));
      sum.sky += dot(sky, up) + skyAbove(layers, up);
    });
    this.looks++;
  }

  /** The axis that up is nearest to, and how likely it is that one. */
  get axis(): Proposal {
    const found = LINES.flatMap((axis, i) => {
      const looks = Math.max(1, this.looks);
      const layers = this.sums[i]!.layers / looks;
      const tells = skyTells(this.sums[i]!.sky / looks);
      const [here, there] = i === 0 ? [UPRIGHT, OVER] : [ASIDE, ASIDE];
      // The sky only parts one end of a line from the other: a window at the side is no reason to take the side for up.
      return [
        { up: axis, score: layers + Math.log(here) - Math.log1p(Math.exp(-tells)) },
        {
          up: vec3(axis.map((v) => (v === 0 ? 0 : -v))),
          score: layers + Math.log(there) - Math.log1p(Math.exp(tells)),
        },
      ];
    });
    const { up, score } = found.reduce((a, b) => (b.score > a.score ? b : a));
    return { up, confidence: Math.exp(score - logSum(found.map((f) => f.score))) };
  }
}

/** The logarithm of the sum of what has these logarithms. */
function logSum(logs: number[]): number {
  const most = Math.max(...logs);
  return most + Math.log(logs.reduce((sum, v) => sum + Math.exp(v - most), 0));
}
