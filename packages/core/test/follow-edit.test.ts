/** Changing a take's Follows, and drawing subjects: outlines and streaks. */
import { describe, expect, test } from '@jest/globals';
import { changeFollow, clearFollows, moveFollowEnd, withFollow, withoutFollow } from '../src/edit/follows.js';
import { outlineAt, streakOf } from '../src/follow/outline.js';
import { USUAL_RULE } from '../src/follow/rule.js';
import type { SubjectLook, SubjectTrack } from '../src/follow/subject.js';
import { angleBetween, apply, IDENTITY, rotationOf } from '../src/geometry/rotation.js';
import { directionOf, lonLatOf } from '../src/geometry/sphere.js';
import { newTake } from '../src/take/take.js';

describe('the Follows of a take', () => {
  const bare = { ...newTake('a.mp4', 20), range: { in: 2, out: 12 } };
  const one = withFollow(bare, 'a.json', 2);

  test('come with a rule that suits most, from in to out, the later one last', () => {
    expect(one.follows).toEqual([{ ...USUAL_RULE, subject: 'a.json', in: 2, out: 12 }]);
    expect(withFollow(one, 'b.json', 2).follows!.map((f) => f.subject)).toEqual(['a.json', 'b.json']);
    expect(bare).not.toHaveProperty('follows');
  });

  test('are changed one at a time, and go without leaving a list of none', () => {
    const two = changeFollow(withFollow(one, 'b.json', 2), 1, { soft: 2 });
    expect(two.follows!.map((f) => f.soft)).toEqual([USUAL_RULE.soft, 2]);
    expect(withoutFollow(two, 0).follows!.map((f) => f.subject)).toEqual(['b.json']);
    expect(withoutFollow(withoutFollow(two, 0), 0)).toEqual(bare);
    expect(withoutFollow(bare, 0)).toEqual(bare);
  });

  test('never end before they begin', () => {
    expect(moveFollowEnd(one, 0, 'in', 5).follows![0]).toMatchObject({ in: 5, out: 12 });
    expect(moveFollowEnd(one, 0, 'out', 5).follows![0]).toMatchObject({ in: 2, out: 5 });
    expect(moveFollowEnd(one, 0, 'in', 12)).toBe(one);
    expect(moveFollowEnd(one, 0, 'out', 2)).toBe(one);
    expect(moveFollowEnd(one, 3, 'out', 5)).toBe(one);
  });
});

describe('a stretch without Follows', () => {
  const rule = { ...USUAL_RULE, subject: 'a.json', in: 2, out: 12, blend: 1 };
  const take = { ...newTake('a.mp4', 20), follows: [rule] };
  const ends = (from: number, to: number) => clearFollows(take, from, to).follows?.map((f) => [f.in, f.out]);
  test('is come out of and into softly, and leaves what lies beside it', () => {
    expect(ends(5, 8)).toEqual([
      [2, 6],
      [7, 12],
    ]);
    expect(ends(0, 4)).toEqual([[3, 12]]);
    expect(ends(10, 15)).toEqual([[2, 11]]);
    expect(ends(12, 15)).toEqual([[2, 12]]);
    expect(ends(0, 12)).toBeUndefined();
    expect(clearFollows(newTake('a.mp4', 20), 0, 5)).toEqual(newTake('a.mp4', 20));
  });
});

describe('a subject as it is drawn', () => {
  const turned = { at: () => rotationOf({ pan: 90, tilt: 0, roll: 0 }) };
  const still = { at: () => IDENTITY };
  const track: SubjectTrack = {
    format: 'glimbo-subject',
    version: 2,
    rate: 10,
    looks: Array.from({ length: 40 }, (_, n): SubjectLook => {
      const [x, y, z] = directionOf(4 * n, n < 20 ? 0 : 60);
      return [x, y, z, 20, 20, n >= 10 && n < 14 ? 0 : 1];
    }),
  };

  test('has a closed line of its sizes round it, upright in the world', () => {
    for (const [toWorld, pan] of [
      [still, 8],
      [turned, 98],
    ] as const) {
      const line = outlineAt(track, 0.2, toWorld)!;
      for (const d of line) expect(angleBetween(d, directionOf(pan, 0))).toBeCloseTo(10, 4);
      expect(angleBetween(line[0]!, line.at(-1)!)).toBeLessThan(1e-4);
    }
    const tall: SubjectTrack = { ...track, looks: [[...directionOf(30, 0), 10, 40, 1]] };
    const rolled = { at: () => rotationOf({ pan: 0, tilt: 0, roll: 90 }) };
    for (const toWorld of [still, rolled]) {
      const line = outlineAt(tall, 0, toWorld)!.map((d) => lonLatOf(d));
      const [middle] = [lonLatOf(apply(toWorld.at(), directionOf(30, 0)))];
      expect(Math.max(...line.map((d) => d.latitude)) - middle.latitude).toBeCloseTo(20, 1);
      const across = outlineAt(tall, 0, toWorld)!.map((d) =>
        angleBetween(d, directionOf(middle.longitude, middle.latitude)),
      );
      expect(Math.min(...across)).toBeCloseTo(5, 2);
    }
    expect(outlineAt(track, 1.1, still)).toBeNull();
    expect(outlineAt(track, 99, still)).toBeNull();
  });

  test('has a streak where it is seen, wider towards the poles', () => {
    const pieces = streakOf(track, still, { from: 0, to: 4, step: 2 });
    expect(pieces.map((p) => p.from)).not.toContain(1);
    expect(pieces.find((p) => p.from === 0.4)).toEqual({
      from: 0.4,
      to: 0.6,
      heading: expect.closeTo(16, 4),
      half: 10,
    });
    expect(pieces.find((p) => p.from === 3)!.half).toBeCloseTo(20, 4);
    expect(streakOf(track, turned, { from: 0.4, to: 0.5, step: 2 })[0]!.heading).toBeCloseTo(106, 4);
  });
});
