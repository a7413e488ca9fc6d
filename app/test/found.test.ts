/** Finding subjects: asked for, done after how the rig moved, handed out; and what is done first for following. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { RouterContextProvider } from 'react-router';
import { allowed, facts, openWorld } from './world';

const { db, end } = await openWorld();
const { addFootage, findFootage } = await import('../db/footage');
const { addJob, unfinishedJobs, updateJob, WHEN_IDLE } = await import('../db/jobs');
const { KINDS } = await import('../jobs/kinds');
const { motionFirst } = await import('../jobs/motion-first');
const { layout, onDisk } = await import('../base/layout');
const { action, loader } = await import('../routes/found');
afterAll(end);

const gather = (id: string) =>
  db('footage')
    .where({ id })
    .update({ gathered: JSON.stringify({ proxy: { width: 1920, height: 960 } }) });

let footage: string;
beforeAll(async () => {
  const file = join(allowed, 'halt.mp4');
  footage = await addFootage({ name: 'Halt', file, inPlace: true, variableRate: false, facts: facts() });
});

async function find(footageId = footage): Promise<Record<string, unknown>> {
  const request = new Request('http://127.0.0.1/', { method: 'POST', body: '{}' });
  const answer: unknown = await action({
    request,
    params: { footageId },
    context: new RouterContextProvider(),
  } as never);
  if (answer instanceof Response) return (await answer.json()) as Record<string, unknown>;
  return ((answer as { data?: object }).data ?? answer) as Record<string, unknown>;
}
const waiting = async () => (await unfinishedJobs(footage)).map(({ kind, priority }) => `${kind} ${priority}`);

describe('finding subjects', () => {
  test('is refused with a sentence as long as there is no proxy, and for footage that is gone', async () => {
    expect((await find()).problem).toMatch(/The proxy is not made yet\./);
    expect((await find('nobody')).problem).toMatch(/gone from the Library\./);
    expect(await waiting()).toEqual([]);
  });

  test('comes after how the rig moved; what waited for an idle moment is done now', async () => {
    await gather(footage);
    const later = { footageId: footage, takeId: null, priority: WHEN_IDLE };
    await addJob({ kind: 'motion', params: { method: 'quick', use: 'no' }, ...later });
    await addJob({ kind: 'find', params: {}, ...later });
    const { id } = await find();
    expect(await waiting()).toEqual(['motion 0', 'find 0']);
    const [motion, job] = await unfinishedJobs(footage);
    expect(job!.id).toBe(id);
    expect(await KINDS.find.prepare(job!)).toMatchObject({ kind: 'find', motion: null, out: layout.found(footage) });
    // Pressed once more it is one piece of work, and what runs already is not begun again.
    await updateJob(motion!.id, { state: 'running' });
    await find();
    expect(await waiting()).toEqual(['motion 0', 'find 0']);
    await db('jobs').delete();
  });

  test('needs nothing before it where the motion is known, though it be void', async () => {
    await db('analyses').insert({
      ...{ id: 'a', footage_id: footage, kind: 'motion', parameters: '{}', file: 'm.json', seen: 'else' },
      created: 1,
    });
    await motionFirst((await findFootage(footage))!);
    expect(await waiting()).toEqual([]);
    await db('analyses').delete();
  });

  test('what was found is handed out as it was written', async () => {
    const found = () => loader({ params: { footageId: footage } } as never);
    expect((await found()).status).toBe(404);
    const file = onDisk(layout.found(footage));
    mkdirSync(dirname(file), { recursive: true });
    writeFileSync(file, '{"format":"glimbo-moving"}');
    expect(await (await found()).json()).toEqual({ format: 'glimbo-moving' });
    expect((await loader({ params: { footageId: 'nobody' } } as never)).status).toBe(404);
  });
});
