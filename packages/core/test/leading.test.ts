/** What leads the camera, taken in hand: dragged in the frame, written down as keyframes, or turned into a turn of the sphere. */
import { describe, expect, test } from '@jest/globals';
import { changeFollow, withFollow } from '../src/edit/follows.js';
import { softTrack } from '../src/follow/following.js';
import type { SubjectLook, SubjectTrack } from '../src/follow/subject.js';
import { angleBetween, apply, IDENTITY, wrapHeading } from '../src/geometry/rotation.js';
import { directionOf } from '../src/geometry/sphere.js';
import { cameraOf, DEFAULT_VIEW, pixelOf } from '../src/lens/view.js';
import { lookoutsAllRound, withLookouts } from '../src/edit/lookouts.js';
import { removeKeys } from '../src/path/edit.js';
import { shiftKeys } from '../src/path/group.js';
import { allKeys, keyId } from '../src/path/keys.js';
import { emptyPath, keysOf, viewAt, type CurveName } from '../src/path/path.js';
import { correctionOf } from '../src/correction/correction.js';
import { draggedRule, followInForce, turnTake } from '../src/edit/dial.js';
import { newTake, type Take } from '../src/take/take.js';
import { toKeyframes } from '../src/edit/to-keyframes.js';
import { curvesOf, withCurves } from '../src/edit/curves.js';
import {
  easeTurn,
  isMoving,
  removeTurn,
  setTurn,
  turnAt,
  turnEase,
  turnFollowing,
  turnTimes,
} from '../src/take/turn.js';
import { readTake } from '../src/take/validate.js';
import { followingsOf, laidAim } from '../src/view/view-of.js';

const still = { at: () => IDENTITY };
/** Somebody who walks right round in ten seconds, 5° below the horizon. */
const track: SubjectTrack = {
  format: 'glimbo-subject',
  version: 2,
  rate: 30,
  looks: Array.from({ length: 300 }, (_, n): SubjectLook => [...directionOf(1.2 * n, -5), 15, 15, 1] as SubjectLook),
};
const bare = { ...newTake('a.mp4', 10), path: { ...emptyPath(), fov: 60 } };
const followed = changeFollow(withFollow(bare, 'a.json', 0), 0, { blend: 0 });
const seenBy = (take: Take) => {
  const context = followingsOf(take, () => track, still);
  return (t: number) => laidAim(take, context, t);
};
/** Where the subject is in the frame at a time: shares of half its width and height. */
function placeAt(take: Take, t: number) {
  const { x, y } = pixelOf(cameraOf(seenBy(take)(t), 1600, 900), directionOf(36 * t, -5))!;
  return [x / 800 - 1, 1 - y / 450] as const;
}

describe('dragging while somebody is followed', () => {
  test('moves the place in the frame, not the path', () => {
    const from = seenBy(followed)(4);
    const to = { ...from, pan: from.pan - 10, tilt: from.tilt + 6 };
    const path = viewAt(followed.path, 4);
    const dragged = turnTake(followed, { time: 4, lookout: null, from, to, path, ratio: 16 / 9 });
    expect(dragged.path).toBe(followed.path);
    for (const t of [4, 7]) {
      const after = seenBy(dragged)(t);
      expect(after.pan - seenBy(followed)(t).pan).toBeCloseTo(-10, 0);
      expect(after.tilt - seenBy(followed)(t).tilt).toBeCloseTo(6, 0);
    }
    expect(placeAt(dragged, 7)[0]).toBeCloseTo(dragged.follows![0]!.x, 1);
  });

  test('zooming changes the size that is kept; other dials are the path’s', () => {
    const rule = { ...followed.follows![0]!, size: 40 };
    const from = { ...DEFAULT_VIEW, fov: 60 };
    expect(draggedRule(rule, from, { ...from, fov: 30 }, 16 / 9).size).toBeCloseTo(
      (40 * Math.tan(Math.PI / 6)) / Math.tan(Math.PI / 12),
      3,
    );
    const now = seenBy(followed)(4);
    const rolled = turnTake(followed, {
      time: 4,
      lookout: null,
      from: now,
      to: { ...now, roll: 12 },
      path: viewAt(followed.path, 4),
      ratio: 16 / 9,
    });
    expect(viewAt(rolled.path, 4).roll).toBe(12);
    expect(rolled.follows).toEqual(followed.follows);
  });

  test('a Lookout has a fixed view until it has keyframes', () => {
    const take = withLookouts(bare, lookoutsAllRound());
    const from = viewAt(take.lookouts!.views[1]!.path, 4);
    const turned = turnTake(take, { time: 4, lookout: 1, from, to: { ...from, pan: 70 }, path: from, ratio: 16 / 9 });
    expect(turned.lookouts!.views[1]!.path.pan).toBe(70);
    expect(turned.path).toBe(take.path);
  });
});

test('another subject is handed over to softly from where it is asked for', () => {
  const two = withFollow(withFollow(bare, 'a.json', 0), 'b.json', 5);
  expect(two.follows![1]).toMatchObject({ subject: 'b.json', in: 4.6, out: 10 });
  expect(followInForce(two, 3)).toBe(0);
  expect(followInForce(two, 6)).toBe(1);
  expect(followInForce(bare, 6)).toBe(-1);
});

describe('as keyframes', () => {
  test('a Follow is seen as it was, within the tolerance that is told', () => {
    const { path, keys, deviation } = toKeyframes(
      followed,
      followingsOf(followed, () => track, still),
      {
        from: 0,
        to: 10,
        rate: 30,
        tolerance: 0.3,
      },
    );
    expect(deviation).toBeLessThanOrEqual(0.3);
    expect(keys).toBeLessThan(12);
    for (let t = 0; t < 9.9; t += 0.31)
      expect(wrapHeading(viewAt(path, t).pan - seenBy(followed)(t).pan)).toBeCloseTo(0, 0);
  });

  test('Lookouts become views that hold until the next cut', () => {
    const take = withLookouts(bare, {
      ...lookoutsAllRound(),
      cuts: [
        { time: 2, shows: { layout: 'one', views: [1] } },
        { time: 5, shows: { layout: 'one', views: [2] } },
      ],
    });
    const { path, keys } = toKeyframes(take, {}, { from: 0, to: 10, rate: 30, tolerance: 0.3 });
    expect(keys).toBe(3);
    expect(keysOf(path, 'pan').map((k) => [k.time, k.ease])).toEqual([
      [0, 'hold'],
      [2, 'hold'],
      [5, 'hold'],
    ]);
    expect([1.99, 2, 4.99, 5].map((t) => viewAt(path, t).pan)).toEqual([0, 90, 90, 180]);
  });

  test('keyframes outside the stretch stay', () => {
    const keyed = { ...followed, path: { ...followed.path, pan: [{ time: 9, value: 3 }] } };
    const stretch = { from: 2, to: 5, rate: 30, tolerance: 1 };
    const { path } = toKeyframes(
      keyed,
      followingsOf(keyed, () => track, still),
      stretch,
    );
    expect(keysOf(path, 'pan').at(-1)).toEqual({ time: 9, value: 3 });
    expect(keysOf(path, 'pan')[0]!.time).toBe(2);
  });
});

describe('the turn of the sphere', () => {
  test('brings what is ahead to the front, eased from key to key', () => {
    const turn = setTurn(setTurn(undefined, 0, {}), 4, { pan: 90, roll: 10 });
    const c = correctionOf({ orientation: { turn } });
    expect(c.constant).toBe(false);
    for (const t of [0, 1, 2.5, 4, 9]) {
      const { pan, tilt } = turnAt(turn, t);
      expect(angleBetween(apply(c.at(t), directionOf(pan, tilt)), [0, 0, 1])).toBeLessThan(1e-4);
    }
    expect(turnAt(turn, 2).pan).toBeCloseTo(45);
    expect(turnTimes(turn)).toEqual([0, 4]);
    expect(isMoving(removeTurn(turn, 4))).toBe(false);
    expect(removeTurn(removeTurn(turn, 4), 0)).toBeUndefined();
    expect(correctionOf({ orientation: { turn: { pan: 30 } } }).constant).toBe(true);
  });

  test('is a curve like any other: moved and eased with the path’s own means, the path the same object', () => {
    const turn = setTurn(setTurn(undefined, 0, {}), 4, { pan: 90, roll: 10 });
    const turned = { ...bare, orientation: { centre: { pan: 5, tilt: 0 }, turn } };
    const chosen = new Set(['turnPan', 'turnRoll'].map((channel) => keyId({ channel: channel as CurveName, time: 4 })));
    const moved = withCurves(turned, shiftKeys(curvesOf(turned), chosen, 1, { turnPan: 20 }));
    expect(moved.path).toBe(bare.path);
    expect(moved.orientation!.centre).toEqual({ pan: 5, tilt: 0 });
    expect(turnTimes(moved.orientation!.turn)).toEqual([0, 4, 5]);
    expect(turnAt(moved.orientation!.turn, 5)).toEqual({ pan: 110, tilt: 0, roll: 10 });
    expect(withCurves(moved, curvesOf(moved)).orientation).toBe(moved.orientation);
    // Without its last key a dial keeps its value; one alone stays when keys of others go.
    const still = withCurves(turned, removeKeys(curvesOf(turned), allKeys(curvesOf(turned), ['turnPan'])));
    expect(still.orientation!.turn!.pan).toBe(0);
    const eased = easeTurn(setTurn(still.orientation!.turn, 6, {}), 4, 'whip');
    expect([turnEase(eased, 4), turnEase(eased, 0)]).toEqual(['whip', 'smooth']);
    expect(withCurves(bare, curvesOf(bare))).toEqual(bare);
    const whole = structuredClone(moved);
    expect(readTake(whole).orientation).toEqual(moved.orientation);
  });

  test('that follows somebody keeps them ahead', () => {
    const soft = softTrack(track, { soft: 0.2, dead: 0 }, still)!;
    const { turn, deviation } = turnFollowing(soft, { from: 0, to: 9.9, tolerance: 0.3 });
    const c = correctionOf({ orientation: { turn } });
    expect(deviation).toBeLessThanOrEqual(0.3);
    for (let t = 0.5; t < 9.5; t += 0.37)
      expect(angleBetween(apply(c.at(t), directionOf(36 * t, -5)), [0, 0, 1])).toBeLessThan(1);
    expect(readTake({ ...bare, orientation: { turn } }).orientation).toEqual({ turn });
    expect(() => readTake({ ...bare, orientation: { turn: { pan: 'x' } } })).toThrow(/channel/);
  });
});
