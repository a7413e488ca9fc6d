/** What was recognised beside what moves: streaks get their kind, and what stands still, or was passed by, becomes streaks of its own. */
import { lookOfStreak } from '../follow/streak-looks.js';
import { foundOf } from '../follow/subject.js';
import type { Box } from '../follow/box.js';
import { angleBetween, apply, transpose, type Matrix3, type Vec3 } from '../geometry/rotation.js';
import { rounded, stageOf, type Kind, type Moving, type MovingStreak } from '../moving/moving.js';
import { looksThrough, withHalts, type Looking } from './halts.js';
import { isSame, type Recognised } from './views.js';

/** What was recognised in one frame, in the world's axes. */
export interface Moment {
  frame: number;
  seen: readonly Recognised[];
}

/** What a streak's recognitions must come to together, so that it gets their kind. */
const SAID = 0.4;
/**
 * Something recognised once must be as like its kind as this, or as that where the rig travels, where all is soon passed by; what was
 * recognised again, on the whole.
 */
const [ONCE, PASSING, AGAIN] = [0.6, 0.45, 0.35];
/** What is plain is offered. */
const SURELY = 0.5;
/** Moments that something may be missed in between. */
const MISSED = 2;

interface Chain {
  kind: Kind;
  looks: { frame: number; moment: number; seen: Recognised }[];
}

/** What moves, with what was recognised; `toWorld`: from directions of a frame's picture to the world's. */
export function withRecognised(
  moving: Moving,
  moments: readonly Moment[],
  toWorld: (frame: number) => Matrix3,
): Moving {
  const said = moving.streaks.map(() => new Map<Kind, number>());
  const rest = moments.map(({ frame, seen }) => ({
    frame,
    seen: seen.filter((one) => {
      const on = streakAt(moving, frame, one, toWorld(frame));
      if (on >= 0) said[on]!.set(one.kind, (said[on]!.get(one.kind) ?? 0) + one.likeness);
      return on < 0;
    }),
  }));
  const known = moving.streaks.map((streak, n): MovingStreak => {
    const [best] = [...said[n]!].sort((a, b) => b[1] - a[1]);
    if (!best || best[1] < SAID) return streak;
    const [kind, sum] = best;
    return { ...streak, kind, sure: rounded(1 - (1 - streak.sure) * Math.exp(-sum), 2) };
  });
  const looking = { every: moving.every, toWorld };
  const alone = chained(rest).filter((chain) => isPlain(chain, moving));
  const standing = alone.map((chain) => streakOf(chain, looking));
  return { ...moving, recognised: true, streaks: withHalts(moving, known, standing, looking) };
}

/** The box of what was recognised at a direction of a frame's picture: of several that about whose middle it is; null where nothing was. */
export function recognisedAt(moving: Moving, frame: number, direction: Vec3): Box | null {
  const [nearest] = moving.streaks
    .flatMap((streak) => {
      const look = streak.kind && lookOfStreak(moving, streak, frame);
      if (!look) return [];
      const { trust: _, ...box } = foundOf(look);
      const off = angleBetween(box.direction, direction) / Math.max(box.width, box.height);
      return off < 0.5 ? [{ box, off }] : [];
    })
    .sort((a, b) => a.off - b.off);
  return nearest?.box ?? null;
}

/** The streak on which something that was recognised lies; −1 where it lies on none. */
function streakAt(moving: Moving, frame: number, one: Recognised, toWorld: Matrix3): number {
  const inPicture = { ...one, direction: apply(transpose(toWorld), one.direction) };
  return moving.streaks.findIndex((streak) => {
    const look = lookOfStreak(moving, streak, frame);
    return look !== null && isSame(foundOf(look), inPicture);
  });
}

/** Joins what lies on no streak from moment to moment. */
function chained(moments: readonly Moment[]): Chain[] {
  const chains: Chain[] = [];
  moments.forEach(({ frame, seen }, moment) => {
    for (const one of seen) {
      const chain = chains.find(({ kind, looks }) => {
        const last = looks.at(-1)!;
        return kind === one.kind && last.moment < moment && moment - last.moment <= MISSED && isSame(last.seen, one);
      });
      if (chain) chain.looks.push({ frame, moment, seen: one });
      else chains.push({ kind: one.kind, looks: [{ frame, moment, seen: one }] });
    }
  });
  return chains;
}

const meanLikeness = ({ looks }: Chain) => looks.reduce((sum, { seen }) => sum + seen.likeness, 0) / looks.length;

function isPlain(chain: Chain, moving: Moving): boolean {
  const stands = moving.still[stageOf(moving, chain.looks[0]!.frame)];
  return meanLikeness(chain) >= (chain.looks.length > 1 ? AGAIN : stands ? ONCE : PASSING);
}

/** A chain as a streak: it is looked at seldom, and lies in between on the way from one look to the next. */
function streakOf({ kind, looks }: Chain, looking: Looking): MovingStreak {
  const sure = 1 - looks.reduce((left, { seen }) => left * (1 - seen.likeness), 1);
  return {
    sure: rounded(Math.max(SURELY, Math.min(0.99, sure)), 2),
    kind,
    looks: looksThrough(
      looks.map(({ frame, seen: { direction, width, height } }) => ({ frame, direction, width, height })),
      looking,
    ),
  };
}
