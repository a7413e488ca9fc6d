/**
 * @jest-environment ./app/test/support/browser.mjs
 *
 * The sphere's turn as curves: lanes, eases, framing that is kept; and what is on air over the Sweep.
 */
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { USUAL_RULE } from '@glimbo/core/follow/rule';
import { angleBetween, apply, transpose, type Vec3 } from '@glimbo/core/geometry/rotation';
import { cutHere, lookoutsAllRound, showingOf, withCuts } from '@glimbo/core/edit/lookouts';
import { startHistory } from '@glimbo/core/document/history';
import { newTake, type Take } from '@glimbo/core/take/take';
import { setTurn } from '@glimbo/core/take/turn';
import { readTake } from '@glimbo/core/take/validate';
import { sightOf } from '@glimbo/core/view/view-of';
import { TurnFields } from '../studio/level/TurnFields';
import { PanCurve } from '../studio/score/curves';
import { laneOf } from '../studio/score/lane-list';
import { LaneSwitch } from '../studio/score/LaneSwitch';
import { createStudio, StudioContext } from '../studio/state/store';
import { halt } from './support/halt';
import { staysAt } from './support/tracks';

beforeEach(() => localStorage.clear());
afterEach(cleanup);

const axis = { height: 400, y: (t: number) => 40 * t, timeAt: (py: number) => py / 40 };
const turn = setTurn(setTurn(undefined, 2, {}), 6, { pan: 170 });

function inStudio(children: ReactNode, change: Partial<Take> = {}) {
  const store = createStudio(halt, startHistory({ ...newTake('a.mp4', 10), ...change }), { station: 'level' });
  render(<StudioContext.Provider value={store}>{children}</StudioContext.Provider>);
  const turned = () => {
    readTake(structuredClone(store.getState().take()));
    return store.getState().take().orientation?.turn;
  };
  /** What the middle of the frame is on, in the footage's own picture. */
  const onNow = (): Vec3 => {
    const { view, correction, time } = store.getState();
    return apply(transpose(correction().at(time)), sightOf(view()));
  };
  return { store, turned, onNow, user: userEvent.setup() };
}

describe('the turn of the sphere', () => {
  const lane = laneOf('turnPan');
  const drawn = (
    <svg>
      <lane.Draw {...axis} />
    </svg>
  );

  test('has a lane while it is keyed, which goes on at its other side beyond half a turn', async () => {
    const { store, user } = inStudio(
      <>
        <LaneSwitch />
        {drawn}
      </>,
    );
    expect(screen.queryByRole('button', { name: 'Turn: pan' })).toBeNull();
    act(() => store.getState().correct({ orientation: { turn } }));
    await user.click(screen.getByRole('button', { name: 'Turn: pan' }));
    expect(store.getState().lanes).toContain('turnPan');
    const pieces = () =>
      [...document.querySelectorAll('path')]
        .map((p) => p.getAttribute('d') ?? '')
        .find((d) => d.length > 500)!
        .match(/M/g)!.length;
    expect(pieces()).toBe(1);
    act(() => store.getState().correct({ orientation: { turn: setTurn(turn, 9, { pan: 200 }) } }));
    expect(pieces()).toBe(2);
  });

  test('its beads are moved like the path’s; the frame stays on what it was on, unless that is not wanted', () => {
    const { store, turned, onNow } = inStudio(drawn, { orientation: { turn } });
    act(() => store.getState().setTime(6));
    const on = onNow();
    const step = () => {
      const bead = screen.getByRole('button', { name: /^Turn: pan of keyframe 2/ });
      fireEvent.focus(bead);
      fireEvent.keyDown(bead, { key: 'ArrowRight', shiftKey: true });
    };
    step();
    const { pan, tilt } = turned() as { pan: { value: number }[]; tilt: { value: number }[] };
    expect(pan[1]!.value).toBeCloseTo(190, 6);
    expect(tilt.map((k) => k.value)).toEqual([0, 0]);
    expect(angleBetween(onNow(), on)).toBeLessThan(1e-6);
    act(() => store.getState().setKeepFraming(false));
    step();
    expect(angleBetween(onNow(), on)).toBeGreaterThan(0.2);
    act(() => store.getState().undo());
    expect(turned()!.pan).toEqual(turn.pan);
  });

  test('is eased by name, and taken out', async () => {
    const { turned, user } = inStudio(<TurnFields />, { orientation: { turn } });
    await user.selectOptions(screen.getByRole('combobox', { name: 'What leaves the turn at 0:02.00' }), 'linear');
    expect((turned()!.pan as { ease: string }[]).map((k) => k.ease)).toEqual(['linear', 'smooth']);
    await user.click(screen.getByRole('button', { name: 'Remove the turn at 0:02.00' }));
    expect((turned()!.tilt as { time: number }[]).map((k) => k.time)).toEqual([6]);
    await user.click(screen.getByRole('button', { name: 'Take all of it out' }));
    expect(turned()).toBeUndefined();
  });
});

describe('the Sweep', () => {
  const sweep = (
    <svg>
      <PanCurve {...axis} width={360} />
    </svg>
  );
  /** Points of the line of what is on air: headings in degrees, and seconds. */
  const onAir = () =>
    (
      screen
        .queryByTestId('on-air-curve')
        ?.getAttribute('d')
        ?.match(/-?[\d.]+/g) ?? []
    )
      .map(Number)
      .flatMap((x, i, all) => (i % 2 ? [] : [{ heading: x - 180, time: all[i + 1]! / 40 }]));
  const headingsAt = (time: number) =>
    onAir()
      .filter((p) => Math.abs(p.time - time) < 0.01)
      .map((p) => p.heading);

  test('shows where the camera looks that follows somebody, and the path dotted beside it', () => {
    const { store } = inStudio(sweep);
    expect(onAir()).toEqual([]);
    expect(screen.getByTestId('pan-curve').getAttribute('stroke-dasharray')).toBeNull();
    act(() => store.getState().knowTrack('s', { version: 1, track: staysAt(90) }));
    act(() =>
      store.getState().edit((take) => ({
        ...take,
        follows: [{ ...USUAL_RULE, subject: 's.json', in: 4, out: 10, blend: 1, across: 0, up: 0, ahead: 0 }],
      })),
    );
    expect(screen.getByTestId('pan-curve').getAttribute('stroke-dasharray')).not.toBeNull();
    expect(headingsAt(1)[0]).toBeCloseTo(0, 0);
    expect(headingsAt(8)[0]).toBeCloseTo(90, 0);
  });

  test('shows every view of a divided picture', () => {
    const { store } = inStudio(sweep);
    act(() =>
      store
        .getState()
        .edit((take) =>
          withCuts({ ...take, lookouts: lookoutsAllRound() }, (cuts) => cutHere(cuts, 5, showingOf('four', 0, 4))),
        ),
    );
    expect(headingsAt(2)).toHaveLength(1);
    const around = headingsAt(8).map((h) => Math.round(h + 360) % 360);
    expect(around.sort((a, b) => a - b)).toEqual([0, 90, 180, 270]);
  });
});
