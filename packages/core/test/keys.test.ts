/** Keyframes have a name, and selections outlive what is done to the path. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { neighbours, panNear, removeKeys, setEase, setViewKey, isSpun, viewKeysOf } from '../src/path/edit.js';
import { shiftKeys } from '../src/path/group.js';
import {
  changeKeys,
  isSelected,
  keyId,
  NOTHING,
  sameTime,
  selectedKeys,
  selectedTimes,
  viewKeySelection,
} from '../src/path/keys.js';
import { CHANNELS, emptyPath, keysOf, type Path } from '../src/path/path.js';

const path = (...times: number[]): Path =>
  times.reduce((p, t, i) => setViewKey(p, t, { pan: 10 * i, tilt: i, fov: 60 + i }), emptyPath());

describe('the name of a keyframe', () => {
  test('is its channel and its time, to the microsecond', () => {
    expect(keyId({ channel: 'pan', time: 1 / 3 })).toBe(keyId({ channel: 'pan', time: 0.3333333 }));
    expect(keyId({ channel: 'pan', time: 1 })).not.toBe(keyId({ channel: 'tilt', time: 1 }));
    expect(keyId({ channel: 'pan', time: 1 })).not.toBe(keyId({ channel: 'pan', time: 1.00001 }));
    expect([sameTime(1, 1 + 1e-7), sameTime(1, 1 + 1e-5)]).toEqual([true, false]);
  });
});

describe('a selection', () => {
  test('of a view key has all its channels, and is found again in another copy of the path', () => {
    const p = path(1, 2);
    const chosen = viewKeySelection(p, 2);
    expect(chosen.size).toBe(5);
    expect(selectedTimes(structuredClone(p), chosen)).toEqual([2]);
    expect(selectedKeys(p, chosen).map((k) => k.channel)).toEqual(['pan', 'tilt', 'roll', 'fov', 'bend']);
    expect(isSelected(chosen, 'pan', { time: 2 })).toBe(true);
    expect(isSelected(chosen, 'pan', { time: 1 })).toBe(false);
  });

  test('of what is not there is empty, and changes nothing', () => {
    const p = path(1, 2);
    expect(viewKeySelection(p, 5)).toEqual(NOTHING);
    expect(removeKeys(p, NOTHING)).toBe(p);
    expect(setEase(p, viewKeySelection(p, 5), 'hold')).toEqual(p);
  });
});

describe('edits', () => {
  const times = fc.uniqueArray(fc.integer({ min: 0, max: 60 }), { minLength: 1, maxLength: 8 });

  test('leave every channel in order, no two keys at once, and the path they came from alone', () => {
    fc.assert(
      fc.property(times, fc.integer({ min: -40, max: 40 }), fc.nat(7), (list, by, which) => {
        const p = path(...list.map((t) => t / 10));
        const before = structuredClone(p);
        const chosen = viewKeySelection(p, list[which % list.length]! / 10);
        for (const next of [shiftKeys(p, chosen, by / 10), removeKeys(p, chosen), setEase(p, chosen, 'whip')])
          for (const name of CHANNELS) {
            const keys = keysOf(next, name);
            keys.forEach((k, i) => i && expect(k.time).toBeGreaterThan(keys[i - 1]!.time));
          }
        expect(p).toEqual(before);
      }),
    );
  });

  test('moved there and back are what they were, unless they landed on others', () => {
    const p = path(1, 2, 3);
    const chosen = viewKeySelection(p, 2);
    const there = shiftKeys(p, chosen, 0.5);
    expect(viewKeysOf(there).map((k) => k.time)).toEqual([1, 2.5, 3]);
    expect(shiftKeys(there, viewKeySelection(there, 2.5), -0.5)).toEqual(p);
    const onto = shiftKeys(p, chosen, 1);
    expect(viewKeysOf(onto).map((k) => [k.time, k.view.pan])).toEqual([
      [1, 0],
      [3, 10],
    ]);
  });

  test('of one channel leave the others', () => {
    const p = path(1, 2);
    const next = changeKeys(p, new Set([keyId({ channel: 'pan', time: 2 })]), (key) => ({ ...key, value: 99 }));
    expect(keysOf(next, 'pan').map((k) => k.value)).toEqual([0, 99]);
    expect(next.tilt).toBe(p.tilt);
    const gone = changeKeys(p, new Set([keyId({ channel: 'fov', time: 1 })]), () => null);
    expect(keysOf(gone, 'fov').map((k) => k.time)).toEqual([2]);
  });

  test('the last view key leaves its view behind', () => {
    const p = setViewKey(emptyPath(), 1, { pan: 33, fov: 50 });
    expect(removeKeys(p, viewKeySelection(p, 1))).toMatchObject({ pan: 33, fov: 50, tilt: [] });
  });

  test('the neighbours of a moment, and which pan is a spin', () => {
    const p = path(1, 2, 3);
    expect(neighbours(p, 2)).toEqual({ previous: 1, next: 3 });
    expect(neighbours(p, 0.5)).toEqual({ previous: undefined, next: 1 });
    const spun = setViewKey(p, 3, { pan: 10 + 720 });
    expect([isSpun(p, 3), isSpun(spun, 3)]).toEqual([false, true]);
    expect(panNear(spun, 3, 730)).toBe(10);
  });
});
