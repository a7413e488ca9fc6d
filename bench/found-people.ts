/** Finding subjects: who of those that are marked is offered. */
import { lookOfStreak } from '@glimbo/core/follow/streak-looks';
import { foundOf } from '@glimbo/core/follow/subject';
import { angleBetween } from '@glimbo/core/geometry/rotation';
import { foundIn } from '@glimbo/core/moving/found';
import type { Moving } from '@glimbo/core/moving/moving';
import { boxAt, marks, RATE, type RigName } from './walkers.js';

/** Seconds for which somebody is marked at least. */
const LEAST = 2;
/** Share of somebody's marks at which what is offered stands on them. */
const SHOWN = 0.5;

export function reportFound(rig: RigName, names: readonly string[], moving: Moving) {
  const offered = foundIn(moving).map(({ streak }) => moving.streaks[streak]!);
  const long = names.filter((name) => {
    const looks = marks.people[name]!;
    return looks.at(-1)![0] - looks[0]![0] >= LEAST * RATE;
  });
  const missed = long.filter((name) => {
    const looks = marks.people[name]!;
    const shown = looks.filter((look) => {
      const box = boxAt(rig, look);
      return offered.some((streak) => {
        const there = lookOfStreak(moving, streak, look[0]);
        return there !== null && angleBetween(foundOf(there).direction, box.direction) < box.width / 2;
      });
    });
    return shown.length < SHOWN * looks.length;
  });
  console.log(
    `${rig}: ${offered.length} offered; found ${long.length - missed.length} of ${long.length} marked (goal 85 %)`,
    missed.length > 0 ? `missed: ${missed.join('; ')}` : '',
  );
}
