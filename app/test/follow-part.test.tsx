/**
 * @jest-environment ./app/test/support/browser.mjs
 *
 * The Follow part: subjects with what is known of them, and the rules by which the take follows.
 */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { act, cleanup, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { createRoutesStub } from 'react-router';
import { USUAL_RULE } from '@glimbo/core/follow/rule';
import type { SubjectLook, SubjectTrack } from '@glimbo/core/follow/subject';
import { RADIANS } from '@glimbo/core/geometry/rotation';
import { directionOf } from '@glimbo/core/geometry/sphere';
import { cutHere, lookoutsAllRound, showingOf, withCuts } from '@glimbo/core/edit/lookouts';
import { startHistory } from '@glimbo/core/document/history';
import { newTake } from '@glimbo/core/take/take';
import { readTake } from '@glimbo/core/take/validate';
import type { Footage } from '~/model/footage';
import type { Job } from '~/model/job';
import type { StudioWork } from '~/model/studio';
import type { Subject } from '~/model/subject';
import { FollowPart } from '../studio/follow/FollowPart';
import { GrowingTracks } from '../studio/follow/GrowingTracks';
import { PointOutInFrame, PointOutOnMap } from '../studio/follow/PointOut';
import { pointOut } from '../studio/follow/subjects';
import { happened } from '../ui/job-events';
import { createStudio, StudioContext, type StudioStore } from '../studio/state/store';
import { contextIn } from '../studio/state/seen-slice';
import { WorkContext } from '../studio/state/work';
import { halt } from './support/halt';
import { subject } from './support/tracks';

const driver = subject();

/** Going round to the right at 30° a second, out of sight from the fourth to the sixth second. */
const track: SubjectTrack = {
  format: 'glimbo-subject',
  version: 2,
  rate: 10,
  looks: Array.from({ length: 100 }, (_, n): SubjectLook => {
    const [x, y, z] = directionOf(3 * n, 10);
    return [x, y, z, 12, 12, n >= 40 && n < 60 ? 0.1 : 1];
  }),
};

let sent: { address: string; body: Record<string, unknown> }[] = [];
beforeEach(() => {
  localStorage.clear();
  sent = [];
  globalThis.fetch = jest.fn((address: string, request?: RequestInit) => {
    sent.push({ address, body: request?.body ? (JSON.parse(String(request.body)) as Record<string, unknown>) : {} });
    return Promise.resolve(Response.json({}));
  }) as never;
});
afterEach(cleanup);

/** The footage with its proxy. */
const gathered = { ...halt, gathered: { proxy: { width: 1920, height: 960, frames: 300 } } as never };

function inStudio(subjects: Subject[], known = true, following: Partial<Job>[] = [], footage: Footage = gathered) {
  const store = createStudio(halt, startHistory(newTake('a.mp4', 10)), { station: 'path' });
  store.getState().knowSubjects(subjects);
  if (known) for (const { id, version } of subjects) store.getState().knowTrack(id, { version, track });
  const work = { footage, subjects, following } as never as StudioWork;
  const Stub = createRoutesStub([
    {
      path: '/',
      Component: () => (
        <StudioContext.Provider value={store}>
          <WorkContext.Provider value={work}>
            <GrowingTracks />
            <FollowPart />
            <PointOutInFrame width={800} height={400} />
            <PointOutOnMap width={720} height={360} />
          </WorkContext.Provider>
        </StudioContext.Provider>
      ),
    },
  ]);
  render(<Stub />);
  const follows = () => {
    const now = store.getState().take();
    readTake(structuredClone(now));
    return now.follows;
  };
  return { store, follows, user: userEvent.setup() };
}

/** Points something out by pressing, or by drawing through points of the Frame or the Map. */
async function drawIn(store: StudioStore, testId: string, points: readonly (readonly [number, number])[]) {
  act(() => store.getState().pointOutSubject('new'));
  const pad = screen.getByTestId(testId);
  Object.assign(pad, { setPointerCapture: () => undefined });
  for (const [i, [clientX, clientY]] of points.entries())
    act(
      () =>
        void pad.dispatchEvent(new MouseEvent(i ? 'pointermove' : 'pointerdown', { bubbles: true, clientX, clientY })),
    );
  expect(screen.queryByTestId('outline-drawn')).not.toBeNull();
  await act(async () => {
    pad.dispatchEvent(new MouseEvent('pointerup', { bubbles: true }));
    await Promise.resolve();
  });
}

async function type(user: ReturnType<typeof userEvent.setup>, name: string, value: string) {
  const field = screen.getByRole('textbox', { name });
  await user.clear(field);
  await user.type(field, `${value}{Enter}`);
}

describe('subjects', () => {
  test('none yet: what to do is said; pressing the button waits for a press in the picture', async () => {
    const { store, user } = inStudio([]);
    expect(screen.getByText(/Point it out where it is seen well/)).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Point a subject out' }));
    expect(store.getState().pointingOut).toBe('new');
    expect(screen.getByRole('status').textContent).toContain('in the Frame, on the Map');
    act(() => store.getState().setTime(2));
    await act(() => pointOut(store, { direction: directionOf(90, 0) }));
    expect(sent).toHaveLength(1);
    expect(sent[0]!.address).toBe('/footage/f/subjects');
    expect(sent[0]!.body).toMatchObject({ intent: 'outline', frame: 60 });
    expect((sent[0]!.body.direction as number[])[0]).toBeCloseTo(1, 9);
  });

  test('the outline of a press is drawn before it is followed, and taken, refused or drawn better', async () => {
    const { store, user } = inStudio([]);
    const found = { direction: directionOf(88, 1), width: 7, height: 15 };
    let answer: object = found;
    globalThis.fetch = jest.fn((address: string, request: RequestInit) => {
      sent.push({ address, body: JSON.parse(String(request.body)) as Record<string, unknown> });
      return Promise.resolve(Response.json(answer));
    }) as never;
    const press = async () => {
      act(() => store.getState().pointOutSubject('new'));
      await act(() => pointOut(store, { direction: directionOf(90, 0) }));
    };
    await press();
    expect(screen.getByRole('status').textContent).toContain('Is this its outline, 7 × 15°?');
    await user.click(screen.getByRole('button', { name: 'No' }));
    expect(store.getState()).toMatchObject({ proposed: null, pointingOut: 'new' });
    expect(sent.map(({ body }) => body.intent)).toEqual(['outline']);
    await press();
    await user.click(screen.getByRole('button', { name: 'Yes, track it' }));
    expect(sent.at(-1)!.body).toEqual({ intent: 'add', frame: 0, ...found });
    expect(store.getState()).toMatchObject({ proposed: null, pointingOut: 'nothing' });
    // Bare ground: it is told, and somebody may go on pointing.
    answer = { problem: 'Nothing stands out there.' };
    await press();
    expect(store.getState()).toMatchObject({ proposed: null, pointingOut: 'new' });
    // Of two presses the later one is shown, whichever is answered first; one that comes too late is not.
    const answers: ((box: object) => void)[] = [];
    globalThis.fetch = jest.fn(() => new Promise((ready) => answers.push((box) => ready(Response.json(box))))) as never;
    act(() => store.getState().pointOutSubject('new'));
    const presses = [90, 60].map((heading) => {
      let press = Promise.resolve();
      act(() => void (press = pointOut(store, { direction: directionOf(heading, 0) })));
      return press;
    });
    await act(async () => {
      answers[0]!(found);
      await presses[0];
    });
    expect(store.getState().proposed).toEqual({ asked: 0 });
    await act(async () => {
      answers[1]!({ ...found, width: 9 });
      await presses[1];
    });
    expect(store.getState().proposed).toMatchObject({ width: 9 });
    act(() => store.getState().pointOutSubject('new'));
    let late = Promise.resolve();
    act(() => void (late = pointOut(store, { direction: directionOf(90, 0) })));
    expect(store.getState().proposed).toEqual({ asked: 0 });
    act(() => store.getState().pointOutSubject('nothing'));
    await act(async () => {
      answers[2]!(found);
      await late;
    });
    expect(store.getState().proposed).toBeNull();
  });

  test('an outline drawn round it in the Frame says where and how large it is; a press says only where', async () => {
    const { store } = inStudio([]);
    act(() => store.getState().dial({ pan: 90, tilt: 0, fov: 80, bend: 0 }));
    const draw = (...points: (readonly [number, number])[]) => drawIn(store, 'point-out-in-frame', points);
    await draw([300, 150], [500, 150], [500, 250], [300, 250]);
    const { width, height, direction } = sent.at(-1)!.body as { width: number; height: number; direction: number[] };
    expect(direction[0]).toBeCloseTo(1, 6);
    // As wide as it is drawn, twice as wide as high.
    expect(Math.tan((width / 2) * RADIANS) / Math.tan((height / 2) * RADIANS)).toBeCloseTo(2, 4);
    expect(store.getState().pointingOut).toBe('nothing');
    await draw([400, 200], [402, 201]);
    expect(sent.at(-1)!.body).toMatchObject({ intent: 'outline' });
    expect(sent.at(-1)!.body).not.toHaveProperty('width');
  });

  test('an outline can be drawn on the Map, also over its edge, and in the part of the Frame that is pressed', async () => {
    const { store } = inStudio([]);
    await drawIn(store, 'point-out-on-map', [
      [700, 170],
      [740, 170],
      [740, 210],
      [700, 210],
    ]);
    const onMap = sent.at(-1)!.body as { width: number; height: number; direction: number[] };
    expect(onMap.direction[0]).toBeCloseTo(0, 3);
    expect(onMap.direction[2]).toBeCloseTo(-1, 1);
    expect(onMap.width).toBeGreaterThan(18);
    expect(onMap.width).toBeLessThan(22);
    act(() =>
      store
        .getState()
        .edit((take) =>
          withCuts({ ...take, lookouts: lookoutsAllRound() }, (cuts) => cutHere(cuts, 0, showingOf('four', 0, 4))),
        ),
    );
    // The upper right of four looks to the right.
    await drawIn(store, 'point-out-in-frame', [[600, 100]]);
    expect((sent.at(-1)!.body.direction as number[])[0]).toBeCloseTo(1, 6);
  });

  test('a line that leaves what the lens shows is no outline: it says so and nothing is sent', async () => {
    const { store } = inStudio([]);
    const before = sent.length;
    act(() => store.getState().dial({ fov: 300, bend: 1 }));
    await drawIn(store, 'point-out-in-frame', [
      [400, 200],
      [3, 3],
      [400, 300],
    ]);
    expect(sent).toHaveLength(before);
    expect(store.getState().pointingOut).toBe('new');
  });

  test('none is pointed out as long as the proxy is being made: that is said', () => {
    inStudio([], false, [], halt);
    expect((screen.getByRole('button', { name: 'Point a subject out' }) as HTMLButtonElement).disabled).toBe(true);
    expect(screen.getByText(/the proxy, which is still being made/)).toBeTruthy();
    expect(screen.queryByText(/Point it out where it is seen well/)).toBeNull();
  });

  test('one that went astray is put right by a press where it is', async () => {
    const { store, user } = inStudio([{ ...driver, keys: [0, 75] }]);
    await user.click(screen.getByRole('button', { name: 'Put right' }));
    expect(store.getState().pointingOut).toEqual({ subject: 's' });
    act(() => store.getState().setTime(5));
    await act(() => pointOut(store, { direction: directionOf(0, 0) }));
    expect(sent.at(-1)!.body).toMatchObject({ intent: 'correct', id: 's', frame: 150, direction: [0, 0, 1] });
    expect(store.getState().pointingOut).toBe('nothing');
    await user.click(screen.getByRole('button', { name: '0:02.50' }));
    expect(store.getState().time).toBe(2.5);
  });

  test('a Follow becomes keyframes, or turns the whole sphere', async () => {
    const { store, follows, user } = inStudio([driver]);
    await user.click(screen.getByRole('button', { name: 'Follow it' }));
    await user.click(screen.getByRole('button', { name: 'Ahead in the sphere' }));
    expect(store.getState().take().orientation?.turn?.pan).not.toHaveLength(0);
    act(() => store.getState().undo());
    await user.click(screen.getByRole('button', { name: 'To keyframes' }));
    expect(follows()).toBeUndefined();
    expect((store.getState().take().path.pan as object[]).length).toBeGreaterThan(1);
  });

  test('each has its picture and its colour; another colour is chosen from the list', async () => {
    const { user } = inStudio([driver, { ...driver, id: 'new', name: 'Stoker', tint: 'sky', version: 0 }]);
    // Only what was looked at has a picture.
    expect(screen.getAllByTestId('subject-picture').map((p) => p.getAttribute('src'))).toEqual([
      '/footage/f/subjects/s/picture?v=1',
    ]);
    expect(screen.getByRole('button', { name: 'Colour of Stoker: sky' })).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Colour of Driver: plum' }));
    expect(screen.getAllByRole('menuitemradio')).toHaveLength(8);
    await user.click(screen.getByRole('menuitemradio', { name: 'mint' }));
    expect(sent.at(-1)!.body).toEqual({ intent: 'tint', id: 's', tint: 'mint' });
  });

  test('where it was lost is a way there; a name is changed; void ones are tracked once more', async () => {
    const { store, user } = inStudio([driver, { ...driver, id: 'v', name: 'Stoker', void: true }]);
    expect(screen.getAllByText('Lost')).toHaveLength(2);
    await user.click(screen.getAllByRole('button', { name: /^0:04\.00–0:06\.00$/ })[0]!);
    expect(store.getState().time).toBe(4);
    await type(user, 'Name of Driver', 'Engine driver');
    await act(() => user.tab());
    expect(sent.map((s) => s.body)).toContainEqual({ intent: 'rename', id: 's', name: 'Engine driver' });
    expect(screen.getByText(/picture is another one since/)).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Track it' }));
    expect(sent.map((s) => s.body)).toContainEqual({ intent: 'again', id: 'v' });
  });

  test('while it is tracked it shows how far, and can be cancelled; a failure says why', async () => {
    const job = {
      id: 'j',
      kind: 'follow',
      state: 'running',
      progress: 0.4,
      error: null,
      params: { subject: 's' },
    } as const;
    const { user } = inStudio([driver], false, [job]);
    expect(screen.getByRole('progressbar', { name: 'Following Driver' })).toBeTruthy();
    expect(screen.getByText('40 %')).toBeTruthy();
    const stopped: string[] = [];
    globalThis.fetch = jest.fn((address: string) => {
      stopped.push(address);
      return Promise.resolve(Response.json({}));
    }) as never;
    await user.click(screen.getByRole('button', { name: 'Cancel' }));
    expect(stopped).toContain('/jobs/j');
    cleanup();
    inStudio([driver], false, [{ ...job, state: 'failed', error: 'It could not be read.' }]);
    expect(screen.getByText('It could not be read.')).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Track it' })).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'Put right' })).toBeNull();
    cleanup();
    // One that never was found is pointed out once more.
    const never = { ...driver, version: 0 };
    const { store } = inStudio([never], false, [{ ...job, state: 'failed', error: 'Nothing stands out there.' }]);
    await user.click(screen.getByRole('button', { name: 'Put right' }));
    expect(store.getState().pointingOut).toEqual({ subject: 's' });
  });
});

test('a track is known as far as it has come, until the work on it ends', async () => {
  const job = { id: 'j', kind: 'follow', state: 'running', progress: 0.1, error: null, params: { subject: 's' } };
  globalThis.fetch = jest.fn((address: string) => {
    expect(address).toBe('/footage/f/subjects/s?job=j');
    const looks = track.looks.map((look, n) => (n < 30 ? look : null));
    return Promise.resolve(Response.json({ ...track, looks }));
  }) as never;
  const { store } = inStudio([{ ...driver, version: 0 }], false, [job as never]);
  await waitFor(() => expect(store.getState().growing.get('s')?.looks.filter(Boolean)).toHaveLength(30));
  expect(store.getState().tracks.has('s')).toBe(false);
  const happens = (state: 'running' | 'done', progress: number) =>
    act(() => happened({ id: 'j', kind: 'follow', state, progress } as never));
  happens('running', 0.5);
  await waitFor(() => expect(globalThis.fetch).toHaveBeenCalledTimes(2));
  happens('done', 1);
  await waitFor(() => expect(store.getState().growing.size).toBe(0));
});

describe('the rules of a take', () => {
  test('following keeps the subject in the middle, from in to out, until it is told otherwise', async () => {
    const { store, follows, user } = inStudio([driver]);
    await user.click(screen.getByRole('button', { name: 'Follow it' }));
    expect(follows()).toEqual([{ ...USUAL_RULE, subject: 's.json', in: 0, out: 10 }]);
    act(() => store.getState().setTime(2));
    expect(contextIn(store.getState()).following).not.toBeNull();
    expect(store.getState().view().pan).toBeCloseTo(60, 0);
    expect(store.getState().view().tilt).toBeCloseTo(10, 0);
    await type(user, 'Place across value', '-50');
    await type(user, 'Softness value', '1.5');
    expect(follows()![0]).toMatchObject({ x: -0.5, soft: 1.5 });
    expect(store.getState().view().pan).toBeGreaterThan(75);
    await user.click(screen.getByRole('checkbox', { name: 'Keep its size by zooming' }));
    await type(user, 'Its height value', '30');
    expect(follows()![0]!.size).toBe(30);
    act(() => store.getState().undo());
    expect(follows()![0]!.size).toBe(40);
  });

  test('from here, to here, and out again; a later one lies over', async () => {
    const { store, follows, user } = inStudio([driver]);
    await user.click(screen.getByRole('button', { name: 'Follow it' }));
    act(() => store.getState().setTime(3));
    await user.click(screen.getByRole('button', { name: 'From here' }));
    act(() => store.getState().setTime(6));
    await user.click(screen.getByRole('button', { name: 'To here' }));
    expect(follows()![0]).toMatchObject({ in: 3, out: 6 });
    act(() => store.getState().setTime(2));
    await user.click(screen.getByRole('button', { name: 'To here' }));
    expect(follows()![0]).toMatchObject({ in: 3, out: 6 });
    expect(store.getState().view().pan).toBe(0);
    await user.click(screen.getByRole('button', { name: 'Follow it' }));
    expect(follows()).toHaveLength(2);
    await user.click(screen.getAllByRole('button', { name: 'Take this Follow of Driver out' })[0]!);
    await user.click(screen.getByRole('button', { name: 'Take this Follow of Driver out' }));
    expect(follows()).toBeUndefined();
    expect(store.getState().view().pan).toBe(0);
  });
});
