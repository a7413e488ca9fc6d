/**
 * What every queue must hold to, however it is made: who shares its jobs with whom, jobs end once, and leave nothing. It is run
 * in a world (world.ts) whose engine does as a job's `behave` says.
 */
import { expect, test } from '@jest/globals';
import { existsSync } from 'node:fs';
import type { Queue } from '../queue/queue';
import { until } from './world';

export interface Contract {
  /** Another queue over the same jobs, not started yet. */
  another: () => Queue;
  /** The job as it is known now; null once it is gone. */
  job: (
    id: string,
  ) => Promise<{ state: string; attempts: number; error: string | null; started: number | null } | null>;
  /** Adds an export that behaves in some way. */
  add: (queue: Queue, behave: string, more?: { priority?: number; footage?: string }) => Promise<string>;
  /** A footage of its own. */
  footage: () => Promise<string>;
  /** What a job makes. */
  made: (id: string) => string;
  /** How many things lie about that are half done. */
  left: () => number;
}

/** Tests of a queue that must be the only one that works when they are run. */
export function keepsTheContract({ another, job, add, footage, made, left }: Contract) {
  const state = async (id: string) => (await job(id))?.state;
  const ended = (id: string, as: string) => until(async () => (await state(id)) === as);

  async function working(count: number, test: (queues: Queue[]) => Promise<void>) {
    const queues = Array.from({ length: count }, another);
    for (const queue of queues) await queue.start();
    try {
      await test(queues);
    } finally {
      for (const queue of queues) await queue.stop();
    }
  }

  test('a queue does a job to its end, and forgets it with what it made', () =>
    working(1, async ([queue]) => {
      const id = await add(queue!, 'well');
      await ended(id, 'done');
      expect([existsSync(made(id)), left()]).toEqual([true, 0]);
      await queue!.remove(id);
      expect([await job(id), existsSync(made(id))]).toEqual([null, false]);
    }));

  test('a queue that was stopped leaves its job to the next', async () => {
    const [first, second] = [another(), another()];
    await first.start();
    const id = await add(first, 'hangs');
    await until(async () => (await state(id)) === 'running');
    await first.stop();
    expect(await state(id)).toBe('running');
    await second.start();
    await until(async () => (await job(id))!.attempts === 2);
    await second.cancel(id);
    expect([await state(id), left()]).toEqual(['cancelled', 0]);
    await second.stop();
  });

  test('two queues share their jobs: each is done once, the more urgent first', () =>
    working(2, async ([one, two]) => {
      const busy = [await add(one!, 'hangs'), await add(one!, 'hangs')];
      await until(async () => (await Promise.all(busy.map(state))).every((s) => s === 'running'));
      const later = await add(one!, 'well', { priority: 5 });
      const sooner = await add(two!, 'well');
      const many = await Promise.all(Array.from({ length: 6 }, () => add(two!, 'well', { priority: 6 })));
      // Either may be asked to cancel what the other does.
      await Promise.all([...busy.map((id) => one!.cancel(id)), ...busy.map((id) => two!.cancel(id))]);
      for (const id of [...busy]) await ended(id, 'cancelled');
      for (const id of [sooner, later, ...many]) await ended(id, 'done');
      for (const id of [sooner, later, ...many]) expect((await job(id))!.attempts).toBe(1);
      expect((await job(sooner))!.started!).toBeLessThanOrEqual((await job(later))!.started!);
      expect(left()).toBe(0);
    }));

  test('what waits is begun in its order, which can be changed', () =>
    working(1, async ([queue]) => {
      const busy = await add(queue!, 'hangs');
      const [first, second, third] = [await add(queue!, 'well'), await add(queue!, 'well'), await add(queue!, 'well')];
      await queue!.ahead(third);
      await queue!.ahead(second);
      await queue!.cancel(busy);
      for (const id of [first, second, third]) await ended(id, 'done');
      const started = async (id: string) => (await job(id))!.started!;
      expect(await started(second)).toBeLessThan(await started(third));
      expect(await started(third)).toBeLessThan(await started(first));
    }));

  test('what fails says why, and can be done once more; what waits can be cancelled, all of a footage at once', () =>
    working(1, async ([queue]) => {
      const failed = await add(queue!, 'fails');
      await ended(failed, 'failed');
      expect((await job(failed))!.error).toBe('It does not work.');
      const own = await footage();
      const blocker = await add(queue!, 'hangs', { footage: own });
      const [waits, other] = [await add(queue!, 'well', { footage: own }), await add(queue!, 'well')];
      await queue!.cancelOf(own);
      expect([await state(blocker), await state(waits)]).toEqual(['cancelled', 'cancelled']);
      await ended(other, 'done');
      expect(left()).toBe(0);
    }));
}
