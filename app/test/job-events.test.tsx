/**
 * @jest-environment ./app/test/support/browser.mjs
 *
 * One stream of job events for a page: what is loaded again, and when.
 */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { act, cleanup, render } from '@testing-library/react';
import { createRoutesStub } from 'react-router';
import type { JobEvent } from '~/model/job';
import { happened, isTurn, jobEvents, liveJob, useJobEvents } from '../ui/job-events';

class Stream {
  static readonly OPEN = 1;
  static open: Stream[] = [];
  readyState = 0;
  onmessage?: (m: { data: string }) => void;
  onerror?: () => void;
  onopen?: () => void;
  closed = false;
  constructor(readonly address: string) {
    Stream.open.push(this);
  }
  close() {
    this.closed = true;
  }
}
globalThis.EventSource = Stream as unknown as typeof EventSource;
afterEach(cleanup);
beforeEach(() => {
  Stream.open = [];
  jobEvents.setState({ byId: {} });
});

const event = (more: Partial<JobEvent> = {}): JobEvent => ({
  id: 'j',
  kind: 'export',
  state: 'running',
  progress: 0.5,
  left: null,
  error: null,
  footageId: 'f',
  ...more,
});

describe('a job as it is now', () => {
  const loaded = { id: 'j', state: 'queued' as const, progress: 0, error: null };
  test('is what was loaded until something is heard', () => {
    expect(liveJob(null, undefined)).toBeNull();
    expect(liveJob(loaded, undefined)).toMatchObject({ state: 'queued', progress: 0, going: true });
    expect(liveJob(loaded, event({ left: 12, picture: 3 }))).toMatchObject({ progress: 0.5, left: 12, picture: 3 });
    expect(liveJob({ ...loaded, state: 'failed', error: 'No.' }, undefined)).toMatchObject({
      going: false,
      error: 'No.',
    });
  });
  test('that was loaded as ended is not set back by what was heard before the connection was lost', () => {
    const done = { ...loaded, state: 'done' as const, progress: 1 };
    expect(liveJob(done, event())).toMatchObject({ state: 'done', progress: 1, going: false });
    const failed = { ...loaded, state: 'failed' as const, error: 'No room.' };
    expect(liveJob(failed, event({ left: 3 }))).toMatchObject({ state: 'failed', error: 'No room.', left: null });
    expect(liveJob(done, event({ state: 'removed' }))).toMatchObject({ state: 'removed', going: false });
  });
  test('turns when it begins, ends or goes, not with every step', () => {
    expect(isTurn(event({ state: 'queued' }), undefined)).toBe(true);
    expect(isTurn(event(), undefined)).toBe(true);
    expect(isTurn(event({ progress: 0.6 }), event())).toBe(false);
    expect(isTurn(event({ state: 'done' }), event())).toBe(true);
    expect(isTurn(event({ parts: 1 }), event())).toBe(true);
    expect(isTurn(event({ parts: 1, progress: 0.7 }), event({ parts: 1 }))).toBe(false);
    expect(isTurn(event({ state: 'removed' }), event({ state: 'done' }))).toBe(true);
  });
});

describe('a page', () => {
  function open(concerns: (e: JobEvent) => boolean) {
    const loader = jest.fn(() => ({}));
    const Page = () => {
      useJobEvents(concerns);
      return null;
    };
    const Stub = createRoutesStub([{ path: '/', loader, Component: Page, HydrateFallback: () => null }]);
    const page = render(<Stub />);
    return { loader, page };
  }
  const settled = () => act(async () => void (await new Promise((r) => setTimeout(r, 20))));
  const concerns = (e: JobEvent) => e.footageId === 'f';

  test('is loaded again when something becomes of a job that concerns it', async () => {
    const { loader } = open(concerns);
    await settled();
    const before = loader.mock.calls.length;
    const hear = (e: JobEvent) => act(() => Stream.open[0]!.onmessage!({ data: JSON.stringify(e) }));
    hear(event());
    await settled();
    expect(loader.mock.calls.length).toBe(before + 1);
    hear(event({ progress: 0.7 }));
    hear(event({ id: 'k', footageId: 'another', state: 'done' }));
    await settled();
    expect(loader.mock.calls.length).toBe(before + 1);
    hear(event({ state: 'done', progress: 1 }));
    await settled();
    expect(loader.mock.calls.length).toBe(before + 2);
  });

  test('is loaded again once the stream is there: what became of jobs since it was loaded may have been missed', async () => {
    const first = open(concerns);
    await settled();
    const [stream] = Stream.open;
    const before = first.loader.mock.calls.length;
    stream!.readyState = Stream.OPEN;
    act(() => stream!.onopen!());
    await settled();
    expect(first.loader.mock.calls.length).toBe(before + 1);
    // A page that finds the stream open has no such moment ahead.
    const second = open(concerns);
    await settled();
    expect(second.loader.mock.calls.length).toBe(2);
    expect(first.loader.mock.calls.length).toBe(before + 1);
  });

  test('is loaded again once after a lost connection, however often that was tried', async () => {
    const { loader } = open(concerns);
    await settled();
    const [stream] = Stream.open;
    act(() => stream!.onopen!());
    await settled();
    const before = loader.mock.calls.length;
    act(() => {
      stream!.onerror?.();
      stream!.onerror?.();
      stream!.onopen!();
    });
    await settled();
    expect(loader.mock.calls.length).toBe(before + 1);
  });

  test('shares its stream, and the last to leave closes it', async () => {
    const one = open(concerns);
    const two = open(() => false);
    await settled();
    expect(Stream.open.map((s) => s.address)).toEqual(['/events']);
    one.page.unmount();
    expect(Stream.open[0]!.closed).toBe(false);
    two.page.unmount();
    expect(Stream.open[0]!.closed).toBe(true);
    happened(event());
  });
});
