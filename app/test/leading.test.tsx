/**
 * @jest-environment ./app/test/support/browser.mjs
 */
/** Lookouts and Sketches in the Studio: cut live and afterwards, laid, kept, proposed and taken. */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { createRoutesStub } from 'react-router';
import { setViewKey } from '@glimbo/core/path/edit';
import { emptyPath } from '@glimbo/core/path/path';
import type { Sketch } from '@glimbo/core/sketch/sketch';
import { startHistory } from '@glimbo/core/document/history';
import { newTake } from '@glimbo/core/take/take';
import { readTake } from '@glimbo/core/take/validate';
import { CutsLane } from '../studio/lookouts/CutsLane';
import { LookoutsPart } from '../studio/lookouts/LookoutsPart';
import { only, putOnAir, useLiveCuts } from '../studio/lookouts/live-cut';
import { gridLayout, pictureLayout } from '../studio/picture/format-layout';
import { framePanes } from '../studio/picture/frame-panes';
import { inWords, SketchPart } from '../studio/sketch/SketchPart';
import { SketchOnSweep } from '../studio/sketch/SketchOnSweep';
import { createStudio, StudioContext } from '../studio/state/store';
import { halt } from './support/halt';

/** Its activity is known. */
const gathered = { ...halt, gathered: { sweep: { rows: 300, framesPerRow: 1, tiles: 1 } } } as never as typeof halt;

let sent: Record<string, unknown>[] = [];
beforeEach(() => {
  localStorage.clear();
  sent = [];
  globalThis.fetch = jest.fn((_: string, request?: RequestInit) => {
    if (request?.body) sent.push(JSON.parse(String(request.body)) as Record<string, unknown>);
    return Promise.resolve(Response.json({ items: [], takes: [] }));
  }) as never;
});
afterEach(cleanup);

/** Drags something down by a way in pixels. */
function drag(element: Element, from: number, to: number) {
  Object.assign(element, { setPointerCapture: () => undefined, hasPointerCapture: () => true });
  for (const [kind, clientY] of [
    ['pointerdown', from],
    ['pointermove', to],
    ['pointerup', to],
  ] as const)
    act(() => void element.dispatchEvent(new MouseEvent(kind, { bubbles: true, clientY })));
}

function LiveCuts() {
  useLiveCuts();
  return null;
}

function inStudio(children: ReactNode) {
  const store = createStudio(gathered, startHistory(newTake('a.mp4', 10)), { station: 'path' });
  const Stub = createRoutesStub([
    {
      path: '/',
      Component: () => (
        <StudioContext.Provider value={store}>
          <LiveCuts />
          {children}
        </StudioContext.Provider>
      ),
    },
  ]);
  render(<Stub />);
  const lookouts = () => {
    const now = store.getState().take();
    readTake(structuredClone(now));
    return now.lookouts;
  };
  /** What is on air at whole seconds. */
  const aired = () =>
    lookouts()
      ?.cuts.map((c) => `${c.time.toFixed(1)}:${c.shows?.views.join('') ?? 'p'}`)
      .join(' ');
  return { store, lookouts, aired, user: userEvent.setup() };
}

const press = (name: string) => fireEvent.click(screen.getByRole('button', { name }));

describe('Lookouts', () => {
  test('are begun all round in one press, shown as a grid, named, keyed and removed', async () => {
    const { store, lookouts, user } = inStudio(<LookoutsPart />);
    press('Front, right, back and left');
    expect(lookouts()!.views.map((v) => v.path.pan)).toEqual([0, 90, 180, -90]);
    expect(store.getState()).toMatchObject({ grid: 'alone', lanes: expect.arrayContaining(['cuts']) });
    expect(framePanes(store.getState()).panes).toHaveLength(4);
    const name = screen.getByRole('textbox', { name: 'Name of Lookout 2' });
    await user.clear(name);
    await user.type(name, 'Pond{Enter}');
    expect(lookouts()!.views[1]!.name).toBe('Pond');
    // What is typed changes the Lookout that is worked on, and not the path.
    await user.click(screen.getByRole('button', { name: 'Work on Pond' }));
    const pan = screen.getByRole('textbox', { name: 'Pan value' });
    await user.clear(pan);
    await user.type(pan, '75{Enter}');
    expect(lookouts()!.views[1]!.path.pan).toBe(75);
    expect(store.getState().take().path).toEqual(emptyPath());
    await user.click(screen.getByRole('button', { name: /^Give Pond a path of its own/ }));
    expect(lookouts()!.views[1]!.path.pan).toMatchObject([{ value: 75 }]);
    await user.click(screen.getByRole('button', { name: 'Remove Pond' }));
    expect(lookouts()!.views).toHaveLength(3);
    await user.click(screen.getByRole('radio', { name: 'Both' }));
    expect(framePanes(store.getState()).panes).toHaveLength(4);
    await user.click(screen.getByRole('button', { name: 'Add this view' }));
    expect(lookouts()!.views).toHaveLength(4);
  });

  test('are cut live: each until the next, and what comes after the stop stays', () => {
    const { store, aired } = inStudio(<LookoutsPart />);
    press('Front, right, back and left');
    act(() => store.getState().setTime(5));
    act(() => putOnAir(store, only(3)));
    expect(aired()).toBe('5.0:3');
    const playTo = (time: number) => act(() => store.setState({ time }));
    act(() => store.setState({ time: 1, speed: 1 }));
    act(() => putOnAir(store, only(1)));
    playTo(2);
    act(() => putOnAir(store, only(2)));
    playTo(3);
    act(() => store.setState({ speed: 0 }));
    expect(aired()).toBe('1.0:1 2.0:2 3.0:p 5.0:3');
    act(() => store.getState().undo());
    act(() => store.getState().undo());
    expect(aired()).toBe('5.0:3');
    // Somebody who has none is told so.
    act(() => store.getState().undo());
    act(() => store.getState().undo());
    act(() => putOnAir(store, only(0)));
    expect(aired()).toBeUndefined();
  });

  test('several stand in one picture, joined otherwise, with a line; then all of it becomes keyframes', async () => {
    const { store, lookouts, user } = inStudio(<LookoutsPart />);
    press('Front, right, back and left');
    act(() => store.getState().setTime(2));
    press('Side by side');
    expect(lookouts()!.cuts[0]).toMatchObject({ time: 2, shows: { layout: 'beside', views: [0, 1] } });
    act(() => store.getState().showGrid('off'));
    expect(framePanes(store.getState()).panes.map((p) => [p.left, p.width])).toEqual([
      [0, 0.5],
      [0.5, 0.5],
    ]);
    await user.selectOptions(screen.getByRole('combobox', { name: 'Part 2 of the picture' }), '3');
    expect(lookouts()!.cuts[0]!.shows!.views).toEqual([0, 3]);
    const width = screen.getByRole('textbox', { name: 'Width of the line between' });
    await user.clear(width);
    await user.type(width, '2{Enter}');
    expect(lookouts()!.line).toEqual({ width: 2, colour: '#ffffff' });
    press('One');
    await user.selectOptions(screen.getByRole('combobox', { name: 'How it joins' }), 'glide');
    expect(lookouts()!.cuts[0]).toMatchObject({ join: 'glide' });
    press('To keyframes');
    expect(lookouts()!.cuts).toEqual([]);
    expect((store.getState().take().path.pan as object[]).length).toBeGreaterThan(0);
    press('Keep this set');
    expect(sent.at(-1)).toMatchObject({ intent: 'keep', document: { format: 'glimbo-lookouts' } });
  });

  test('the lane’s pieces are moved, given another Lookout and deleted with keys, and dragged', () => {
    const y = (t: number) => t * 50;
    const { store, aired } = inStudio(
      <>
        <LookoutsPart />
        <svg>
          <CutsLane height={500} y={y} timeAt={(p) => p / 50} />
        </svg>
      </>,
    );
    press('Front, right, back and left');
    act(() => store.getState().setTime(2));
    act(() => putOnAir(store, only(1)));
    act(() => store.getState().setTime(6));
    act(() => putOnAir(store, only(2)));
    const piece = (n: number) => screen.getAllByTestId('cut-piece')[n]!.querySelector('[role=button]')!;
    fireEvent.keyDown(piece(0), { key: 'ArrowDown' });
    fireEvent.keyDown(piece(1), { key: '4' });
    expect(aired()).toBe('2.0:1 6.0:3');
    expect(store.getState().take().lookouts!.cuts[0]!.time).toBeCloseTo(2 + 1 / 30);
    const edge = screen.getAllByTestId('cut-edge')[1]!;
    drag(edge, 300, 250);
    expect(aired()).toBe('2.0:1 5.0:3');
    fireEvent.keyDown(piece(1), { key: 'Delete' });
    expect(aired()).toBe('2.0:1');
  });

  test('a grid fills its room, and beside what is on air it is as high', () => {
    const { store } = inStudio(<LookoutsPart />);
    press('Front, right, back and left');
    const take = store.getState().take();
    const wide = gridLayout(take, 'alone', 16 / 9);
    expect(wide.parts.map((p) => [p.left, p.top])).toEqual([
      [0, 0],
      [0.5, 0],
      [0, 0.5],
      [0.5, 0.5],
    ]);
    const beside = gridLayout(take, 'beside', 2);
    expect(beside.pictures).toHaveLength(1);
    expect(beside.parts.at(-1)!.top + beside.parts.at(-1)!.height).toBeCloseTo(1, 1);
    expect(pictureLayout(take, 0, true).parts).toHaveLength(2);
  });
});

const sketch: Sketch = {
  from: 2,
  to: 8,
  path: [2, 7.9].reduce(
    (p, t, i) => setViewKey(p, t, { pan: 40 * i, tilt: 0, roll: 0, fov: 70, bend: 0 }),
    emptyPath(),
  ),
  reasons: [
    { from: 2, to: 5, why: { kind: 'activity', heading: -40 }, mark: true },
    { from: 5, to: 8, why: { kind: 'subject', name: 'Driver' }, mark: false },
  ],
};

describe('a Sketch', () => {
  test('is taken whole where nothing was made by hand, with its range; its reasons lead to their moments', async () => {
    const { store, user } = inStudio(<SketchPart />);
    expect(screen.getByText(/nothing of yours changes/)).toBeTruthy();
    act(() => store.getState().showSketch(sketch));
    expect(screen.getByText('something moves at −40°, at a mark')).toBeTruthy();
    expect(inWords({ from: 0, to: 1, why: { kind: 'calm' }, mark: false })).toMatch(/nothing in particular/);
    await user.click(screen.getByRole('button', { name: '0:05.0' }));
    expect(store.getState().time).toBe(5);
    press('Look through it');
    expect(store.getState().tried).not.toBeNull();
    press('Take it');
    expect(store.getState().take()).toMatchObject({ range: { in: 2, out: 8 } });
    expect(store.getState()).toMatchObject({ sketch: null, tried: null });
    expect((store.getState().take().path.pan as { value: number }[]).at(-1)!.value).toBeCloseTo(40);
  });

  test('leaves what was made by hand until it is told to go over it', async () => {
    const { store, user } = inStudio(<SketchPart />);
    act(() => store.getState().edit((t) => ({ ...t, path: [0, 9].reduce((p, x) => setViewKey(p, x, {}), t.path) })));
    act(() => store.getState().showSketch(sketch));
    expect((screen.getByRole('button', { name: 'Take it' }) as HTMLButtonElement).disabled).toBe(true);
    await user.click(screen.getByRole('checkbox', { name: 'Over my keyframes, too' }));
    press('Take it');
    expect((store.getState().take().path.pan as { time: number }[]).map((k) => Math.round(k.time))).toEqual([
      0, 2, 8, 8, 9,
    ]);
  });

  test('is taken in part by dragging along its line', () => {
    const { store } = inStudio(
      <svg>
        <SketchOnSweep width={360} height={500} y={(t) => t * 50} timeAt={(p) => p / 50} />
      </svg>,
    );
    act(() => store.getState().showSketch(sketch));
    const line = screen.getByTestId('sketch-line');
    drag(line, 150, 250);
    const times = (store.getState().take().path.pan as { time: number }[]).map((k) => k.time);
    expect(times[0]).toBeCloseTo(3);
    expect(times.at(-1)).toBeCloseTo(5, 1);
  });
});
