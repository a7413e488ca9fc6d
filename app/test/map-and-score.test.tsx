/**
 * @jest-environment ./app/test/support/browser.mjs
 *
 * Handling the Map and the Score: what a press, a drag, the wheel and keys there make of the view, the time and the path.
 */
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { startHistory } from '@glimbo/core/document/history';
import { USUAL_PATCH } from '@glimbo/core/look/patch';
import { keysOf } from '@glimbo/core/path/path';
import { newTake } from '@glimbo/core/take/take';
import * as edit from '../studio/commands/path-edits';
import { MapView } from '../studio/map/MapView';
import { LANES } from '../studio/score/lane-list';
import { Score } from '../studio/score/Score';
import { GUTTER, LANE_WIDTH } from '../studio/axes/lanes';
import { createStudio, StudioContext, type StudioStore } from '../studio/state/store';
import { halt } from './support/halt';
import { answering } from './support/server';

/** Pixels of the Map, 360 degrees across and 180 down, and of the Score, whose ten seconds go down. */
const MAP = { width: 360, height: 180 };
const SWEEP = 360;
const SCORE = { width: GUTTER + SWEEP + LANE_WIDTH, height: 500 };

let store: StudioStore;
beforeEach(() => {
  answering(() => ({}));
  HTMLCanvasElement.prototype.getContext = (() => null) as never;
  Object.assign(Element.prototype, {
    setPointerCapture() {},
    hasPointerCapture: () => true,
    releasePointerCapture() {},
  });
  // Nothing is laid out here: everything begins at the corner, as large as it is said to be.
  Element.prototype.getBoundingClientRect = function (this: Element) {
    const size = this.closest('[data-testid=map]') ? MAP : SCORE;
    return { left: 0, top: 0, x: 0, y: 0, right: size.width, bottom: size.height, ...size } as DOMRect;
  };
  store = createStudio(halt, startHistory(newTake('a.mp4', 10)), {});
});
afterEach(cleanup);

const show = (what: React.ReactNode) => render(<StudioContext.Provider value={store}>{what}</StudioContext.Provider>);
const view = () => store.getState().view();

/** Presses at a place and drags to others; jsdom has no pointer events with places, so they are given by hand. */
function drag(on: Element, places: [number, number][], keys: object = {}) {
  const at = (type: string, [clientX, clientY]: [number, number]) =>
    fireEvent(on, Object.assign(new MouseEvent(type, { bubbles: true, clientX, clientY, ...keys }), { pointerId: 1 }));
  at('pointerdown', places[0]!);
  for (const place of places.slice(1)) at('pointermove', place);
  at('pointerup', places.at(-1)!);
}

describe('the Map', () => {
  const map = () => screen.getByRole('group', { name: /^Map/ });
  /** Where a heading and a tilt lie. */
  const place = (pan: number, tilt: number): [number, number] => [180 + pan, 90 - tilt];
  beforeEach(() => void show(<MapView width={MAP.width} />));

  test('outside the outline the view comes to the pointer, and goes along with the drag', () => {
    drag(map(), [place(120, 40)]);
    expect([view().pan, view().tilt].map(Math.round)).toEqual([120, 40]);
    drag(map(), [place(-150, 10), place(-140, 20)]);
    expect([view().pan, view().tilt].map(Math.round)).toEqual([210 + 10, 20]);
    expect(map().getAttribute('aria-label')).toContain('20° up');
  });

  test('inside it a drag moves the view by as much as the pointer; Shift holds one axis, Alt rolls', () => {
    drag(map(), [place(10, 5), place(40, 12)]);
    expect([view().pan, view().tilt].map(Math.round)).toEqual([30, 7]);
    drag(map(), [place(30, 7), place(50, 12)], { shiftKey: true });
    expect([view().pan, view().tilt].map(Math.round)).toEqual([50, 7]);
    drag(map(), [place(50, 7), place(70, 7)], { altKey: true });
    expect(view()).toMatchObject({ roll: 10 });
    expect(Math.round(view().pan)).toBe(50);
  });

  test('one drag is one undo step', () => {
    const { aim } = store.getState();
    act(() => aim({ pan: 5, tilt: 0 }, 'before'));
    act(() => store.getState().endGesture());
    drag(map(), [place(5, 0), place(15, 0), place(25, 0), place(35, 0)]);
    act(() => store.getState().undo());
    expect(view().pan).toBe(5);
  });

  test('where a place is asked for, a press gives it and aims nothing', () => {
    act(() => store.getState().edit((t) => ({ ...t, look: { patch: USUAL_PATCH } })));
    act(() => store.getState().placePatch(true));
    drag(map(), [place(90, -80)]);
    expect(view()).toMatchObject({ pan: 0, tilt: 0 });
    expect(store.getState().take().look!.patch).toMatchObject({ pan: 90, tilt: -80 });
  });

  test('keyframes are beads: picked by a press, aimed by keys', () => {
    act(() => {
      store.getState().setTime(2);
      edit.keyHere(store);
      store.getState().dial({ pan: 50 });
    });
    const bead = screen.getByRole('button', { name: /^Keyframe 1 on the Map/ });
    fireEvent.keyDown(bead, { key: 'ArrowRight' });
    const [key] = keysOf(store.getState().take().path, 'pan');
    expect(key!.value).toBeGreaterThan(50);
    expect(key!.time).toBe(2);
  });
});

describe('the Score', () => {
  const sweep = () => screen.getByTestId('sweep');
  beforeEach(() => void show(<Score {...SCORE} lanes={LANES.slice(0, 1)} />));

  test('a click goes to a time and looks at a heading; nothing of the take changes', () => {
    const { history } = store.getState();
    drag(sweep(), [[SWEEP / 2 + 90, 250]]);
    expect(store.getState().time).toBeCloseTo(5, 1);
    expect(store.getState().glance).toEqual({ pan: 90, tilt: 0 });
    expect(store.getState().history).toBe(history);
  });

  test('a drag scrubs, and looks nowhere else', () => {
    drag(sweep(), [
      [200, 100],
      [200, 200],
      [200, 400],
    ]);
    expect(store.getState().time).toBeCloseTo(8, 1);
    expect(store.getState().glance).toBeNull();
  });

  test('a lane scrubs as the Sweep does', () => {
    drag(screen.getByTestId('lane'), [[30, 150]]);
    expect(store.getState().time).toBeCloseTo(3, 1);
    expect(store.getState().glance).toBeNull();
  });

  test('the wheel goes frame by frame, with Ctrl it zooms about the pointer', () => {
    const wheel = (deltaY: number, more: object = {}) =>
      act(() => {
        const event = new WheelEvent('wheel', { deltaY, clientY: 250, cancelable: true, bubbles: true, ...more });
        sweep().dispatchEvent(event);
        // The page itself must not scroll or zoom.
        expect(event.defaultPrevented).toBe(true);
      });
    wheel(10);
    expect(store.getState().time).toBeCloseTo(1 / 30, 6);
    wheel(75);
    expect(store.getState().time).toBeCloseTo(4 / 30, 6);
    wheel(-400, { ctrlKey: true });
    const { from, to } = store.getState().span;
    expect(to - from).toBeCloseTo(10 / Math.E, 2);
    expect((from + to) / 2).toBeCloseTo(5, 2);
  });

  test('the playhead has its time, and stays within the Score', () => {
    act(() => store.getState().setTime(9.99));
    expect(screen.getByTestId('playhead').textContent).toBe('0:09.97');
    const label = screen.getByTestId('playhead').firstElementChild as HTMLElement;
    const top = parseFloat((screen.getByTestId('playhead') as HTMLElement).style.top);
    expect(top + parseFloat(label.style.top) + 16).toBeLessThanOrEqual(SCORE.height);
  });
});
