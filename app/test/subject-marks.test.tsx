/**
 * @jest-environment ./app/test/support/browser.mjs
 *
 * Subjects over the Frame: outlined where each part of the picture sees them, in their colours, as far as they are known.
 */
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { act, cleanup, render, screen } from '@testing-library/react';
import { cutHere, lookoutsAllRound, showingOf, withCuts } from '@glimbo/core/edit/lookouts';
import { startHistory } from '@glimbo/core/document/history';
import { newTake } from '@glimbo/core/take/take';
import { SubjectsInFrame } from '../studio/follow/SubjectMarks';
import { createStudio, StudioContext } from '../studio/state/store';
import { halt } from './support/halt';
import { staysAt, subject } from './support/tracks';

beforeEach(() => localStorage.clear());
afterEach(cleanup);

/** Somebody to the right of the rig, who stays there. */
const track = staysAt(90);

function inFrame() {
  const take = { ...newTake('a.mp4', 10), lookouts: lookoutsAllRound() };
  const store = createStudio(halt, startHistory(take), { station: 'path' });
  store.getState().knowSubjects([subject({ tint: 'sky' })]);
  render(
    <StudioContext.Provider value={store}>
      <SubjectsInFrame width={800} height={400} />
    </StudioContext.Provider>,
  );
  /** Of each part of the picture where it is and what is outlined in it. */
  const parts = () =>
    screen.queryAllByTestId('subjects-in-frame').map((part) => ({
      left: part.style.left,
      top: part.style.top,
      outline: part.querySelector('path')!.getAttribute('d')!,
    }));
  return { store, parts };
}

test('a picture of four parts has it in the part that looks there, and in no other', () => {
  const { store, parts } = inFrame();
  act(() => store.getState().knowTrack('s', { version: 1, track }));
  expect(parts()).toHaveLength(1);
  act(() => store.getState().edit((take) => withCuts(take, (cuts) => cutHere(cuts, 0, showingOf('four', 0, 4)))));
  const four = parts();
  expect(four.map(({ left, top }) => [left, top])).toEqual([
    ['0px', '0px'],
    ['400px', '0px'],
    ['0px', '200px'],
    ['400px', '200px'],
  ]);
  const points = four.map(({ outline }) => {
    const numbers = (outline.match(/-?[\d.]+/g) ?? []).map(Number);
    return numbers.flatMap((n, i) => (i % 2 ? [] : [[n, numbers[i + 1]!] as const]));
  });
  const within = points.map((line) => line.filter(([px, py]) => px >= 0 && px <= 400 && py >= 0 && py <= 200));
  expect(within.map((line) => line.length > 0)).toEqual([false, true, false, false]);
  // In the middle of its part.
  const across = within[1]!.map(([px]) => px);
  expect((Math.min(...across) + Math.max(...across)) / 2).toBeCloseTo(200, -1);
});

test('it has its colour, and is shown as far as it is known', () => {
  const { store, parts } = inFrame();
  expect(parts()).toHaveLength(0);
  act(() => store.getState().dial({ pan: 90 }));
  act(() => store.getState().growTrack('s', track));
  const strokes = [...screen.getByTestId('subjects-in-frame').querySelectorAll('path')].map((p) =>
    p.getAttribute('stroke'),
  );
  expect(strokes).toContain('var(--lit-sky)');
  act(() => store.getState().growTrack('s', null));
  expect(parts()).toHaveLength(0);
});
