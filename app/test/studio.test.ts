/** The Studio's state: what a gesture is, what is one undo step, where a framing is kept. */
import { describe, expect, test } from '@jest/globals';
import { LENS_PRESETS } from '@glimbo/core/lens/presets';
import { viewKeysOf } from '@glimbo/core/path/edit';
import { startHistory } from '@glimbo/core/document/history';
import { newTake } from '@glimbo/core/take/take';
import { createStudio } from '../studio/state/store';
import { facts } from './world';
import type { Footage } from '~/model/footage';

const footage = {
  id: 'f',
  facts: facts({ duration: 10, frames: 300 }),
  marks: [],
  ranges: [],
  gathered: {},
  motion: null,
} as unknown as Footage;
const studio = () => createStudio(footage, startHistory(newTake('a.mp4', 10)), {});
const preset = (id: string) => LENS_PRESETS.find((p) => p.id === id)!;

describe('aiming', () => {
  test('sets the first keyframe at the playhead, and another at another time: the first one is kept', () => {
    const s = studio();
    s.getState().aim({ pan: 20, tilt: 5 }, 'aim');
    s.getState().setTime(4);
    s.getState().aim({ pan: 80, tilt: 0 }, 'aim');
    expect(viewKeysOf(s.getState().take().path).map((m) => [m.time, m.view.pan])).toEqual([
      [0, 20],
      [4, 80],
    ]);
  });

  test('one gesture is one undo step; the next one is another', () => {
    const s = studio();
    for (const pan of [1, 2, 3]) s.getState().aim({ pan, tilt: 0 }, 'aim');
    s.getState().endGesture();
    s.getState().aim({ pan: 9, tilt: 0 }, 'aim');
    expect(s.getState().history.steps).toHaveLength(3);
    s.getState().undo();
    expect(s.getState().view().pan).toBe(3);
    s.getState().undo();
    expect(viewKeysOf(s.getState().take().path)).toEqual([]);
    s.getState().redo();
    expect(s.getState().view().pan).toBe(3);
  });

  test('by dragging the pan stays the nearest to its neighbour’s; somebody’s spin stays one', () => {
    const s = studio();
    s.getState().dial({ pan: 170 });
    s.getState().setTime(5);
    s.getState().aim({ pan: 400, tilt: 0 }, 'aim');
    expect(s.getState().view().pan).toBe(40);
    s.getState().endGesture();
    s.getState().dial({ pan: 530 });
    s.getState().aim({ pan: 540, tilt: 0 }, 'aim');
    expect(s.getState().view().pan).toBe(540);
  });

  test('what changes nothing is no undo step', () => {
    const s = studio();
    s.getState().dial({ pan: 20 });
    s.getState().endGesture();
    s.getState().dial({ pan: 20 });
    expect(s.getState().history.steps).toHaveLength(2);
  });

  test('following a bead in time goes on with the gesture', () => {
    const s = studio();
    s.getState().edit((t) => ({ ...t, range: { in: 1, out: 9 } }), 'bead');
    s.getState().follow(3.01);
    s.getState().edit((t) => ({ ...t, range: { in: 2, out: 9 } }), 'bead');
    expect(s.getState().time).toBeCloseTo(3, 6);
    expect(s.getState().history.steps).toHaveLength(2);
    s.getState().setTime(99);
    expect(s.getState().time).toBeCloseTo(10 - 1 / 30, 6);
  });
});

describe('looking without changing', () => {
  test('a preset that is pointed at is seen, and not kept', () => {
    const s = studio();
    s.getState().tryLens({ fov: 270, bend: 1, tilt: -90 });
    expect(s.getState().view()).toMatchObject({ fov: 270, tilt: -90 });
    s.getState().tryLens(null);
    expect(s.getState().view()).toMatchObject({ fov: 75, tilt: 0 });
    expect(s.getState().history.steps).toHaveLength(1);
  });

  test('the way back from a planet leads to the tilt from before it', () => {
    const s = studio();
    s.getState().dial({ tilt: -12 });
    s.getState().usePreset(preset('tiny-planet'));
    s.getState().usePreset(preset('tunnel'));
    expect(s.getState().view().tilt).toBe(90);
    s.getState().usePreset(preset('straight'));
    expect(s.getState().view()).toMatchObject({ tilt: -12, fov: 60 });
  });

  test('a glance is taken over by the first handling, the short way round', () => {
    const s = studio();
    s.getState().dial({ pan: 350 });
    s.getState().glanceAt({ pan: -20, tilt: 3 });
    s.getState().dial({ fov: 50 });
    expect(s.getState().view()).toMatchObject({ pan: 340, tilt: 3, fov: 50 });
    expect(s.getState().glance).toBeNull();
  });
});

test('the shown part of the Score follows the playhead', () => {
  const s = studio();
  s.getState().showSpan({ from: 0, to: 2 });
  s.getState().setTime(7);
  const { span } = s.getState();
  expect(span.to - span.from).toBeCloseTo(2, 9);
  expect(span.from).toBeLessThan(7);
  expect(span.to).toBeGreaterThan(7);
});

test('a change of the mount takes the framing along in one undo step, unless that is switched off', () => {
  const s = studio();
  s.getState().dial({ pan: 30 });
  s.getState().endGesture();
  s.getState().correct({ orientation: { centre: { pan: 10, tilt: 0 } } });
  expect(s.getState().view().pan).toBeCloseTo(20, 6);
  s.getState().undo();
  expect(s.getState().view().pan).toBe(30);
  s.getState().setKeepFraming(false);
  s.getState().correct({ orientation: { centre: { pan: 10, tilt: 0 } } });
  expect(s.getState().view().pan).toBe(30);
});
