/**
 * @jest-environment ./app/test/support/browser.mjs
 *
 * Performing round a subject that is followed: what is steered goes along with it, and Follows give way to it.
 */
import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import { USUAL_RULE } from '@glimbo/core/follow/rule';
import type { SubjectLook } from '@glimbo/core/follow/subject';
import { directionOf } from '@glimbo/core/geometry/sphere';
import type { Sample } from '@glimbo/core/path/simplify';
import { startHistory } from '@glimbo/core/document/history';
import { newTake } from '@glimbo/core/take/take';
import { nameFollowed, Performance, tryPerformed, wayFollowed } from '../studio/path/performance';
import { createStudio } from '../studio/state/store';
import { halt } from './support/halt';
import { subject } from './support/tracks';

beforeEach(() => {
  localStorage.clear();
  jest.useFakeTimers();
});
afterEach(() => {
  jest.useRealTimers();
});

/** A take that follows somebody who goes to the right at 30° a second, from its first second to its eighth. */
function following(how: { size?: number; growing?: number } = {}) {
  const { size, growing = 1 } = how;
  const rule = { ...USUAL_RULE, subject: 's.json', in: 1, out: 8, ...(size && { size }) };
  const store = createStudio(halt, startHistory({ ...newTake('a.mp4', 10), follows: [rule] }), { station: 'path' });
  const looks = Array.from({ length: 300 }, (_, n): SubjectLook => {
    const [x, y, z] = directionOf(n, 10);
    const size = 12 * growing ** (n / 30);
    return [x, y, z, size, size, 1];
  });
  store.getState().knowSubjects([subject()]);
  store.getState().knowTrack('s', { version: 1, track: { format: 'glimbo-subject', version: 2, rate: 30, looks } });
  return store;
}

test('what is steered goes along with whom the take follows, and the Follow gives way as far as it goes', async () => {
  const store = following();
  expect(nameFollowed(store.getState())).toBeNull();
  store.getState().setTime(3);
  expect(nameFollowed(store.getState())).toBe('Driver');
  let samples: Sample[] = [];
  const performance = new Performance(
    store,
    jest.fn(),
    jest.fn(),
    (s) => (samples = s),
    wayFollowed(store.getState())!,
  );
  await jest.advanceTimersByTimeAsync(2100);
  expect(store.getState().performing).toEqual({ count: 0 });
  // Nothing is steered for a second; then it is dragged 20° to the left at once, and it goes on from there.
  for (let n = 1; n <= 60; n++) {
    store.getState().setTime(3 + n / 30);
    await jest.advanceTimersByTimeAsync(33);
    if (n !== 30) continue;
    window.dispatchEvent(new MouseEvent('pointerdown'));
    store.getState().aim({ pan: store.getState().view().pan - 20, tilt: 10 }, 'drag');
  }
  performance.stop();
  const panAt = (time: number) => samples.find((s) => Math.abs(s.time - time) < 0.01)!.values.pan!;
  expect(panAt(3.5)).toBeCloseTo(105, 0);
  expect(panAt(4)).toBeCloseTo(120, 0);
  expect(panAt(4.5)).toBeCloseTo(115, 0);
  expect(panAt(5)).toBeCloseTo(130, 0);

  expect(tryPerformed(store, samples, { width: 0, tolerance: 0.5 })).not.toBeNull();
  const shown = (time: number) => {
    store.getState().setTime(time);
    return store.getState().view().pan;
  };
  expect(shown(3.9)).toBeCloseTo(117, 0);
  expect(Math.abs(shown(4.15) - 104.5)).toBeLessThan(2);
  // Before and after it is followed as it was.
  expect(shown(2.5)).toBeCloseTo(75, 0);
  expect(shown(6)).toBeCloseTo(180, 0);
  expect(store.getState().take().follows).toHaveLength(1);
  store.getState().keepTried();
  expect(
    store
      .getState()
      .take()
      .follows!.map((f) => [f.in, f.out].map((t) => +t.toFixed(2))),
  ).toEqual([
    [1, 3.8],
    [4.2, 8],
  ]);
  expect(Math.abs(shown(4.15) - 104.5)).toBeLessThan(2);
  store.getState().undo();
  expect(store.getState().take().follows).toHaveLength(1);
});

test('what is tried with other Follows is dropped when the take is changed meanwhile', () => {
  const store = following();
  const { take, tryPath, edit } = store.getState();
  tryPath(take().path, 'Tried.', { ...take(), follows: undefined });
  expect(store.getState().followed()).toEqual({});
  edit((t) => ({ ...t, range: { in: 1, out: 9 } }));
  expect(store.getState().tried).toBeNull();
  expect(store.getState().followed().following).toBeTruthy();
});

test('where the Follow keeps its size, that is kept while steering, and zooming changes it', async () => {
  const store = following({ size: 40, growing: 1.3 });
  store.getState().setTime(3);
  const before = store.getState().view().fov;
  let samples: Sample[] = [];
  const way = wayFollowed(store.getState())!;
  const performance = new Performance(store, jest.fn(), jest.fn(), (s) => (samples = s), way);
  await jest.advanceTimersByTimeAsync(2100);
  for (let n = 1; n <= 60; n++) {
    store.getState().setTime(3 + n / 30);
    await jest.advanceTimersByTimeAsync(33);
    if (n === 30) store.getState().dial({ fov: store.getState().view().fov / 2 }, 'zoom');
  }
  performance.stop();
  const fovAt = (time: number) => samples.find((s) => Math.abs(s.time - time) < 0.01)!.values.fov!;
  expect(fovAt(3.1) / before).toBeGreaterThan(1.01);
  expect(fovAt(3.9) / before).toBeGreaterThan(1.15);
  expect(fovAt(4.1) / fovAt(3.9)).toBeCloseTo(0.55, 1);
  expect(fovAt(4.9) / fovAt(4.1)).toBeGreaterThan(1.15);
});
