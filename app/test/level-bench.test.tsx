/**
 * @jest-environment ./app/test/support/browser.mjs
 *
 * The Level station's benches: mount and heading, the horizon, steadying; what people see and what becomes of the take.
 */
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { act, cleanup, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { createRoutesStub } from 'react-router';
import { startHistory } from '@glimbo/core/document/history';
import { directionOf } from '@glimbo/core/geometry/sphere';
import { upOf } from '@glimbo/core/level/level';
import type { Motion } from '@glimbo/core/motion/motion';
import { newTake } from '@glimbo/core/take/take';
import { Toaster } from 'sonner';
import { HorizonPart } from '../studio/level/HorizonPart';
import { centrePointed } from '../studio/level/orient';
import { OrientPart } from '../studio/level/OrientPart';
import { SteadyPart } from '../studio/level/SteadyPart';
import { createStudio, StudioContext, type StudioStore } from '../studio/state/store';
import { WorkContext } from '../studio/state/work';
import type { StudioWork } from '~/model/studio';
import { halt } from './support/halt';
import { answering } from './support/server';

/** A rig that stands still, and whose picture says where up is at 5 s. */
const motion = (change: Partial<Motion> = {}): Motion => ({
  format: 'glimbo-motion',
  version: 1,
  rate: 30,
  method: 'quick',
  frames: Array.from({ length: 300 }, (_, n) => ({
    time: n / 30,
    orientation: [1, 0, 0, 0],
    travel: [0, 0, 1],
    travelConfidence: 0,
    trust: 1,
    residual: 0,
  })),
  cuts: [],
  bad: [],
  levels: [],
  ...change,
});

let store: StudioStore;
beforeEach(() => {
  localStorage.clear();
  window.matchMedia = (() => ({ matches: false, addEventListener() {}, removeEventListener() {} })) as never;
  answering(() => ({}));
  store = createStudio(halt, startHistory(newTake('a.mp4', 10)), {});
});
afterEach(cleanup);

function bench(children: React.ReactNode, known: Motion | null = null) {
  act(() => store.setState({ motion: known }));
  const Stub = createRoutesStub([
    {
      path: '/',
      Component: () => (
        <StudioContext.Provider value={store}>
          {children}
          <Toaster />
        </StudioContext.Provider>
      ),
    },
  ]);
  render(<Stub />);
  return userEvent.setup();
}
const take = () => store.getState().take();
const keys = () => take().level?.keys ?? [];
async function type(user: ReturnType<typeof userEvent.setup>, label: string, value: string) {
  const field = screen.getByRole('textbox', { name: label });
  await user.clear(field);
  await user.type(field, `${value}{Enter}`);
}

describe('the mount', () => {
  test('is chosen by name or by its angles; its name goes where it is none of the usual ones', async () => {
    const user = bench(<OrientPart />);
    await user.click(screen.getByRole('radio', { name: 'Left side' }));
    expect(take().orientation!.mount).toEqual({ pan: 0, tilt: 0, roll: 90 });
    await type(user, 'Mount roll value', '47');
    expect(take().orientation!.mount!.roll).toBe(47);
    expect(screen.queryByRole('radio', { checked: true })).toBeNull();
  });

  test('that puts up on top is proposed where the analysis is sure, and only there', async () => {
    const down = { up: [0, -1, 0] as const, confidence: 0.93 };
    const user = bench(<OrientPart />, motion({ stands: { up: [...down.up], confidence: 0.93 } }));
    const proposal = screen.getByText(/Up is not on top \(93 % sure\)/);
    await user.click(within(proposal).getByRole('button', { name: 'Upside down' }));
    expect(take().orientation!.mount).toEqual({ pan: 0, tilt: 0, roll: 180 });
    expect(screen.queryByText(/Up is not on top/)).toBeNull();
    act(() => store.getState().undo());
    act(() => store.setState({ motion: motion({ stands: { up: [...down.up], confidence: 0.1 } }) }));
    expect(screen.queryByText(/Up is not on top/)).toBeNull();
  });

  test('what is looked at, or under the pointer, becomes ahead, and the framing stays on it', async () => {
    const user = bench(<OrientPart />);
    act(() => store.getState().dial({ pan: 70, tilt: 10 }));
    await user.click(screen.getByRole('button', { name: 'What the Frame looks at is ahead' }));
    expect(take().orientation!.centre!.pan).toBeCloseTo(70, 6);
    expect(store.getState().view().pan).toBeCloseTo(0, 6);
    act(() => store.getState().pointAt(directionOf(-20, 30)));
    act(() => centrePointed(store));
    expect(take().orientation!.centre!.pan).toBeCloseTo(50, 6);
    await user.click(screen.getByRole('button', { name: 'As filmed' }));
    expect(take().orientation!.centre).toEqual({ pan: 0, tilt: 0 });
    expect(store.getState().view().pan).toBeCloseTo(70, 6);
  });
});

describe('the horizon', () => {
  test('is put straight by numbers at the playhead, each moment a key', async () => {
    const user = bench(<HorizonPart />);
    await type(user, 'Roll of the horizon', '5');
    act(() => store.getState().setTime(4));
    await type(user, 'Roll of the horizon', '-3');
    expect(keys().map((k) => k.time)).toEqual([0, 4]);
    expect(screen.getAllByTestId('level-key')[1]!.textContent).toContain('-3.0°');
    await user.click(screen.getAllByRole('button', { name: /^Remove the level key/ })[0]!);
    expect(keys().map((k) => k.time)).toEqual([4]);
  });

  test('a key is moved to the playhead and says the same there', async () => {
    const user = bench(<HorizonPart />);
    await type(user, 'Roll of the horizon', '5');
    act(() => store.getState().setTime(6));
    await user.click(screen.getByRole('button', { name: 'Move here' }));
    expect(keys()).toHaveLength(1);
    expect(keys()[0]!.time).toBe(6);
    expect(screen.getByTestId('level-key').textContent).toContain('5.0°');
  });

  test('what is proposed says how sure it is and is taken with one press; what is unsure is not proposed', async () => {
    const levels = (confidence: number) => [{ time: 0, up: upOf({ roll: 8, pitch: 0 }), confidence }];
    const user = bench(<HorizonPart />, motion({ levels: levels(0.95) }));
    const proposal = screen.getByTestId('proposal');
    expect(proposal.textContent).toMatch(/8\.0° roll, 0\.0° pitch.*% sure/);
    await user.click(within(proposal).getByRole('button', { name: 'Accept' }));
    expect(screen.getByTestId('level-key').textContent).toContain('8.0°');
    act(() => store.getState().undo());
    act(() => store.setState({ motion: motion({ levels: levels(0.2) }) }));
    expect(screen.queryByTestId('proposal')).toBeNull();
    expect(screen.getByTestId('unsure').textContent).toMatch(/does not tell where up is/);
  });

  test('keys go to another take of the same footage, and nothing else that lies there does', async () => {
    const user = bench(<HorizonPart />);
    await type(user, 'Roll of the horizon', '5');
    await user.click(screen.getByRole('button', { name: 'Copy keys' }));
    const before = keys();
    await user.click(screen.getByRole('button', { name: 'Remove all' }));
    await user.click(screen.getByRole('button', { name: 'Paste keys' }));
    expect(keys()[0]!.up.map((v) => v.toFixed(6))).toEqual(before[0]!.up.map((v) => v.toFixed(6)));
    for (const other of ['{', '{"footage":"f","keys":[{"time":"soon"}]}', '{"footage":"other","keys":[]}']) {
      localStorage.setItem('glimbo-level-keys', other);
      await user.click(screen.getByRole('button', { name: 'Paste keys' }));
      expect(keys()).toHaveLength(1);
    }
    expect((await screen.findAllByText(/No level keys of this footage were copied/)).length).toBeGreaterThan(0);
  });
});

describe('steadying', () => {
  test('asks for the analysis first', () => {
    const work: StudioWork = {
      ...{ footage: halt, exports: [], ratios: {}, gathering: null, analysing: null },
      ...{ subjects: [], following: [], found: null, finding: null, sidecar: false },
    };
    bench(
      <WorkContext.Provider value={work}>
        <SteadyPart />
      </WorkContext.Provider>,
    );
    expect(screen.getAllByText(/analys/i).length).toBeGreaterThan(0);
    expect(screen.queryByRole('radio', { name: 'Rolling' })).toBeNull();
  });

  test('has a mode, a window and a heading; its strength is one undo step', async () => {
    const user = bench(<SteadyPart />, motion());
    await user.click(screen.getByRole('radio', { name: 'Rolling' }));
    expect(take().steady).toMatchObject({ mode: 'rolling', strength: 100 });
    await type(user, 'Window value', '2');
    expect(take().steady).toMatchObject({ window: 2 });
    expect(screen.getByText(/2\.0 s to either side/)).toBeTruthy();
    await user.selectOptions(screen.getByRole('combobox', { name: 'Heading follows' }), 'travel');
    expect(take().steady!.heading.follows).toBe('travel');
    await type(user, 'Strength value', '40');
    act(() => store.getState().undo());
    expect(take().steady!.strength).toBe(100);
  });

  test('still holds the frame at the playhead, until another one is chosen', async () => {
    act(() => store.getState().setTime(3));
    const user = bench(<SteadyPart />, motion());
    await user.click(screen.getByRole('radio', { name: 'Still' }));
    expect(take().steady).toMatchObject({ mode: 'still', frame: 3 });
    act(() => store.getState().setTime(7));
    await user.click(screen.getByRole('button', { name: 'As in this frame' }));
    expect(take().steady!.frame).toBe(7);
  });
});
