/** Following, finding and pointing out on the real walkers, half of whom nothing was ever chosen on. */
import type { SphereFrame } from '@glimbo/core/frame/sphere-frame';
import type { Beside } from '@glimbo/core/follow/not-world';
import type { Box } from '@glimbo/core/follow/box';
import { SubjectTracker, TRUSTED } from '@glimbo/core/follow/tracker';
import { uprightIn, uprightTo } from '@glimbo/core/follow/aim';
import { foundOf } from '@glimbo/core/follow/subject';
import { boxAround, boxMoving } from '@glimbo/core/follow/point-out';
import { seededRandom } from '@glimbo/core/random';
import { angleBetween, apply, DEGREES, RADIANS, transpose, unit, type Matrix3 } from '@glimbo/core/geometry/rotation';
import { lookWidth } from '@glimbo/media/follow';
import { goingOn } from '@glimbo/media/follow-way';
import { pictures } from '@glimbo/media/sphere-pictures';
import { quantile } from './demo-truth.js';
import { reportFound } from './found-people.js';
import { motionOf, percent, watched, type Watched } from './watched.js';
import { reportWholeTracks } from './whole-tracks.js';
import {
  boxAt,
  chosenOn,
  filmed,
  marks,
  orientationOf,
  RATE,
  reported,
  RIGS,
  ACROSS,
  type RigName,
} from './walkers.js';

/** What a mark has against what was followed to it. */
interface Met {
  trust: number;
  /** Whether the middle lies within half the mark's width. */
  right: boolean;
  /** Whose mark it lies on instead. */
  other: string | null;
  /** Natural logarithm of the size against the mark's. */
  size: number;
}

/** Whose mark in a frame a box lies on, but for somebody's own. */
function othersAt(rig: RigName, frame: number, name: string, found: Box): string | null {
  for (const [other, looks] of Object.entries(marks.people)) {
    const look = looks.find(([n]) => n === frame);
    if (other === name || !look) continue;
    const box = boxAt(rig, look);
    if (angleBetween(box.direction, found.direction) < box.width / 2) return other;
  }
  return null;
}

/** Shares of a box's sizes by which a press is off its middle at most. */
const OFF = 0.2;

/** The box that a press about somebody's middle finds; the press is somewhat off, by lot. */
function pressed(picture: SphereFrame, box: Box, beside: Beside | null, random: () => number): Box | null {
  const toPicture = beside ? uprightIn(beside.toWorld, box.direction) : uprightTo(box.direction);
  const [right, up] = [box.width, box.height].map((size) => 2 * OFF * (random() - 0.5) * size * RADIANS);
  const direction = apply(toPicture, unit([right!, up!, 1]));
  return (beside && boxMoving(picture, direction, beside)) ?? boxAround(picture, direction);
}

/** How much two upright boxes have in common: what both cover, as a share of what either does. */
function overlap(a: Box, b: Box, toWorld: Matrix3): number {
  const toLook = transpose(uprightIn(toWorld, a.direction));
  const [x, y, z] = apply(toLook, b.direction);
  const off = { x: Math.atan2(x, z) * DEGREES, y: Math.atan2(y, z) * DEGREES };
  const common = (p: number, q: number, apart: number) =>
    Math.max(0, Math.min(p / 2, apart + q / 2) - Math.max(-p / 2, apart - q / 2));
  const both = common(a.width, b.width, off.x) * common(a.height, b.height, off.y);
  return both / (a.width * a.height + b.width * b.height - both);
}

/** Every how many of somebody's marks is pressed on. */
const PRESS_EVERY = 6;

/** How many presses on people find their outline, and how many are refused. */
async function reportPresses(file: string, rig: RigName, names: readonly string[], known: Watched) {
  const random = seededRandom(50);
  const shared: number[] = [];
  let refused = 0;
  for (const name of names)
    for (const look of marks.people[name]!.filter((_, n) => n % PRESS_EVERY === 2)) {
      const box = boxAt(rig, look);
      const beside = await known.besideAt(look[0]);
      for await (const picture of pictures(file, { rate: RATE, from: look[0], count: 1, width: ACROSS })) {
        const found = pressed(picture, box, beside, random);
        if (!found) refused++;
        shared.push(found ? overlap(box, found, orientationOf(rig, look[0])) : 0);
      }
    }
  const good = shared.filter((share) => share >= 0.5).length;
  console.log(
    `${rig}, pressed: ${good} of ${shared.length} outlines overlap the mark by half or more (goal 80 %),`,
    `${refused} refused; ${quantile(shared, 0.5).toFixed(2)} in the median`,
  );
}

/** Follows somebody from the first mark to the last; null where a press finds nothing. */
async function followed(
  file: string,
  rig: RigName,
  name: string,
  { besideAt, strangers }: Watched,
  boxFor: (picture: SphereFrame, box: Box, beside: Beside | null) => Box | null,
): Promise<Met[] | null> {
  const looks = marks.people[name]!;
  const [from, to] = [looks[0]![0], looks.at(-1)![0]];
  const first = boxAt(rig, looks[0]!);
  let next: ReturnType<typeof goingOn> | null = null;
  const met: Met[] = [];
  let n = from;
  const stretch = { rate: RATE, from, count: to - from + 1, width: lookWidth(first), passing: true };
  for await (const picture of pictures(file, stretch)) {
    if (!next) {
      const box = boxFor(picture, first, await besideAt(n));
      if (!box) return null;
      const tracker = new SubjectTracker(picture, box, await besideAt(n));
      next = goingOn({ motion: motionOf(rig), besideAt, strangers }, tracker, n);
    } else {
      const found = foundOf(await next(picture, n));
      const look = looks.find(([frame]) => frame === n);
      if (look) {
        const mark = boxAt(rig, look);
        met.push({
          trust: found.trust,
          right: angleBetween(mark.direction, found.direction) < mark.width / 2,
          other: othersAt(rig, n, name, found),
          size: Math.log(Math.max(found.width, found.height) / Math.max(mark.width, mark.height)),
        });
      }
    }
    n++;
  }
  return met;
}

function tell(what: string, runs: readonly (Met[] | null)[]) {
  const all = runs.flatMap((met) => met ?? []);
  const claimed = all.filter(({ trust }) => trust >= TRUSTED);
  const right = claimed.filter((m) => m.right);
  const changed = runs.filter((met) => met?.at(-1)?.other && met.at(-1)!.trust >= TRUSTED).length;
  const refused = runs.filter((met) => !met).length;
  const steps = [0, 0.2, 0.4, 0.6, 0.8].map((least) => {
    const some = all.filter(({ trust }) => trust >= least && (trust < least + 0.2 || least === 0.8));
    if (some.length === 0) return `${least}: none`;
    const mean = some.reduce((sum, { trust }) => sum + trust, 0) / some.length;
    return `${mean.toFixed(2)}: ${(some.filter((m) => m.right).length / some.length).toFixed(2)} (${some.length})`;
  });
  const sizes = right.map(({ size }) => Math.abs(size));
  console.log(
    `${what}: claimed ${percent(claimed.length / all.length)}, of it right ${percent(right.length / claimed.length)},`,
    `refused ${refused}, changed over ${changed} of ${runs.length}, size off by ${percent(quantile(sizes, 0.5))};`,
    `trust: right ${steps.join(', ')}`,
  );
}

/** On the half that is reported, or, person by person, on the half that constants are chosen on. */
export async function reportWalking(choosing: boolean) {
  const names = choosing ? chosenOn : reported;
  console.log(`People by lot: chosen on: ${chosenOn.join('; ')}. Reported: ${reported.join('; ')}.`);
  for (const rig of RIGS) {
    const file = await filmed(rig);
    const known = await watched(file, rig);
    reportFound(rig, names, known.moving);
    await reportWholeTracks(file, rig, names, known, choosing);
    await reportPresses(file, rig, names, known);
    console.log(`${rig}: what moves is known at ${known.share.toFixed(2)} of real time`);
    const drawn: (Met[] | null)[] = [];
    for (const name of names) {
      const met = await followed(file, rig, name, known, (_, box) => box);
      if (choosing)
        console.log(
          `  ${name}: ${met!.map((m) => (m.trust < TRUSTED ? '.' : m.right ? 'x' : m.other ? 'O' : '-')).join('')}`,
        );
      drawn.push(met);
    }
    tell(`${rig}, outline drawn`, drawn);
    const random = seededRandom(51);
    const byPress: (Met[] | null)[] = [];
    for (const name of names)
      byPress.push(await followed(file, rig, name, known, (p, box, b) => pressed(p, box, b, random)));
    tell(`${rig}, pressed`, byPress);
  }
}
