/** Following, finding and pointing out on the real walkers, half of whom nothing was ever chosen on. */
import type { SphereFrame } from '@glimbo/core/follow/sphere-frame';
import { framesOf, type Beside } from '@glimbo/core/follow/not-world';
import { SubjectTracker, TRUSTED, type Box } from '@glimbo/core/follow/tracker';
import { angleBetween, multiply, quaternionOf, transpose, unit, vec3 } from '@glimbo/core/geometry/rotation';
import type { Motion } from '@glimbo/core/motion/motion';
import { lookWidth } from '@glimbo/media/follow';
import { whatMoves } from '@glimbo/media/moving';
import { pictures } from '@glimbo/media/sphere-pictures';
import { quantile } from './demo-truth.js';
import {
  boxAt,
  chosenOn,
  filmed,
  FRAMES,
  marks,
  orientationOf,
  RATE,
  reported,
  RIGS,
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

const turnInto = (rig: RigName, n: number) => multiply(transpose(orientationOf(rig, n)), orientationOf(rig, n - 1));

/** What moves before a rig, and the still world beside each frame. */
async function watched(file: string, rig: RigName) {
  const turn = (n: number) => ({ orientation: quaternionOf(orientationOf(rig, n)) });
  const motion = { frames: Array.from({ length: FRAMES }, (_, n) => turn(n)) } as Motion;
  const worlds: Pick<Beside, 'world' | 'usual'>[] = [];
  const began = process.cpuUsage();
  const streaks = await whatMoves(
    file,
    { rate: RATE, frames: FRAMES },
    {
      motion,
      world: (still, { from, to }) => {
        const frames = framesOf(still);
        worlds.push(...Array.from({ length: to - from }, () => frames));
      },
    },
  );
  const { user, system } = process.cpuUsage(began);
  const besideAt = (n: number): Beside => ({
    ...worlds[Math.min(worlds.length - 1, n)]!,
    toWorld: orientationOf(rig, n),
  });
  return { streaks, besideAt, share: (user + system) / 1e6 / (FRAMES / RATE) };
}

const sloppy = (b: Box): Box => {
  const k = Number(process.env.SLOP ?? 1);
  return { ...b, width: b.width * k, height: b.height * k, direction: unit(vec3([b.direction[0] + Number(process.env.OFF ?? 0) * b.width / 57, b.direction[1] + Number(process.env.OFF ?? 0) * b.height / 57 / 2, b.direction[2]])) };
};
/** Follows somebody from the first mark to the last; null where a press finds nothing. */
async function followed(
  file: string,
  rig: RigName,
  name: string,
  besideAt: (n: number) => Beside | null,
  boxFor: (picture: SphereFrame, box: Box) => Box | null,
): Promise<Met[] | null> {
  const looks = marks.people[name]!;
  const [from, to] = [looks[0]![0], looks.at(-1)![0]];
  const first = boxAt(rig, looks[0]!);
  let tracker: SubjectTracker | null = null;
  const met: Met[] = [];
  let n = from;
  const stretch = { rate: RATE, from, count: to - from + 1, width: lookWidth(first), passing: true };
  for await (const picture of pictures(file, stretch)) {
    if (!tracker) {
      const box = boxFor(picture, first);
      if (!box) return null;
      tracker = new SubjectTracker(picture, box, besideAt(n));
    } else {
      const found = tracker.step(picture, turnInto(rig, n), besideAt(n));
      const look = looks.find(([frame]) => frame === n);
      if (look) {
        const mark = boxAt(rig, look);
        const box = { direction: found.direction, width: found.size, height: found.size };
        met.push({
          trust: found.trust,
          right: angleBetween(mark.direction, found.direction) < mark.width / 2,
          other: othersAt(rig, n, name, box),
          size: Math.log(found.size / Math.max(mark.width, mark.height)),
        });
      }
    }
    n++;
  }
  return met;
}

const percent = (share: number) => `${(100 * share).toFixed(0)} %`;

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
  console.log(
    `${what}: claimed ${percent(claimed.length / all.length)}, of it right ${percent(right.length / claimed.length)}, refused ${refused}, changed over ${changed} of ${runs.length}, size off by ${percent(
      quantile(
        right.map(({ size }) => Math.abs(size)),
        0.5,
      ),
    )}; trust: right ${steps.join(', ')}`,
  );
}

/** On the half that is reported, or, person by person, on the half that constants are chosen on. */
export async function reportWalking(choosing: boolean) {
  const names = choosing ? chosenOn : reported;
  console.log(`People by lot: chosen on: ${chosenOn.join('; ')}. Reported: ${reported.join('; ')}.`);
  for (const rig of (process.env.RIG ? [process.env.RIG as RigName] : RIGS)) {
    const file = await filmed(rig);
    const { besideAt, share } = await watched(file, rig);
    console.log(`${rig}: what moves is known at ${share.toFixed(2)} of real time`);
    const drawn: (Met[] | null)[] = [];
    for (const name of names) {
      const met = await followed(file, rig, name, process.env.PLAIN ? () => null : besideAt, (_, box) => sloppy(box));
      if (choosing)
        console.log(
          `  ${name}: ${met!.map((m) => (m.trust < TRUSTED ? '.' : m.right ? 'x' : m.other ? 'O' : '-')).join('')}`,
        );
      drawn.push(met);
    }
    tell(`${rig}, outline drawn`, drawn);
  }
}
