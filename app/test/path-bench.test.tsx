/**
 * @jest-environment ./app/test/support/browser.mjs
 *
 * The Path station's benches, and what is done to keyframes by command: what people see and what becomes of the take.
 */
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { createRoutesStub } from 'react-router';
import { keysOf } from '@glimbo/core/path/path';
import { selectedTimes } from '@glimbo/core/path/keys';
import { present, startHistory } from '@glimbo/core/document/history';
import { formatsOf } from '@glimbo/core/take/formats';
import { newTake } from '@glimbo/core/take/take';
import { commandsOf } from '../studio/commands/commands';
import { chooseKey, keyChoice, keyOf, pressedKey, shownKey, usualKeys } from '../studio/commands/key-choice';
import * as edit from '../studio/commands/path-edits';
import { Dials } from '../studio/path/Dials';
import { Keyframes } from '../studio/path/Keyframes';
import { MovesPart } from '../studio/path/MovesPart';
import { PacePart } from '../studio/path/PacePart';
import { ShapePart } from '../studio/path/ShapePart';
import { createStudio, StudioContext, type StudioStore } from '../studio/state/store';
import { FormatMenu } from '../studio/transport/FormatMenu';
import { halt } from './support/halt';
import { answering } from './support/server';

afterEach(cleanup);
beforeEach(() => {
  localStorage.clear();
  answering(() => ({ items: [] }));
});

const studio = () => createStudio(halt, startHistory(newTake('a.mp4', 10)), {});

function inStudio(children: ReactNode, store = studio()) {
  const Stub = createRoutesStub([
    { path: '/', Component: () => <StudioContext.Provider value={store}>{children}</StudioContext.Provider> },
  ]);
  render(<Stub />);
  return { store, user: userEvent.setup() };
}

/** Keyframes of the view at some times, each with its pan. */
const lay = (store: StudioStore, ...keys: [time: number, pan: number][]) =>
  act(() => {
    for (const [time, pan] of keys) {
      store.getState().setTime(time);
      edit.keyHere(store);
      store.getState().dial({ pan });
    }
  });
const pans = (store: StudioStore) => keysOf(store.getState().take().path, 'pan').map((k) => [k.time, k.value]);

describe('keyframes by command', () => {
  test('are copied, cut, pasted and duplicated with their distances', () => {
    const store = studio();
    lay(store, [1, 10], [2, 30], [6, 0]);
    edit.selectAll(store);
    expect(edit.copyKeys(store)).toBe(true);
    store.getState().selectView(1);
    store.getState().setTime(4);
    edit.duplicateHere(store);
    expect(pans(store)).toContainEqual([4, 10]);
    store.getState().undo();
    edit.pasteKeys(store);
    expect(pans(store)).toEqual([
      [1, 10],
      [2, 30],
      [4, 10],
      [5, 30],
      [9, 0],
    ]);
    expect(selectedTimes(store.getState().take().path, store.getState().selection)).toEqual([4, 5, 9]);
    edit.cutKeys(store);
    expect(pans(store)).toEqual([
      [1, 10],
      [2, 30],
    ]);
  });

  test('that were copied badly are not pasted', () => {
    const store = studio();
    lay(store, [1, 10]);
    localStorage.setItem('glimbo-keys', '{"pan":"x"}');
    edit.pasteKeys(store);
    expect(pans(store)).toEqual([[1, 10]]);
  });

  test('are nudged, stretched, mirrored, reversed and turned the other way, each one step of undo', () => {
    const store = studio();
    lay(store, [1, 0], [2, 20], [3, 200]);
    edit.selectAll(store);
    edit.nudgeKeys(store, 3, { pan: 0.1 });
    expect(pans(store)).toEqual([
      [1.1, 0.1],
      [2.1, 20.1],
      [3.1, 200.1],
    ]);
    store.getState().undo();
    edit.selectAll(store);
    edit.reverseSelected(store);
    expect(pans(store).map(([, v]) => v)).toEqual([200, 20, 0]);
    edit.mirrorSelected(store);
    expect(pans(store).map(([, v]) => v)).toEqual([200, 380, 400]);
    store.getState().undo();
    store.getState().undo();
    store.getState().setTime(1);
    edit.selectAll(store);
    edit.stretchSelected(store, 2);
    expect(pans(store).map(([t]) => t)).toEqual([1, 3, 5]);
    store.getState().setTime(4);
    edit.goOtherWay(store);
    expect(pans(store).map(([, v]) => v)).toEqual([0, 20, -160]);
    edit.loopToFirst(store);
    expect(pans(store).at(-1)![0]).toBeCloseTo(10 - 1 / 30, 9);
  });

  test('of one dial are set, gone to, and taken away alone', async () => {
    const { store, user } = inStudio(<Dials />);
    lay(store, [1, 10], [5, 30]);
    act(() => store.getState().setTime(3));
    await user.click(screen.getByRole('button', { name: 'Key of roll here' }));
    expect([keysOf(store.getState().take().path, 'roll').length, pans(store).length]).toEqual([3, 2]);
    await user.click(screen.getByRole('button', { name: 'Next key of roll' }));
    expect(store.getState().time).toBe(5);
    await user.click(screen.getByRole('button', { name: 'Previous key of roll' }));
    await user.click(screen.getByRole('button', { name: 'Key of roll here' }));
    expect(keysOf(store.getState().take().path, 'roll')).toHaveLength(2);
  });

  test('are picked in the list with Shift and Ctrl, and their times are written as one likes', async () => {
    const { store, user } = inStudio(<Keyframes />);
    lay(store, [1, 10], [2, 20], [3, 30]);
    const row = (n: number) => screen.getByRole('button', { name: `Go to keyframe ${n}` });
    const chosen = () => selectedTimes(store.getState().take().path, store.getState().selection);
    await user.click(row(1));
    fireEvent.click(row(3), { shiftKey: true });
    expect(chosen()).toEqual([1, 2, 3]);
    fireEvent.click(row(2), { ctrlKey: true });
    expect(chosen()).toEqual([1, 3]);
    await user.selectOptions(screen.getByRole('combobox', { name: 'Times as' }), 'timecode');
    const field = screen.getByRole('textbox', { name: 'Time of keyframe 3' });
    expect((field as HTMLInputElement).value).toBe('00:00:03:00');
    await user.clear(field);
    await user.type(field, '4:15{Enter}');
    expect(pans(store).at(-1)).toEqual([4.5, 30]);
    await user.selectOptions(screen.getByRole('combobox', { name: 'Times as' }), 'frames');
    expect((screen.getByRole('textbox', { name: 'Time of keyframe 3' }) as HTMLInputElement).value).toBe('135');
    await user.selectOptions(screen.getByRole('combobox', { name: 'Times as' }), 'seconds');
  });
});

describe('the benches', () => {
  test('Shape gives the segment at the playhead a curve, and all dials with it', async () => {
    const { store, user } = inStudio(<ShapePart />);
    expect(screen.getByText(/there is nothing to shape/)).toBeTruthy();
    lay(store, [1, 0], [3, 60]);
    act(() => store.getState().setTime(2));
    const eases = (name: 'pan' | 'fov') => keysOf(store.getState().take().path, name).map((k) => k.ease);
    await user.click(screen.getByRole('button', { name: 'Whip' }));
    expect([eases('pan')[0], eases('fov')[0]]).toEqual(['whip', 'whip']);
    await user.click(screen.getByRole('checkbox', { name: 'All dials together' }));
    const x1 = screen.getByRole('textbox', { name: 'Handle x1' });
    await user.clear(x1);
    await user.type(x1, '0.2{Enter}');
    expect([eases('pan')[0], eases('fov')[0]]).toEqual([[0.2, 0, 0.14, 1], 'whip']);
    await user.click(screen.getByRole('button', { name: 'Ease the ends' }));
    expect(eases('pan')[0]).toBe('ease-in-out');
    await user.click(screen.getByRole('radio', { name: 'Arc' }));
    expect(keysOf(store.getState().take().path, 'pan')[0]!.turn).toBe('arc');
  });

  test('a move is tried, and leaves nothing until it is taken', async () => {
    const { store, user } = inStudio(<MovesPart />);
    await user.click(screen.getByRole('button', { name: 'Slow push' }));
    expect([store.getState().tried !== null, pans(store)]).toEqual([true, []]);
    expect(store.getState().view().fov).toBe(75);
    await user.click(screen.getByRole('button', { name: 'Leave it' }));
    expect(store.getState().tried).toBeNull();
    await user.click(screen.getByRole('button', { name: 'Slow push' }));
    await user.click(screen.getByRole('button', { name: 'Take it' }));
    expect([store.getState().tried, pans(store).length]).toEqual([null, 2]);
    expect(screen.getByText(/None yet. Select keyframes/)).toBeTruthy();
  });

  test('Pace is set, read and taken away; what would go back is not taken', async () => {
    const { store, user } = inStudio(<PacePart />);
    const pace = () => store.getState().take().pace;
    await user.click(screen.getByRole('button', { name: '0.5×' }));
    expect(screen.getByTestId('clip-length').textContent).toMatch(/0:10.00 become 0:20.00/);
    await user.click(screen.getByRole('radio', { name: 'Mixed' }));
    act(() => store.getState().setTime(5));
    await user.click(screen.getByRole('button', { name: 'Hold the frame 1 s' }));
    expect(pace()).toMatchObject({
      blend: 'mean',
      keys: [
        { time: 0, speed: 0.5 },
        { time: 5, speed: 0.5, held: 1 },
      ],
    });
    await user.click(screen.getByRole('button', { name: 'Remove speed 1' }));
    expect(pace()!.keys).toHaveLength(1);
    await user.click(screen.getByRole('button', { name: 'As it is read again' }));
    expect(pace()).toBeUndefined();
  });

  test('formats come and go, and one is aimed by itself', async () => {
    const { store, user } = inStudio(<FormatMenu />);
    await user.click(screen.getByRole('button', { name: 'Formats and guides' }));
    await user.click(screen.getByRole('menuitemcheckbox', { name: '9:16' }));
    expect(formatsOf(store.getState().take()).map((f) => f.aspect)).toEqual(['16:9', '9:16']);
    await user.click(screen.getByRole('menuitemcheckbox', { name: 'Thirds' }));
    expect(store.getState().guides).toEqual(['thirds']);
    await user.click(screen.getByRole('menuitemradio', { name: 'this format alone' }));
    act(() => store.getState().dial({ pan: 12 }));
    const take = present(store.getState().history);
    expect([formatsOf(take)[0]!.correction!.pan, pans(store)]).toEqual([12, []]);
    expect(store.getState().view().pan).toBe(12);
    act(() => store.getState().correctFormat('no'));
    act(() => store.getState().dial({ pan: 40 }));
    expect(pans(store)).toEqual([[0, 28]]);
  });
});

describe('keys', () => {
  const player = { toggle() {}, pause() {}, shuttle() {}, playAt() {} };
  const commands = commandsOf(studio(), player, () => {});
  const byId = (id: string) => commands.find((c) => c.id === id)!;
  const key = (id: string) => keyOf(byId(id), keyChoice.getState().chosen);

  test('no two commands have the same name or key, and all have a name', () => {
    const keys = commands.flatMap((c) => c.key ?? []);
    expect(new Set(keys).size).toBe(keys.length);
    expect(new Set(commands.map((c) => c.name)).size).toBe(commands.length);
    expect(commands.every((c) => c.name.length > 2)).toBe(true);
  });

  test('are chosen, taken from others, kept, and as usual again', () => {
    expect(chooseKey(commands, byId('mark'), 'u')).toBeUndefined();
    expect(chooseKey(commands, byId('jolt'), 'u')!.id).toBe('mark');
    expect([key('mark'), key('jolt')]).toEqual([undefined, 'u']);
    expect(JSON.parse(localStorage.getItem('glimbo-own-keys')!)).toEqual({ mark: '', jolt: 'u' });
    usualKeys();
    expect([key('mark'), key('jolt')]).toEqual(['m', 'n']);
  });

  test('are written as they are pressed and shown as people know them', () => {
    const press = (k: string, held: Partial<KeyboardEvent> = {}) =>
      pressedKey({ key: k, ctrlKey: false, metaKey: false, altKey: false, shiftKey: false, ...held });
    expect([
      press('M'),
      press(' '),
      press('z', { ctrlKey: true, shiftKey: true }),
      press('Shift'),
      press('Tab'),
    ]).toEqual(['m', 'Space', '$mod+Shift+z', null, null]);
    expect([shownKey('$mod+Shift+z'), shownKey('+'), shownKey('ArrowLeft')]).toEqual(['Ctrl Shift Z', '+', '←']);
  });
});
