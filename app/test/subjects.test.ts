/** Subjects: pointing out, renaming, deleting and bringing back; the job that follows them; what becomes of their files. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { existsSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { RouterContextProvider } from 'react-router';
import { resolved } from '@glimbo/cli/place';
import type { Task } from '@glimbo/cli/task';
import { allowed, facts, openWorld } from './world';

const { db, config, end } = await openWorld();
const { addFootage, findFootage, sourceOf } = await import('../db/footage');
const { seenAs } = await import('../db/analyses');
const subjects = await import('../db/subjects');
const { jobsOf, findJob } = await import('../db/jobs');
const { KINDS } = await import('../jobs/kinds');
const { layout, onDisk } = await import('../base/layout');
const { unowned } = await import('../server/reconcile');
const { deletedBefore, purge } = await import('../server/upkeep');
const { action } = await import('../routes/subjects');
const { loader } = await import('../routes/subject');
const { loader: picture } = await import('../routes/subject-picture');
afterAll(end);

let footage: string;
let seen: string;
beforeAll(async () => {
  const file = join(allowed, 'halt.mp4');
  footage = await addFootage({ name: 'Halt', file, inPlace: true, variableRate: false, facts: facts() });
  await db('footage')
    .where({ id: footage })
    .update({ gathered: JSON.stringify({ proxy: { width: 1920, height: 960 } }) });
  seen = seenAs((await findFootage(footage))!.fingerprint, await sourceOf(footage));
});

/** What the action answers: its status and what it says. */
async function ask(body: object, footageId = footage): Promise<{ status: number; body: Record<string, unknown> }> {
  const request = new Request('http://127.0.0.1/', {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  });
  const args = { request, params: { footageId }, context: new RouterContextProvider() };
  const answer: unknown = await action(args as never);
  if (answer instanceof Response)
    return { status: answer.status, body: (await answer.json()) as Record<string, unknown> };
  const { data, init } = answer as { data?: Record<string, unknown>; init?: { status?: number } };
  return { status: init?.status ?? 200, body: data ?? (answer as Record<string, unknown>) };
}

const loaderArguments = (subjectId: string, job?: string) => {
  const request = new Request(`http://127.0.0.1/${job ? `?job=${job}` : ''}`);
  return { params: { subjectId }, request } as never;
};

const AHEAD = { intent: 'add', frame: 3, direction: [0, 0, 2] };
const listed = () => subjects.listSubjects(footage, seen);

describe('a subject', () => {
  test('is pointed out, which begins following it', async () => {
    const { status, body } = await ask(AHEAD);
    expect(status).toBe(200);
    expect(await listed()).toEqual([
      {
        id: body.id,
        name: 'Subject 1',
        tint: 'plum',
        pointed: { frame: 3, direction: [0, 0, 1] },
        keys: [3],
        version: 0,
        void: false,
      },
    ]);
    expect(subjects.orderOf((await subjects.findSubject(body.id as string))!)).toEqual({
      frame: 3,
      direction: [0, 0, 1],
    });
    const [job] = await jobsOf({ kind: 'follow', footageId: footage });
    expect(job).toMatchObject({ id: body.job, params: { subject: body.id } });
  });

  test.each([
    ['a direction that is none', { ...AHEAD, direction: [0, 0, 0] }],
    ['a direction that is missing', { intent: 'add', frame: 3 }],
    ['a frame after the end', { ...AHEAD, frame: 99_999 }],
    ['an intent that is not known', { intent: 'paint' }],
    ['a size out of range', { ...AHEAD, size: 400 }],
    ['an outline larger than the sphere', { ...AHEAD, width: 20, height: 400 }],
    ['a colour that there is not', { ...AHEAD, tint: 'red' }],
    ['a subject that is not there', { intent: 'rename', id: 'nobody', name: 'x' }],
  ])('%s is refused with a sentence, and nothing is begun', async (_, body) => {
    const before = (await listed()).length;
    const { status, body: said } = await ask(body);
    expect(status).toBeGreaterThanOrEqual(400);
    expect(said.problem).toMatch(/\.$/);
    expect((await listed()).length).toBe(before);
  });

  test('is renamed, deleted and brought back; of another footage it is nobody', async () => {
    const { id } = (await listed())[0]!;
    await ask({ intent: 'rename', id, name: '  Driver ' });
    await ask({ intent: 'rename', id, name: ' ' });
    expect((await listed())[0]!.name).toBe('Driver');
    await ask({ intent: 'tint', id, tint: 'sky' });
    expect((await listed())[0]!.tint).toBe('sky');
    await ask({ intent: 'delete', id });
    expect(await listed()).toEqual([]);
    await ask({ intent: 'restore', id });
    expect((await listed())[0]!.name).toBe('Driver');
    const other = await addFootage({
      name: 'B',
      file: join(allowed, 'b.mp4'),
      inPlace: true,
      variableRate: false,
      facts: facts(),
    });
    expect((await ask({ intent: 'delete', id }, other)).status).toBe(404);
    expect((await ask({ intent: 'delete', id }, 'gone')).status).toBe(404);
  });

  test('that was followed is handed out; it is void when the picture is another one', async () => {
    const { id } = (await listed())[0]!;
    const args = loaderArguments(id);
    expect((await loader(args)).status).toBe(404);
    expect((await picture(args)).status).toBe(404);
    const [job] = await jobsOf({ kind: 'follow', footageId: footage });
    const task = await KINDS.follow.prepare((await findJob(job!.id))!);
    expect(task).toMatchObject({
      kind: 'follow',
      order: { frame: 3 },
      motion: null,
      out: layout.subject(`${id}.json`),
    });
    const { part, out, picture: portrait } = resolved<Task>(task!, onDisk) as Task & { kind: 'follow' };
    writeFileSync(part, '{"growing":true}');
    const growing = await loader(loaderArguments(id, job!.id));
    expect(await growing.json()).toEqual({ growing: true });
    expect(growing.headers.get('cache-control')).toBe('no-store');
    // Only what that work finds of that subject.
    for (const other of ['nobody', '../../secret']) expect((await loader(loaderArguments(id, other))).status).toBe(404);
    expect((await loader(loaderArguments('another', job!.id))).status).toBe(404);
    writeFileSync(out, '{"format":"glimbo-subject"}');
    writeFileSync(portrait, 'a picture');
    expect(await (await picture(args)).text()).toBe('a picture');
    expect((await picture(args)).headers.get('content-type')).toBe('image/jpeg');
    await KINDS.follow.accept!(job!, { seen: 3 }, task!);
    await KINDS.follow.clean(job!, 'done');
    expect(existsSync(part)).toBe(false);
    expect((await loader(loaderArguments(id, job!.id))).status).toBe(404);
    expect(await (await loader(args)).json()).toEqual({ format: 'glimbo-subject' });
    expect((await listed())[0]).toMatchObject({ version: 1, void: false });
    expect((await subjects.listSubjects(footage, 'another picture'))[0]!.void).toBe(true);
  });

  test('is put right in a frame: that is a key of its order, and only about it it is followed anew', async () => {
    const { id } = (await listed())[0]!;
    const [up, right] = [
      [0, 1, 0],
      [1, 0, 0],
    ];
    for (const direction of [up, right])
      expect((await ask({ intent: 'correct', id, frame: 40, direction })).status).toBe(200);
    expect((await listed())[0]!.keys).toEqual([3, 40]);
    const keysOf = async () => subjects.orderOf((await subjects.findSubject(id))!).keys;
    expect(await keysOf()).toEqual([{ frame: 40, direction: [1, 0, 0] }]);
    // An outline drawn round it goes with where it is.
    await ask({ intent: 'correct', id, frame: 40, direction: right, width: 4, height: 11 });
    expect(await keysOf()).toEqual([{ frame: 40, direction: [1, 0, 0], size: { width: 4, height: 11 } }]);
    const asked = (await jobsOf({ kind: 'follow', footageId: footage })).find((j) => j.params.around === 40);
    expect(await KINDS.follow.prepare(asked!)).toMatchObject({ around: 40, order: { keys: [{ frame: 40 }] } });
    expect((await ask({ intent: 'correct', id, frame: 99_999, direction: [1, 0, 0] })).status).toBe(400);
    await ask({ intent: 'correct', id, frame: 3, direction: [0, 0, -1] });
    expect(subjects.orderOf((await subjects.findSubject(id))!)).toMatchObject({ frame: 3, direction: [0, 0, -1] });
  });

  test('that never was found is pointed out anew: what was said of it before goes', async () => {
    const { body } = await ask({ ...AHEAD, name: 'Sky' });
    const id = body.id as string;
    await ask({ intent: 'correct', id, frame: 7, direction: [1, 0, 0] });
    expect(subjects.orderOf((await subjects.findSubject(id))!)).toEqual({ frame: 7, direction: [1, 0, 0] });
    const asked = (await jobsOf({ kind: 'follow', footageId: footage })).filter((j) => j.params.subject === id);
    expect(asked.map((j) => j.params.around)).toEqual([undefined, undefined]);
    await ask({ intent: 'delete', id });
  });

  test('keeps its file as long as it is there, deleted or not; with the footage it goes', async () => {
    writeFileSync(join(config.subjects, 'nobodys.json'), '{}');
    expect(await unowned()).toContainEqual({ folder: 'subjects', name: 'nobodys.json' });
    const { id } = (await listed())[0]!;
    await ask({ intent: 'delete', id });
    expect(await unowned()).not.toContainEqual({ folder: 'subjects', name: `${id}.json` });
    await db('footage').where({ id: footage }).update({ deleted: 1 });
    await purge(await deletedBefore(2));
    expect(existsSync(join(config.subjects, `${id}.json`))).toBe(false);
    expect(await subjects.subjectIds(footage)).toEqual([]);
  });
});
