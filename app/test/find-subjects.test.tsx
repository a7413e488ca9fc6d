/**
 * @jest-environment ./app/test/support/browser.mjs
 *
 * What was found as it is offered: in order, with its picture, chosen and taken; none; being looked for; refused.
 */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { act, cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { createRoutesStub } from 'react-router';
import { startHistory } from '@glimbo/core/document/history';
import { directionOf } from '@glimbo/core/geometry/sphere';
import type { Moving, MovingLook } from '@glimbo/core/moving/moving';
import { newTake } from '@glimbo/core/take/take';
import type { Job } from '../model/job';
import type { StudioWork } from '../model/studio';
import { FollowPart } from '../studio/follow/FollowPart';
import { createStudio, StudioContext } from '../studio/state/store';
import { WorkContext } from '../studio/state/work';
import { halt } from './support/halt';
import { staysAt, subject } from './support/tracks';

const looks = (from: number, to: number, heading: number, size: number): MovingLook[] =>
  Array.from({ length: (to - from) / 10 + 1 }, (_, i) => [from + 10 * i, ...directionOf(heading, 0), size / 2, size]);
const moving: Moving = {
  format: 'glimbo-moving',
  version: 1,
  rate: 30,
  every: 10,
  frames: 300,
  stage: 30,
  still: [true, true, true, false],
  streaks: [
    { sure: 0.9, looks: looks(0, 50, 20, 8), portrait: 'AAAA' },
    { sure: 0.7, kind: 'animal', looks: looks(30, 290, -60, 15) },
    { sure: 0.3, looks: looks(0, 290, 120, 15) },
  ],
};
const gathered = { ...halt, gathered: { proxy: { width: 1920, height: 960, frames: 300 } } as never };

let sent: { address: string; body: Record<string, unknown> }[] = [];
let answer: () => Response = () => Response.json({});
beforeEach(() => {
  localStorage.clear();
  [sent, answer] = [[], () => Response.json({})];
  globalThis.fetch = jest.fn((address: string, request?: RequestInit) => {
    const body = typeof request?.body === 'string' ? (JSON.parse(request.body) as Record<string, unknown>) : {};
    sent.push({ address, body });
    return Promise.resolve(answer());
  }) as never;
});
afterEach(cleanup);

function inStudio(found: Moving | null, more: Partial<StudioWork> & { finding?: Job | null } = {}) {
  const store = createStudio(halt, startHistory(newTake('a.mp4', 10)), { station: 'path' });
  store.getState().knowFound(found);
  const work = {
    ...{ footage: gathered, subjects: [], following: [], finding: null, analysing: null },
    found: found && 1,
    ...more,
  };
  const Stub = createRoutesStub([
    {
      path: '/',
      Component: () => (
        <StudioContext.Provider value={store}>
          <WorkContext.Provider value={work as never as StudioWork}>
            <FollowPart />
          </WorkContext.Provider>
        </StudioContext.Provider>
      ),
    },
  ]);
  render(<Stub />);
  return { store, user: userEvent.setup() };
}
const press = (name: string | RegExp) => userEvent.setup().click(screen.getByRole('button', { name }));

describe('what was found', () => {
  test('is offered the longest first, or as somebody likes it; what is not sure is not', async () => {
    const { user } = inStudio(moving);
    await press('Find subjects');
    expect(sent).toEqual([]);
    expect(screen.getByText('2 found')).toBeTruthy();
    const titles = () => screen.getAllByRole('checkbox').map((box) => box.getAttribute('aria-label'));
    expect(titles()).toEqual(['Choose Animal at 0:01', 'Choose Moves at 0:00']);
    await user.selectOptions(screen.getByRole('combobox', { name: 'Order of what was found' }), 'first seen first');
    expect(titles()).toEqual(['Choose Moves at 0:00', 'Choose Animal at 0:01']);
    expect(screen.getByTestId<HTMLImageElement>('candidate-picture').src).toBe('data:image/jpeg;base64,AAAA');
    expect(screen.getByText(/In 25 % of the footage what moves cannot be told from the world/)).toBeTruthy();
    expect(screen.getByText(/what recognises them was not installed/)).toBeTruthy();
  });

  test('where it was recognised too nothing is said to be missing but what can be', async () => {
    inStudio({ ...moving, recognised: true });
    await press('Find subjects');
    expect(screen.getByText(/people, animals and vehicles were recognised/)).toBeTruthy();
    expect(screen.queryByText(/not installed/)).toBeNull();
  });

  test('is meant under the pointer, gone to, and taken by one press where it is seen well', async () => {
    const { store, user } = inStudio(moving);
    await press('Find subjects');
    await user.hover(screen.getByText('Animal,', { exact: false }));
    expect(store.getState().meant).toBe(1);
    await press('Go to Animal at 0:01');
    expect(store.getState().time).toBeGreaterThan(1);
    await press('Take Animal at 0:01');
    expect(sent[0]!.address).toBe('/footage/f/subjects');
    expect(sent[0]!.body).toMatchObject({ intent: 'add', name: 'Animal 1', width: 7.5, height: 15 });
    expect((sent[0]!.body.direction as number[])[0]).toBeCloseTo(directionOf(-60, 0)[0], 6);
    expect(sent[0]!.body.frame).toBe(Math.round(store.getState().time * 30));
  });

  test('several are taken at once; a refusal ends it and is told', async () => {
    const { user } = inStudio(moving);
    await press('Find subjects');
    for (const box of screen.getAllByRole('checkbox')) await user.click(box);
    answer = () => Response.json({ problem: 'A footage has 100 subjects at most.' }, { status: 409 });
    await press('Take these 2');
    expect(sent).toHaveLength(1);
    answer = () => Response.json({});
    for (const box of screen.getAllByRole('checkbox')) await user.click(box);
    await press('Take these 2');
    expect(sent.map(({ body }) => body.intent)).toEqual(['add', 'add', 'add']);
    expect(screen.queryByRole('button', { name: /Take these/ })).toBeNull();
  });

  test('is a subject already where that is in it, or was pointed out just there', async () => {
    const { store } = inStudio(moving);
    const best = moving.streaks[0]!.looks[4]!;
    act(() => {
      store
        .getState()
        .knowSubjects([
          subject({ id: 'fox', name: 'Fox', pointed: { frame: 0, direction: [0, 1, 0] } }),
          subject({ id: 'new', name: 'Newcomer', pointed: { frame: best[0], direction: [best[1], best[2], best[3]] } }),
        ]);
      store.getState().knowTrack('fox', { version: 1, track: staysAt(-60) });
    });
    await press('Find subjects');
    expect(screen.getByText('is Fox')).toBeTruthy();
    expect(screen.getByText('is Newcomer')).toBeTruthy();
    expect(screen.queryByRole('button', { name: /^Take/ })).toBeNull();
    await press('To the subjects');
    expect(screen.getByRole('textbox', { name: 'Name of Fox' })).toBeTruthy();
    expect(store.getState().offering).toBe(false);
  });

  test('nothing: it is said, and what to do', async () => {
    inStudio({ ...moving, streaks: [], still: [true] });
    await press('Find subjects');
    expect(screen.getByText('Nothing was found')).toBeTruthy();
    expect(screen.getByText(/Point out what stands still/)).toBeTruthy();
    await press('Find anew');
    expect(sent.map(({ address }) => address)).toEqual(['/footage/f/found']);
  });
});

describe('finding', () => {
  const job = (state: Job['state'], more: Partial<Job> = {}) =>
    ({ id: 'j', kind: 'find', state, progress: 0.4, error: null, params: {}, ...more }) as Job;

  test('is begun by one press where it was not done, and refused as long as there is no proxy', async () => {
    inStudio(null);
    await press('Find subjects');
    expect(sent.map(({ address }) => address)).toEqual(['/footage/f/found']);
    cleanup();
    inStudio(null, { footage: halt });
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Find subjects' }).disabled).toBe(true);
  });

  test('says how far it is, and that the motion comes first; it can be stopped', async () => {
    const { store } = inStudio(null, { finding: job('queued'), analysing: job('running', { id: 'm', progress: 0.7 }) });
    await press('Find subjects');
    expect(sent).toEqual([]);
    expect(screen.getByText('First how the rig moved')).toBeTruthy();
    expect(screen.getByText(/70 %/)).toBeTruthy();
    await press('Cancel');
    expect(sent.map(({ address }) => address)).toEqual(['/jobs/j']);
    expect(store.getState().offering).toBe(false);
    cleanup();
    inStudio(null, { finding: job('running') });
    await press('Find subjects');
    expect(screen.getByText('Looking')).toBeTruthy();
    expect(screen.getByText(/40 %/)).toBeTruthy();
  });

  test('that failed says why', async () => {
    inStudio(null, { finding: job('failed', { error: 'The proxy could not be read.' }) });
    await press('Find subjects');
    expect(screen.getByText('The proxy could not be read.')).toBeTruthy();
  });
});
