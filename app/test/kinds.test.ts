/** What each kind of long work takes over and clears up; purging; stills; pictures that are asked for. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { existsSync, mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { newTake } from '@glimbo/core/take/take';
import type { Examined } from '@glimbo/cli/task';
import type { Doubt } from '@glimbo/media/probe';
import { waitingWords } from '../ui/export-words';
import { exportParams, allowed, facts, openWorld } from './world';

const { db, config, end } = await openWorld();
const footageRows = await import('../db/footage');
const jobs = await import('../db/jobs');
const { KINDS } = await import('../jobs/kinds');
const { queue } = await import('../queue/queue');
const { copiesOf } = await import('../jobs/copy');
const { ask } = await import('../queue/ask');
const { deletedBefore, purge, purgeDue, missingOriginals } = await import('../server/upkeep');
const { unowned } = await import('../server/reconcile');
const { newStill } = await import('../server/stills');
const { takeInPlace } = await import('../gathering/in-place');
const { startTake } = await import('../gathering/start-take');
const { findTakeRecord, listTakes, setTakeDeleted } = await import('../db/takes');
const { sidecarOf } = await import('../gathering/sidecar');
const { layout, onDisk } = await import('../base/layout');
const { isWhole, proxyFile, reachOf } = await import('../model/footage');

// Started and stopped: what is put into the queue here stays there.
beforeAll(async () => {
  await queue().start();
  await queue().stop();
});
afterAll(end);

const state = async (id: string) => (await jobs.findJob(id))?.state;
const addFootage = (more: Partial<Parameters<typeof footageRows.addFootage>[0]> = {}) =>
  footageRows.addFootage({
    name: 'Pond',
    file: `/nowhere/${Math.random()}.mp4`,
    inPlace: true,
    variableRate: false,
    facts: facts(),
    ...more,
  });

describe('looking through a folder', () => {
  const found = (name: string, doubts: Doubt[] = []): Examined => ({
    files: [join(allowed, name)],
    mark: `mark of ${name}`,
    facts: facts(),
    source: { kind: 'sphere' },
    doubts,
  });

  test('takes in what is found as it is found, and keeps what has to be told', async () => {
    const id = await jobs.addJob({
      kind: 'examine',
      params: { recordings: [], prefix: 'Sunday ' },
      footageId: null,
      takeId: null,
    });
    const job = (await jobs.findJob(id))!;
    const take = (part: Examined) => KINDS.examine.take!(job, part);
    await take(found('one.mp4'));
    await take(found('two.mp4', [{ kind: 'not-2:1', sentence: 'two.mp4 is square.' }]));
    await take({ files: [join(allowed, 'three.mp4')], mark: '', problem: 'three.mp4 is empty.' });
    await take({ files: [join(allowed, 'four-a.mp4'), join(allowed, 'four-b.mp4')], mark: '', pair: 'A pair?' });
    const { result } = (await jobs.findJob(id))!;
    expect(result).toMatchObject({
      added: 1,
      results: [
        { doubts: [{ sentence: 'two.mp4 is square.' }], path: join(allowed, 'two.mp4') },
        { problem: 'three.mp4 is empty. Nothing was added.' },
        { pair: 'A pair?', name: 'Sunday four' },
      ],
    });
    const added = (await footageRows.findFootageByFile(join(allowed, 'one.mp4')))!;
    expect(added).toMatchObject({ name: 'Sunday one', inPlace: true });

    // Begun again after a crash, what it took in before counts as its own.
    await KINDS.examine.clean(job, 'again');
    const again = (await jobs.findJob(id))!;
    expect(again.result).toMatchObject({ added: 1 });
    await KINDS.examine.prepare(again);
    await KINDS.examine.take!(again, found('one.mp4'));
    expect((await jobs.findJob(id))!.result).toMatchObject({ added: 1, results: [] });
    await KINDS.examine.clean(job, 'over');
    await jobs.updateJob(id, { state: 'cancelled' });
  });

  test('content that is in the Library is not taken in twice; what was deleted comes back', async () => {
    const id = await addFootage({ name: 'Known', fingerprint: 'the mark' });
    const again = { ...found('known.mp4'), mark: 'the mark' };
    expect(await takeInPlace(again, '')).toEqual({ known: 'Known' });
    await footageRows.remark(id, { deleted: Date.now() });
    expect(await takeInPlace(again, '')).toEqual({ known: expect.stringMatching(/was deleted and is back now/) });
    expect((await footageRows.findFootage(id))!.deleted).toBeNull();
  });
});

describe('gathering', () => {
  const made = (ready?: number) => ({
    proxy: { width: 1920, height: 960, frames: 120 },
    ...(ready ? { ready } : {}),
    thumbnails: { count: 4, interval: 1 },
    sweep: { rows: 120, framesPerRow: 1, tiles: 1 },
    sound: false,
    source: { kind: 'sphere' as const },
  });
  const begin = async () => {
    const footageId = await addFootage();
    const id = await jobs.addJob({ kind: 'gather', params: {}, footageId, takeId: null, priority: 99 });
    const part = join(config.footage, `${footageId}.part`);
    mkdirSync(part);
    return { footageId, part, job: (await jobs.findJob(id))! };
  };
  afterAll(() => db('jobs').where({ kind: 'gather' }).update({ state: 'cancelled' }));

  test('shows what is there so far, goes on with it after a crash, and is whole in the end', async () => {
    const { footageId, part, job } = await begin();
    const found = async () => (await footageRows.findFootage(footageId))!;
    const task = (await KINDS.gather.prepare(job))!;
    expect(task).toMatchObject({ kind: 'gather', growing: true });
    expect([isWhole(await found()), reachOf(await found())]).toEqual([false, 0]);
    for (const [i, ready] of [30, 75].entries()) {
      expect(await KINDS.gather.take!(job, made(ready))).toBeNull();
      const now = await found();
      expect([isWhole(now), reachOf(now), proxyFile(now.gathered!), now.version]).toEqual([
        false,
        ready / 30,
        `proxy-${ready}.mp4`,
        i + 1,
      ]);
    }
    await KINDS.gather.clean(job, 'again');
    expect([existsSync(part), reachOf(await found())]).toEqual([true, 2.5]);
    await KINDS.gather.accept!(job, made(), task);
    expect([isWhole(await found()), reachOf(await found()), proxyFile((await found()).gathered!)]).toEqual([
      true,
      4,
      'proxy.mp4',
    ]);
    // Made anew later, what is whole serves until the new one is.
    mkdirSync(join(config.footage, footageId));
    expect(await KINDS.gather.prepare(job)).toMatchObject({ growing: false });
    await KINDS.gather.clean(job, 'over');
    expect(isWhole(await found())).toBe(true);
    rmSync(join(config.footage, footageId), { recursive: true });
  });

  test('that is given up leaves nothing', async () => {
    const { footageId, part, job } = await begin();
    await KINDS.gather.take!(job, made(30));
    await KINDS.gather.clean(job, 'over');
    expect([existsSync(part), (await footageRows.findFootage(footageId))!.gathered]).toEqual([false, null]);
  });
});

describe('copies from a card', () => {
  const item = { id: 'copy-0001', name: 'Carry', files: ['carry_a.mp4', 'carry_b.mp4'] };
  const params = { card: allowed, recordings: [item], tags: [] };
  const job = async () =>
    (await jobs.findJob(await jobs.addJob({ kind: 'copy', params, footageId: null, takeId: null, priority: 99 })))!;

  test('of which the second file never came leave nothing when it is over, and stay while it goes on', async () => {
    const [first, second] = copiesOf(item).map(onDisk);
    writeFileSync(first!, 'whole');
    writeFileSync(`${second!}.part`, 'half');
    const copying = await job();
    await KINDS.copy.clean(copying, 'again');
    expect([existsSync(first!), existsSync(`${second!}.part`)]).toEqual([true, false]);
    await KINDS.copy.clean(copying, 'over');
    expect(readdirSync(config.originals)).toEqual([]);
  });

  test('bring the companion along, which goes with its footage', async () => {
    const [first, , companion] = copiesOf({ ...item, companion: 'carry.low.mp4' }).map(onDisk);
    expect(companion).toBe(join(config.originals, 'copy-0001.low.mp4'));
    for (const file of [first!, companion!]) writeFileSync(file, 'whole');
    const footageId = await addFootage({ file: first!, inPlace: false });
    expect((await unowned()).map((f) => f.name)).not.toContain('copy-0001.low.mp4');
    await footageRows.remark(footageId, { deleted: 1 });
    await purge(await deletedBefore(2));
    expect(readdirSync(config.originals)).toEqual([]);
  });

  test('that are footage stay whatever becomes of the job', async () => {
    const [first, second] = copiesOf(item).map(onDisk);
    for (const file of [first!, second!]) writeFileSync(file, 'whole');
    await addFootage({ file: first!, secondFile: second!, inPlace: false });
    await KINDS.copy.clean(await job(), 'over');
    expect(readdirSync(config.originals)).toHaveLength(2);
    await db('jobs').where({ kind: 'copy' }).update({ state: 'cancelled' });
  });
});

test('removing for good ends what is being made of it, and leaves originals that are used where they lie', async () => {
  const lying = join(allowed, 'lying.mp4');
  writeFileSync(lying, 'original');
  const copied = join(config.originals, 'copied.mp4');
  writeFileSync(copied, 'copy');
  const kept = await addFootage({ name: 'Kept' });
  const [inPlace, own] = [await addFootage({ file: lying }), await addFootage({ file: copied, inPlace: false })];
  for (const id of [inPlace, own]) {
    mkdirSync(join(config.footage, id));
    writeFileSync(onDisk(layout.sidecar(id)), 'sidecar');
    await startTake(id);
    await footageRows.remark(id, { deleted: Date.now() });
  }
  const making = await jobs.addJob({ kind: 'gather', params: {}, footageId: own, takeId: null });
  await purge(await deletedBefore(Infinity));
  expect(await jobs.findJob(making)).toBeNull();
  expect([existsSync(lying), existsSync(copied)]).toEqual([true, false]);
  expect(readdirSync(config.footage)).toEqual([]);
  expect(readdirSync(config.motions)).toEqual([]);
  expect((await listTakes()).filter((t) => [inPlace, own].includes(t.footageId))).toEqual([]);
  expect(await footageRows.findFootage(kept)).not.toBeNull();
});

test('first cuts ordered again, in another format, are made again; after a crash what was made is not made twice', async () => {
  const ids = [await addFootage({ name: 'A' }), await addFootage({ name: 'B' })];
  const order = async (aspect: string) =>
    (await jobs.findJob(
      await jobs.addJob({
        kind: 'sketch',
        params: { footage: ids, aspect, lively: 0.5, cuts: 2 },
        footageId: null,
        takeId: null,
      }),
    ))!;
  const sketched = (id: string) => ({ id, sketch: { from: 0, to: 2, path: newTake('a.mp4', 4).path } }) as never;
  for (const aspect of ['16:9', '9:16']) {
    const job = await order(aspect);
    await KINDS.sketch.take!(job, sketched(ids[0]!));
    // A crash: it begins anew.
    for (const id of ids) await KINDS.sketch.take!(job, sketched(id));
    await jobs.deleteJob(job.id);
  }
  const made = (await listTakes()).filter((t) => ids.includes(t.footageId));
  expect(made.map((t) => t.name).sort()).toEqual(['First cut', 'First cut', 'First cut 2', 'First cut 2']);
});

test('a clock that is ahead at one start costs nothing; what stays due goes', async () => {
  const DAY = 24 * 3600e3;
  const now = Date.now();
  const id = await addFootage({ name: 'Deleted a minute ago' });
  const takeId = (await startTake(id))!;
  await footageRows.remark(id, { deleted: now - 60e3 });
  await setTakeDeleted(takeId, now - 60e3);
  const there = async () => [!!(await footageRows.findFootage(id)), !!(await findTakeRecord(takeId))];
  for (const time of [now + 31 * DAY, now + 60e3, now + 38 * DAY, now + 120e3]) {
    await purgeDue(time);
    expect(await there()).toEqual([true, true]);
  }
  for (const day of [31, 34]) await purgeDue(now + day * DAY);
  expect(await there()).toEqual([true, true]);
  await purgeDue(now + 38.5 * DAY);
  expect(await there()).toEqual([false, false]);
});

test('originals that are not where they were are named; a sidecar beside one counts', async () => {
  const here = join(allowed, 'here.mp4');
  writeFileSync(here, 'x');
  writeFileSync(join(allowed, 'here.motion.csv'), 'time');
  const [there, gone] = [await addFootage({ file: here }), await addFootage({ file: join(allowed, 'gone.mp4') })];
  const all = await footageRows.listFootage();
  const missing = await missingOriginals(all);
  expect(missing).toContain(gone);
  expect(missing).not.toContain(there);
  expect(sidecarOf((await footageRows.findFootage(there))!)).toEqual(layout.disk(join(allowed, 'here.motion.csv')));
  expect(sidecarOf((await footageRows.findFootage(gone))!)).toBeNull();
});

test('of stills only the latest few are kept', async () => {
  for (let i = 0; i < 60; i++) writeFileSync(onDisk((await newStill()).file), 'x');
  expect(readdirSync(config.stills).length).toBeLessThanOrEqual(42);
});

describe('work that somebody waits for', () => {
  test('gives its answer, or a sentence, and leaves nothing', async () => {
    const task = (behave: string) => ({ kind: 'recognise', files: [], streams: 1, behave }) as never;
    expect(await ask(task('well'))).toMatchObject({ ok: true });
    await expect(ask(task('fails'))).rejects.toThrow('It does not work.');
    await expect(ask(task('dies'))).rejects.toThrow(/broken off/);
    const stop = new AbortController();
    const asked = ask(task('hangs'), stop.signal);
    setTimeout(() => stop.abort(), 400);
    await expect(asked).rejects.toThrow(/broken off/);
    // More than can be done at once are done after each other.
    const many = await Promise.all(Array.from({ length: 5 }, () => ask(task('well'))));
    expect(many).toHaveLength(5);
    expect(readdirSync(config.work)).toEqual([]);
  });
});

test('a queue that was stopped begins nothing, whatever is asked for', async () => {
  const footage = await addFootage();
  const params = exportParams();
  const waits = await queue().add({ kind: 'export', params, footageId: footage, takeId: null });
  await new Promise((resolve) => setTimeout(resolve, 150));
  expect(await state(waits)).toBe('queued');
});

test('exports that wait are told in the order in which they are begun', async () => {
  const footageId = await addFootage();
  const add = () => queue().add({ kind: 'export', params: exportParams(), footageId, takeId: null });
  await db('jobs').where({ kind: 'export' }).update({ state: 'cancelled' });
  const [first, second, third] = [await add(), await add(), await add()];
  expect(await jobs.waitingInOrder('export')).toEqual([first, second, third]);
  await queue().ahead(third);
  expect(await jobs.waitingInOrder('export')).toEqual([third, first, second]);
  await queue().cancel(third);
  expect(await jobs.waitingInOrder('export')).toHaveLength(2);
  expect([waitingWords(0), waitingWords(1), waitingWords(2)]).toEqual([
    'waiting, next',
    'waiting, after 1 other',
    'waiting, after 2 others',
  ]);
});
