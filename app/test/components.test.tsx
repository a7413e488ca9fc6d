/**
 * @jest-environment ./app/test/support/browser.mjs
 *
 * Parts of the interface by themselves: what people see, read out and can do by key.
 */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { act, cleanup, fireEvent, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState, type ReactNode } from 'react';
import { createRoutesStub } from 'react-router';
import { viewKeysOf } from '@glimbo/core/path/edit';
import { startHistory } from '@glimbo/core/document/history';
import { newTake } from '@glimbo/core/take/take';
import type { Footage } from '~/model/footage';
import type { Job } from '~/model/job';
import type { StudioWork } from '~/model/studio';
import { ClipForm } from '../studio/export/ClipForm';
import { TakeExports } from '../studio/export/TakeExports';
import { Bead } from '../studio/axes/Bead';
import { Keyframes } from '../studio/path/Keyframes';
import { LANES, laneOf } from '../studio/score/lane-list';
import { LaneSwitch, SweepSwitch } from '../studio/score/LaneSwitch';
import { LevelMarks } from '../studio/score/LevelMarks';
import { Marks } from '../studio/score/Marks';
import { createStudio, StudioContext, type StudioStore } from '../studio/state/store';
import { WorkContext } from '../studio/state/work';
import { Choice } from '../ui/Choice';
import { Dial, NumberField } from '../ui/Dial';
import { happened, jobEvents } from '../ui/job-events';
import { JobProgress } from '../ui/JobProgress';
import { Progress } from '../ui/Progress';
import { Select } from '../ui/Select';
import { facts } from './world';

afterEach(cleanup);
beforeEach(() => jobEvents.setState({ byId: {} }));

const footage = {
  id: 'f',
  facts: facts({ duration: 10, frames: 300 }),
  sphereWidth: 2880,
  marks: [{ id: 'm', time: 2, name: 'Whistle' }],
  ranges: [{ id: 'r', in: 3, out: 5 }],
  gathered: null,
  motion: null,
} as unknown as Footage;

function job(more: Partial<Job> = {}): Job {
  return {
    id: 'j',
    kind: 'export',
    state: 'running',
    progress: 0.25,
    attempts: 1,
    error: null,
    params: { settings: { width: 1920, height: 1080, codec: 'h264' } },
    result: null,
    footageId: 'f',
    takeId: 't',
    priority: 0,
    created: 1,
    started: 1,
    ended: null,
    ...more,
  };
}
const event = (more: object) =>
  act(() =>
    happened({
      id: 'j',
      kind: 'export',
      state: 'running',
      progress: 0.5,
      left: 30,
      error: null,
      footageId: 'f',
      ...more,
    }),
  );

/** A part of the Studio with all that it stands in, and what it sends. */
function inStudio(part: ReactNode, work: Partial<StudioWork> = {}) {
  const store = createStudio(footage, startHistory(newTake('a.mp4', 10)), {});
  const sent: Record<string, unknown>[] = [];
  const take = async ({ request }: { request: Request }) => {
    sent.push({ to: new URL(request.url).pathname, ...Object.fromEntries(await request.formData()) });
    return {};
  };
  const Stub = createRoutesStub([
    {
      path: '/studio/:takeId',
      Component: () => (
        <StudioContext.Provider value={store}>
          <WorkContext.Provider
            value={{
              footage,
              exports: [],
              ratios: {},
              gathering: null,
              analysing: null,
              subjects: [],
              following: [],
              found: null,
              finding: null,
              sidecar: false,
              ...work,
            }}
          >
            {part}
          </WorkContext.Provider>
        </StudioContext.Provider>
      ),
    },
    { path: '/exports', action: take, Component: () => null },
    { path: '/jobs/:jobId', action: take, Component: () => null },
  ]);
  render(<Stub initialEntries={['/studio/t']} />);
  return { store, sent, user: userEvent.setup() };
}

describe('a number field', () => {
  function Field({ onCommit = () => {} }: { onCommit?: (v: number) => void }) {
    const [value, set] = useState(5);
    return (
      <NumberField
        label="Width"
        value={value}
        min={0}
        max={10}
        unit=" s"
        onCommit={(v) => {
          set(v);
          onCommit(v);
        }}
      />
    );
  }
  const field = () => screen.getByRole('textbox', { name: 'Width' }) as HTMLInputElement;

  test('takes what is typed on Enter, with a comma too', async () => {
    const commit = jest.fn<(v: number) => void>();
    render(<Field onCommit={commit} />);
    const user = userEvent.setup();
    await user.clear(field());
    await user.type(field(), '7,5{Enter}');
    expect(commit.mock.calls).toEqual([[7.5]]);
    expect(field().value).toBe('7.5 s');
  });

  test.each(['12', 'abc', '-1', ''])('comes back from %j, and says that it cannot be', async (text) => {
    const commit = jest.fn<(v: number) => void>();
    render(<Field onCommit={commit} />);
    const user = userEvent.setup();
    await user.clear(field());
    if (text) await user.type(field(), text);
    expect(field().getAttribute('aria-invalid')).toBe('true');
    await user.tab();
    expect(commit).not.toHaveBeenCalled();
    expect(field().value).toBe('5.0 s');
  });

  test('Escape drops what was typed; arrows step and stop at the ends', async () => {
    const commit = jest.fn<(v: number) => void>();
    render(<Field onCommit={commit} />);
    const user = userEvent.setup();
    await user.type(field(), '9{Escape}');
    expect(commit).not.toHaveBeenCalled();
    await user.type(field(), '{ArrowUp}{Shift>}{ArrowDown}{/Shift}');
    expect(commit.mock.calls.map(([v]) => Number(v.toFixed(6)))).toEqual([5.1, 4.1]);
  });
});

describe('small parts', () => {
  test('a dial is a named slider that resets and ends its gesture', async () => {
    const [change, end] = [jest.fn<(v: number) => void>(), jest.fn<() => void>()];
    render(
      <Dial name="Pan" value={20} min={-180} max={180} step={1} unit="°" reset={0} onChange={change} onEnd={end} />,
    );
    const slider = screen.getByRole('slider', { name: 'Pan' });
    expect(slider.getAttribute('aria-valuenow')).toBe('20');
    fireEvent.keyDown(slider, { key: 'ArrowRight' });
    expect(change).toHaveBeenLastCalledWith(21);
    await userEvent.setup().click(screen.getByRole('button', { name: 'Reset pan' }));
    expect(change).toHaveBeenLastCalledWith(0);
    expect(end).toHaveBeenCalled();
  });

  test('a choice and a select give what was chosen, and a choice is never taken back', async () => {
    const chosen: string[] = [];
    const options = [
      ['a', 'One'],
      ['b', 'Two'],
    ] as const;
    const onChange = (v: string) => void chosen.push(v);
    render(
      <>
        <Choice label="Which" value="a" options={options} onChange={onChange} />
        <Select label="Other" value="a" options={options} onChange={onChange} />
      </>,
    );
    const user = userEvent.setup();
    await user.click(screen.getByRole('radio', { name: 'Two' }));
    await user.click(screen.getByRole('radio', { name: 'One' }));
    await user.selectOptions(screen.getByRole('combobox', { name: 'Other' }), 'b');
    expect(chosen).toEqual(['b', 'b']);
  });

  test('progress is read out with its name', () => {
    render(<Progress label="Proxy of Ridge" share={0.426} />);
    const bar = screen.getByRole('progressbar', { name: 'Proxy of Ridge' });
    expect(bar.getAttribute('aria-valuenow')).toBe('43');
  });

  test('a bead says what it is, is selected on focus, and moves by the arrow keys', () => {
    const [select, step, end] = [
      jest.fn<(how: string) => void>(),
      jest.fn<(a: number, d: number) => void>(),
      jest.fn<() => void>(),
    ];
    render(
      <svg>
        <Bead
          x={1}
          y={2}
          ease="hold"
          selected={false}
          label="Keyframe 1"
          value="at 0:01.00"
          onSelect={select}
          onDrag={() => {}}
          onStep={step}
          onEnd={end}
        />
      </svg>,
    );
    const bead = screen.getByRole('button', { name: 'Keyframe 1, at 0:01.00' });
    fireEvent.focus(bead);
    expect(select).toHaveBeenCalledWith('only');
    fireEvent.keyDown(bead, { key: 'ArrowUp' });
    fireEvent.keyDown(bead, { key: 'ArrowRight', shiftKey: true });
    fireEvent.keyDown(bead, { key: 'ArrowLeft', ctrlKey: true });
    fireEvent.keyDown(bead, { key: 'x' });
    fireEvent.keyUp(bead, { key: 'ArrowRight' });
    expect(step.mock.calls).toEqual([
      [0, -1],
      [10, 0],
    ]);
    expect(end).toHaveBeenCalledTimes(1);
  });
});

describe('the keyframes', () => {
  const aimed = (store: StudioStore) =>
    act(() => {
      store.getState().dial({ pan: 10 });
      store.getState().setTime(4);
      store.getState().dial({ pan: 40 });
    });

  test('say how to begin, then list exact times, and go, retime, ease and remove by keyboard', async () => {
    const { store, user } = inStudio(<Keyframes />);
    expect(screen.getByText(/Go to a moment and aim/)).toBeTruthy();
    aimed(store);
    await user.click(screen.getByRole('button', { name: 'Go to keyframe 1' }));
    expect(store.getState().time).toBe(0);
    const time = screen.getByRole('textbox', { name: 'Time of keyframe 2' });
    await user.clear(time);
    await user.type(time, '5{Enter}');
    expect(viewKeysOf(store.getState().take().path).map((k) => k.time)).toEqual([0, 5]);
    await user.selectOptions(screen.getByRole('combobox', { name: 'What leaves keyframe 1' }), 'whip');
    expect(viewKeysOf(store.getState().take().path)[0]!.ease).toBe('whip');
    await user.click(screen.getByRole('button', { name: 'Remove the keyframe' }));
    expect(viewKeysOf(store.getState().take().path).map((k) => k.time)).toEqual([0]);
    await user.click(screen.getByRole('button', { name: /^Set/ }));
    expect(viewKeysOf(store.getState().take().path).map((k) => k.time)).toEqual([0, 5]);
  });
});

describe('the Score', () => {
  const axis = { height: 400, y: (t: number) => 40 * t, timeAt: (py: number) => py / 40 };

  test('has every lane once, and shows the one that is chosen', async () => {
    const { store, user } = inStudio(
      <>
        <LaneSwitch />
        <SweepSwitch />
      </>,
    );
    expect(new Set(LANES.map((l) => l.id)).size).toBe(LANES.length);
    await user.click(screen.getByRole('button', { name: 'Fov, field of view' }));
    expect(store.getState().lanes).toEqual(['tilt', 'fov']);
    await user.click(screen.getByRole('button', { name: 'Tilt' }));
    await user.click(screen.getByRole('button', { name: 'Fov, field of view' }));
    // The last one stays.
    expect(store.getState().lanes).toEqual(['fov']);
    await user.click(screen.getByRole('radio', { name: 'Activity' }));
    expect(store.getState().sweepReading).toBe('activity');
    expect(laneOf('one of a later version').id).toBe('tilt');
  });

  test.each(LANES.map((l) => [l.name, l] as const))(
    'draws the lane %s without footage that is gathered',
    (_, { Draw }) => {
      const { store } = inStudio(
        <svg>
          <Draw {...axis} />
        </svg>,
      );
      act(() => store.getState().dial({ tilt: 5 }));
      expect(document.querySelector('svg')!.childNodes.length).toBeGreaterThan(0);
    },
  );

  test('marks go to their moment by Enter and by Space', () => {
    const { store } = inStudio(
      <svg>
        <Marks {...axis} width={300} />
      </svg>,
    );
    const mark = screen.getByRole('button', { name: 'Mark Whistle at 0:02.00' });
    fireEvent.keyDown(mark, { key: ' ' });
    expect(store.getState().time).toBe(2);
    act(() => store.getState().setTime(7));
    fireEvent.keyDown(mark, { key: 'Enter' });
    expect(store.getState().time).toBe(2);
  });

  test('level keys are moved in time by the arrow keys', () => {
    const { store } = inStudio(
      <svg>
        <LevelMarks {...axis} />
      </svg>,
    );
    act(() => store.getState().correct({ level: { keys: [{ time: 2, up: [0.1, 0.995, 0] }] } }));
    fireEvent.keyDown(screen.getByRole('button', { name: /Level key at 0:02\.00/ }), {
      key: 'ArrowDown',
      shiftKey: true,
    });
    expect(store.getState().take().level!.keys[0]!.time).toBeCloseTo(2 + 10 / 30, 6);
    fireEvent.keyDown(screen.getByRole('button', { name: /Level key/ }), { key: 'Enter' });
    expect(store.getState().time).toBeCloseTo(2 + 10 / 30, 6);
  });
});

describe('the Export station', () => {
  test('sends what was chosen, and offers no amount where the codec has none', async () => {
    const { sent, user } = inStudio(<ClipForm />);
    expect(screen.getByTestId('estimate').textContent).toMatch(/^about/);
    await user.selectOptions(screen.getByRole('combobox', { name: 'Codec' }), 'prores');
    expect(screen.queryByRole('combobox', { name: 'Quality or bit rate' })).toBeNull();
    await user.selectOptions(screen.getByRole('combobox', { name: 'Codec' }), 'h265');
    await user.selectOptions(screen.getByRole('combobox', { name: 'Quality or bit rate' }), 'bitRate');
    expect(screen.getByTestId('estimate').textContent).not.toMatch(/about/);
    await user.selectOptions(screen.getByRole('combobox', { name: 'Before and after' }), 'beside');
    await user.click(screen.getByRole('button', { name: 'Export clip' }));
    await screen.findByRole('button', { name: 'Export clip' });
    expect(sent).toHaveLength(1);
    expect(sent[0]).toMatchObject({ to: '/exports', intent: 'export', takeId: 't' });
    const [{ settings }] = JSON.parse(String(sent[0]!.clips)) as [{ settings: object }];
    expect(settings).toEqual({
      width: 3840,
      height: 1080,
      compare: 'beside',
      rate: 30,
      codec: 'h265',
      bitRate: 18e6,
    });
  });

  test('the whole sphere has its own size, and nothing to compare', async () => {
    const { user } = inStudio(<ClipForm />);
    await user.selectOptions(screen.getByRole('combobox', { name: 'What is exported' }), 'sphere');
    expect(screen.getByText('2880 × 1440')).toBeTruthy();
    expect(screen.queryByRole('combobox', { name: 'Before and after' })).toBeNull();
  });

  test('waits until the take is saved', () => {
    const { store } = inStudio(<ClipForm />);
    act(() => store.getState().setSaveState({ kind: 'saving' }));
    expect((screen.getByRole('button', { name: 'Export clip' }) as HTMLButtonElement).disabled).toBe(true);
  });

  test('lists the exports of the take as they go on', async () => {
    const { sent, user } = inStudio(<TakeExports />, {
      exports: [job(), job({ id: 'k', state: 'failed', error: 'No room.' })],
    });
    expect(screen.getByText('No room.')).toBeTruthy();
    event({ progress: 0.5, left: 30 });
    expect(screen.getByText('50 %, 30 s left')).toBeTruthy();
    expect(screen.getByRole('progressbar').getAttribute('aria-valuenow')).toBe('50');
    await user.click(screen.getByRole('button', { name: 'Cancel' }));
    expect(sent).toEqual([{ to: '/jobs/j', intent: 'cancel' }]);
    event({ state: 'done', progress: 1, left: null });
    expect((screen.getByRole('link', { name: 'Download' }) as HTMLAnchorElement).href).toMatch(
      /\/media\/exports\/j\?download$/,
    );
  });
});

describe('a job in a row', () => {
  const row = (j: Job) => {
    const Stub = createRoutesStub([{ path: '/', Component: () => <JobProgress job={j} name="Copying" /> }]);
    render(<Stub />);
  };

  test('counts, ends, and says what went wrong', () => {
    row(job({ kind: 'copy', state: 'queued', progress: 0 }));
    expect(screen.getByText('waiting')).toBeTruthy();
    event({ kind: 'copy', progress: 0.1, left: 100 });
    expect(screen.getByText('10 % 2 min left')).toBeTruthy();
    expect(screen.queryByRole('status')).toBeNull();
    event({ kind: 'copy', state: 'failed', error: 'The card is gone.' });
    expect(screen.getByRole('status').textContent).toBe('The card is gone.');
    expect(within(screen.getByTestId('job')).getByRole('button', { name: 'Try again' })).toBeTruthy();
  });

  test('only what happens to it draws it anew', () => {
    let drawn = 0;
    function Counted() {
      drawn++;
      return null;
    }
    const Stub = createRoutesStub([
      {
        path: '/',
        Component: () => (
          <>
            <JobProgress job={job()} name="One" />
            <Counted />
          </>
        ),
      },
    ]);
    render(<Stub />);
    const before = drawn;
    event({ progress: 0.9 });
    event({ id: 'another', progress: 0.9 });
    expect(drawn).toBe(before);
    expect(screen.getByText(/90 %/)).toBeTruthy();
  });
});
