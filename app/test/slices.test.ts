/** The slices of the Studio's state: time that is zoomed, footage that is met again, what is selected; and asking the server. */
import { afterEach, describe, expect, jest, test } from '@jest/globals';
import { selectedTimes } from '@glimbo/core/path/keys';
import { startHistory } from '@glimbo/core/document/history';
import { newTake } from '@glimbo/core/take/take';
import type { Footage } from '~/model/footage';
import { createStudio, shownBeforeAfter } from '../studio/state/store';
import { sendFields, sendJson, stopJob } from '../ui/send';
import { facts } from './world';

const footage = {
  id: 'f',
  version: 1,
  facts: facts({ duration: 10, frames: 300 }),
  marks: [{ id: 'm', time: 1, name: 'One' }],
  ranges: [],
  gathered: null,
  motion: null,
} as unknown as Footage;
const studio = () => createStudio(footage, startHistory(newTake('a.mp4', 10)), {});

describe('the time in sight', () => {
  test('is zoomed about a moment, which stays where it was', () => {
    const s = studio();
    s.getState().zoomTime(0.5, 4);
    expect(s.getState().span).toEqual({ from: 2, to: 7 });
    s.getState().zoomTime(2, 4);
    expect(s.getState().span).toEqual({ from: 0, to: 10 });
  });

  test('is about the playhead when nothing is said, never less than some frames nor more than there is', () => {
    const s = studio();
    s.getState().setTime(9);
    s.getState().zoomTime(0.5);
    expect(s.getState().span).toEqual({ from: 4.5, to: 9.5 });
    for (let i = 0; i < 20; i++) s.getState().zoomTime(0.5);
    const { from, to } = s.getState().span;
    expect(to - from).toBeCloseTo(8 / 30, 9);
    expect(from <= 9 && to >= 9).toBe(true);
    for (let i = 0; i < 20; i++) s.getState().zoomTime(2);
    expect(s.getState().span).toEqual({ from: 0, to: 10 });
  });
});

describe('footage that is met again', () => {
  test('with a new proxy is taken over, but for marks that were set here since', () => {
    const s = studio();
    s.getState().setRemarks({ marks: [], ranges: [] });
    s.getState().meetFootage({ ...footage, version: 2, name: 'Another name' });
    expect(s.getState().footage).toMatchObject({ version: 2, name: 'Another name', marks: [] });
  });

  test('with another analysis has that, and nothing else is drawn anew', () => {
    const s = studio();
    const motion = { file: 'm.json', method: 'quick', seen: '', void: false, sidecar: null };
    s.getState().meetFootage({ ...footage, motion });
    expect(s.getState().footage.motion).toEqual(motion);
    const before = s.getState().footage;
    s.getState().meetFootage({ ...footage, motion: { ...motion } });
    expect(s.getState().footage).toBe(before);
    s.getState().meetFootage({ ...footage, motion: { ...motion, void: true } });
    expect(s.getState().footage.motion!.void).toBe(true);
  });
});

describe('a selection', () => {
  test('follows what is aimed, and lets go', () => {
    const s = studio();
    s.getState().dial({ pan: 3 });
    s.getState().setTime(4);
    s.getState().dial({ pan: 9 });
    expect(selectedTimes(s.getState().take().path, s.getState().selection)).toEqual([4]);
    s.getState().selectView(0);
    expect(selectedTimes(s.getState().take().path, s.getState().selection)).toEqual([0]);
    s.getState().deselect();
    expect(s.getState().selection.size).toBe(0);
  });
});

test('before and after stand in the Frame at the Level station alone', () => {
  const s = studio();
  s.getState().showBeforeAfter('beside');
  expect(shownBeforeAfter(s.getState())).toBe('after');
  s.getState().goTo('level');
  expect(shownBeforeAfter(s.getState())).toBe('beside');
});

describe('asking the server', () => {
  const asked = jest.fn<typeof fetch>();
  const real = globalThis.fetch;
  afterEach(() => {
    asked.mockReset();
    globalThis.fetch = real;
  });
  const answers = (answer: Response | Error) => {
    asked.mockImplementation(async () => {
      if (answer instanceof Error) throw answer;
      return answer;
    });
    globalThis.fetch = asked;
  };

  test('gives what is answered, also a refusal in words', async () => {
    answers(Response.json({ id: '7' }));
    expect(await sendJson<{ id: string }>('/x', { a: 1 })).toEqual({ id: '7' });
    const [, request] = asked.mock.calls[0]!;
    expect([request!.method, request!.body]).toEqual(['POST', '{"a":1}']);
    answers(Response.json({ problem: 'No room.' }, { status: 507 }));
    expect(await sendFields('/x', { a: '1' })).toEqual({ problem: 'No room.' });
  });

  test.each([new TypeError('fetch failed'), new Response('<html>', { status: 502 })])(
    'is a sentence when there is no answer that can be read',
    async (answer) => {
      answers(answer);
      expect((await stopJob('j')).problem).toMatch(/did not answer. Nothing was changed/);
    },
  );

  test('that was broken off rejects', async () => {
    answers(new TypeError('aborted'));
    const stop = new AbortController();
    stop.abort();
    await expect(sendJson('/x', {}, stop.signal)).rejects.toThrow(/abort/i);
  });
});
