/** Regions joined over time: what moves, as streaks. */
import { angleBetween, apply, transpose, unit, vec3, type Matrix3, type Vec3 } from '../geometry/rotation.js';
import type { Region } from './regions.js';

/** A streak's region in a look. */
export interface StreakLook extends Region {
  /** Which look of the recording. */
  look: number;
}

export interface Streak {
  looks: StreakLook[];
  /** How sure it is that something moves there by itself, 0 to 1. */
  sure: number;
}

/** How the rig goes, look by look. */
export interface Rig {
  /** From directions of a look's picture to the world's. */
  toWorld: (look: number) => Matrix3;
  /** Whether it travels, so that what goes with it moves before the world as well. */
  travels: (look: number) => boolean;
}

/** Looks after which a streak that is not met again has ended. */
const ENDS = 4;
/** How far off, in its sizes, something may be from where it was expected, and how much larger or smaller (a natural logarithm). */
const NEAR = 0.9;
const LIKE = 0.7;
/** Fewer looks than this are chance. */
const FEWEST = 4;

interface Growing {
  looks: StreakLook[];
  /** Change of direction from one look to the next. */
  velocity: Vec3;
}

/** Joins regions, look by look, into streaks. */
export class StreakJoiner {
  private growing: Growing[] = [];
  private readonly ended: Growing[] = [];

  /** The regions of the next look. */
  add(look: number, regions: readonly Region[]): void {
    const pairs = this.growing.flatMap((streak) =>
      regions.flatMap((region) => {
        const cost = costOf(streak, region, look);
        return cost < 1 ? [{ streak, region, cost }] : [];
      }),
    );
    pairs.sort((a, b) => a.cost - b.cost);
    const taken = new Set<Growing | Region>();
    for (const { streak, region } of pairs) {
      if (taken.has(streak) || taken.has(region)) continue;
      taken.add(streak).add(region);
      goOn(streak, { ...region, look });
    }
    for (const region of regions)
      if (!taken.has(region)) this.growing.push({ looks: [{ ...region, look }], velocity: [0, 0, 0] });
    const goesOn = ({ looks }: Growing) => look - looks.at(-1)!.look < ENDS;
    this.ended.push(...this.growing.filter((streak) => !goesOn(streak)));
    this.growing = this.growing.filter(goesOn);
  }

  /** All streaks so far, by when they begin. */
  streaks(rig: Rig): Streak[] {
    return [...this.ended, ...this.growing]
      .filter(({ looks }) => looks.length >= FEWEST)
      .map(({ looks }) => ({ looks, sure: sureOf(looks, rig) }))
      .sort((a, b) => a.looks[0]!.look - b.looks[0]!.look);
  }
}

/** How unlikely it is that a region is where a streak goes on; 1 and more: it is not. */
function costOf({ looks, velocity }: Growing, region: Region, look: number): number {
  const last = looks.at(-1)!;
  const passed = look - last.look;
  const expected = unit(vec3([0, 1, 2].map((k) => last.direction[k]! + velocity[k]! * passed)));
  const size = Math.max(last.width, last.height);
  const off = angleBetween(expected, region.direction) / size / NEAR;
  const larger =
    (Math.abs(Math.log(region.width / last.width)) + Math.abs(Math.log(region.height / last.height))) / 2 / LIKE;
  return off + 0.5 * larger > 1 || larger > 1 ? 1 : (off + 0.5 * larger) / 1.5;
}

/** How much of a new step goes into the velocity. */
const FRESH = 0.4;

function goOn(streak: Growing, look: StreakLook) {
  const last = streak.looks.at(-1)!;
  const passed = look.look - last.look;
  streak.velocity = vec3(
    [0, 1, 2].map((k) => {
      const step = (look.direction[k]! - last.direction[k]!) / passed;
      return streak.looks.length === 1 ? step : streak.velocity[k]! + FRESH * (step - streak.velocity[k]!);
    }),
  );
  streak.looks.push(look);
}

/** Looks over which trust grows, and grey levels that are plain. */
const [LONG, PLAIN] = [6, 18];
/** Sizes that something goes so that it surely moves; what flutters stays where it is. */
const GOES = 0.5;
/** And sizes that it goes within the picture of a rig that travels: its holder, or its own wagon, stays where it is there. */
const LEAVES = 0.8;

function sureOf(looks: readonly StreakLook[], { toWorld, travels }: Rig): number {
  const mean = (of: (look: StreakLook) => number) => looks.reduce((sum, l) => sum + of(l), 0) / looks.length;
  const first = looks[0]!.direction;
  const far = Math.max(...looks.map(({ direction }) => angleBetween(first, direction)));
  const size = mean(({ width, height }) => Math.max(width, height));
  const goes = Math.min(1, far / size / GOES);
  const inPicture = looks.map(({ look, direction }) => apply(transpose(toWorld(look)), direction));
  const leaves = Math.min(1, wayOf(inPicture) / size / LEAVES) ** 2;
  const own = travels(looks[looks.length >> 1]!.look) ? Math.min(goes, leaves) : goes;
  const plain = Math.min(1, mean(({ excess }) => excess) / PLAIN);
  return (1 - Math.exp(-looks.length / LONG)) * (0.3 + 0.7 * own) * plain;
}

/** Degrees from where something is on the whole in the first half of its looks to where it is in the second. */
function wayOf(directions: readonly Vec3[]): number {
  const half = directions.length >> 1;
  const middle = (some: readonly Vec3[]) => unit(vec3([0, 1, 2].map((k) => some.reduce((sum, d) => sum + d[k]!, 0))));
  return angleBetween(middle(directions.slice(0, half)), middle(directions.slice(-half)));
}
