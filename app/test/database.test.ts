/** What is kept: migrations, saves from two tabs, remarks, and files that agree with rows after a kill. */
import { afterAll, describe, expect, test } from '@jest/globals';
import { existsSync, mkdirSync, readdirSync, symlinkSync, writeFileSync } from 'node:fs';
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { difference } from '@glimbo/core/document/change';
import { commit, HISTORY_LIMIT, HISTORY_SLACK, present, startHistory, undo } from '@glimbo/core/document/history';
import { whole } from '@glimbo/core/document/patch';
import { newTake } from '@glimbo/core/take/take';
import { allowed, facts, openWorld } from './world';

const { db, config, end } = await openWorld();
const footageRows = await import('../db/footage');
const takes = await import('../db/takes');
const jobs = await import('../db/jobs');
const { reconcile, unowned } = await import('../server/reconcile');
const { clearTemporary } = await import('../server/data-folder');
const { allowedPath } = await import('../gathering/allowed-path');
const { gatherPath } = await import('../gathering/in-place');
const { unfinishedUploads } = await import('../gathering/uploads');
const { startTake } = await import('../gathering/start-take');
const { exportPlace } = await import('../jobs/export');
const { onDisk } = await import('../base/layout');
const { replaceAnalysis } = await import('../db/analyses');
const { learnSize, sizeRatios } = await import('../db/sizes');
afterAll(end);

const addFootage = (more: Partial<Parameters<typeof footageRows.addFootage>[0]> = {}) =>
  footageRows.addFootage({
    name: 'Ridge',
    file: `/nowhere/${Math.random()}.mp4`,
    inPlace: true,
    variableRate: false,
    facts: facts(),
    ...more,
  });
const take = (n: number) => newTake(`${n}.mp4`, 4);
async function newTakeRow(footageId?: string) {
  const projectId = await takes.projectNamed('First project');
  return takes.addTake({ projectId, footageId: footageId ?? (await addFootage()), name: 'Take', document: take(0) });
}

/** Goes back until the last migration is the one of a name. */
async function backTo(name: string) {
  while ((await db.migrate.currentVersion()) !== name) await db.migrate.down();
}

describe('migrations', () => {
  test('go back and forth, and keep what was marked and analysed under older names', async () => {
    const id = await addFootage();
    await backTo('003-motion');
    await db('footage')
      .where({ id })
      .update({
        marks: JSON.stringify([{ time: 1, name: 'Here' }]),
        motion: JSON.stringify({ file: 'm.json', method: 'patches', seen: 'x', sidecar: null }),
      });
    await db('jobs').insert({
      id: 'j',
      kind: 'motion',
      state: 'done',
      params: '{"method":"points","use":"no"}',
      created: 1,
    });
    await db.migrate.latest();
    const found = (await footageRows.findFootage(id))!;
    expect(found.marks).toEqual([{ id: expect.any(String), time: 1, name: 'Here' }]);
    expect(found.motion).toMatchObject({ file: 'm.json', method: 'thorough', seen: 'x', void: true, sidecar: null });
    await backTo('004-safety');
    await db.migrate.latest();
    expect((await footageRows.findFootage(id))!.motion).toEqual(found.motion);
    expect((await jobs.findJob('j'))!.params.method).toBe('quick');
    await jobs.deleteJob('j');
  });
});

test('a history from before, whole in each step and with gaps, is kept and takes less room', async () => {
  const takeId = await newTakeRow();
  const keys = Array.from({ length: 500 }, (_, time) => ({ time: time / 200, value: 0 }));
  const steps = [2, 3, 7, 8].map((n) => ({
    ...take(0),
    path: { ...take(0).path, pan: keys.with(n, { time: n / 200, value: n }) },
  }));
  await backTo('008-tints');
  await db('take_steps').where({ take_id: takeId }).delete();
  for (const [i, position] of [2, 3, 7, 8].entries())
    await db('take_steps').insert({ take_id: takeId, position, document: JSON.stringify(steps[i]) });
  await db('takes').where({ id: takeId }).update({ at: 7 });
  await db.migrate.latest();
  expect((await takes.findTake(takeId))!.history).toEqual({ first: 0, steps, at: 2 });
  const lengths = (await db('take_steps').where({ take_id: takeId }).orderBy('position').pluck('document')) as string[];
  expect(lengths.slice(1).every((d) => d.length < 300)).toBe(true);
});

describe('saves', () => {
  const save = (id: string, revision: number, n = 1) => ({
    id,
    revision,
    change: { first: 0, keep: 1, at: 1, patches: [whole(take(n))] },
  });

  test('one that comes twice is applied once; one that comes late is told', async () => {
    const id = await newTakeRow();
    expect(await takes.saveTake(id, save('first', 1))).toEqual({ revision: 2 });
    expect(await takes.saveTake(id, save('first', 1))).toEqual({ revision: 2 });
    expect(await takes.saveTake(id, save('other', 1))).toEqual({ stale: 2, lastSave: 'first' });
    const { history, record } = (await takes.findTake(id))!;
    expect(history.steps).toEqual([take(0), take(1)]);
    expect(record).toMatchObject({ revision: 2, lastSave: 'first' });
  });

  test('to a take that was deleted, or is gone, changes nothing', async () => {
    const id = await newTakeRow();
    await takes.setTakeDeleted(id, 1);
    expect(await takes.saveTake(id, save('a-save', 1))).toBe('deleted');
    await takes.purgeTakes(await takes.deletedTakes(2));
    expect(await takes.saveTake(id, save('a-save', 1))).toBe('gone');
  });

  test('keep what a page makes of a history, undone, branched and long beyond the limit', async () => {
    const keys = Array.from({ length: 100 }, (_, time) => ({ time: time / 100, value: 0 }));
    const id = await newTakeRow();
    let known = (await takes.findTake(id))!.history;
    let now = commit(known, { ...take(0), path: { ...take(0).path, pan: keys } });
    let revision = 1;
    const keep = async () => {
      const change = difference(known, now);
      revision = ((await takes.saveTake(id, { id: `save-${revision}`, revision, change })) as { revision: number })
        .revision;
      known = now;
    };
    await keep();
    for (let n = 0; n < HISTORY_LIMIT + 2 * HISTORY_SLACK; n++) {
      const pan = keys.with(n % 100, { time: (n % 100) / 100, value: n });
      now = commit(now, { ...present(now), path: { ...present(now).path, pan } });
      if (n % 7 === 0) now = commit(undo(undo(now)), { ...present(now), reading: 24 + (n % 3) });
      if (n % 3 === 0) await keep();
    }
    now = undo(undo(now));
    await keep();
    const found = (await takes.findTake(id))!.history;
    expect(found).toEqual(now);
    expect(found.first).toBeGreaterThan(0);
    expect((await takes.presentTake(id))!.take).toEqual(present(now));
    // What is written is about as large as what was edited, not as the documents are.
    const { bytes } = (await db('take_steps')
      .where({ take_id: id })
      .first(db.raw('sum(length(document)) as bytes'))) as { bytes: number };
    const whole = JSON.stringify(present(now)).length;
    expect(bytes).toBeLessThan((found.steps.length / 10) * whole);
  });

  test('that count on steps that are not there, or whose steps are refused, change nothing', async () => {
    const id = await newTakeRow();
    const before = await takes.findTake(id);
    const change = { first: 0, keep: 5, at: 5, patches: [[]] };
    await expect(takes.saveTake(id, { id: 'a-save-1', revision: 1, change })).rejects.toThrow(/not there/);
    const refuse = () => {
      throw new Error('No.');
    };
    await expect(takes.saveTake(id, save('a-save-2', 1), refuse)).rejects.toThrow('No.');
    expect(await takes.findTake(id)).toEqual(before);
  });

  test('what is put on top is one step of undo, and the last of many drops the oldest', async () => {
    const id = await newTakeRow();
    for (let n = 1; n <= HISTORY_LIMIT + HISTORY_SLACK + 3; n++) await takes.putOnTop(id, take(n));
    const { history } = (await takes.findTake(id))!;
    expect([history.first + history.at, history.steps.length]).toEqual([
      HISTORY_LIMIT + HISTORY_SLACK + 3,
      HISTORY_LIMIT + 3,
    ]);
    expect(present(undo(history))).toEqual(take(HISTORY_LIMIT + HISTORY_SLACK + 2));
  });

  test('a whole history becomes a take of its own', async () => {
    const id = await newTakeRow();
    const { record } = (await takes.findTake(id))!;
    const history = commit(startHistory(take(1)), take(2));
    const made = await takes.addTake({ ...record, name: 'Mine', document: take(2), history });
    expect((await takes.findTake(made))!.history).toEqual(history);
  });
});

test('new takes of one footage are numbered', async () => {
  const id = await addFootage({ name: 'Halt' });
  const names: string[] = [];
  for (let i = 0; i < 3; i++) names.push((await takes.findTake((await startTake(id))!))!.record.name);
  expect(names).toEqual(['Halt, take 1', 'Halt, take 2', 'Halt, take 3']);
});

test('remarks from two tabs are all kept', async () => {
  const id = await addFootage();
  const mark = (name: string, time: number) =>
    footageRows.changeRemarks(id, { what: 'mark', mark: { id: name, time, name } });
  await Promise.all([mark('a', 1), mark('b', 2), mark('c', 0.5)]);
  expect((await footageRows.findFootage(id))!.marks.map((m) => m.id)).toEqual(['c', 'a', 'b']);
  expect(await footageRows.changeRemarks('none', { what: 'unmark', id: 'a' })).toBeNull();
});

test('what clips came out as is learned', async () => {
  const settings = { width: 2, height: 2, codec: 'h265' as const };
  await learnSize(settings, { seconds: 0.1, bytes: 900, estimate: 100 });
  expect(await sizeRatios()).toEqual({});
  await learnSize(settings, { seconds: 5, bytes: 200, estimate: 100 });
  expect(await sizeRatios()).toEqual({ h265: 2 });
});

describe('after a kill', () => {
  const put = (folder: string, name: string) => writeFileSync(join(folder, name), 'x');

  test('an upload that was entered and not yet moved is moved, and its proxy asked for', async () => {
    const file = join(config.originals, 'upload-0001.mp4');
    put(config.uploads, 'upload-0001');
    put(config.uploads, 'upload-0001.json');
    const id = await addFootage({ file, inPlace: false });
    await reconcile();
    expect(existsSync(file)).toBe(true);
    expect(readdirSync(config.uploads)).toEqual([]);
    expect((await jobs.unfinishedJobs(id)).map((j) => j.kind)).toEqual(['gather']);
  });

  test('what is half written goes; an original is offered again, an export stays, all else is set aside', async () => {
    const id = randomUUID();
    put(config.originals, 'nobodys.mp4');
    put(config.originals, `${id}.mp4.part`);
    put(config.originals, 'somebodys.part');
    put(config.exports, 'nobodys.mp4');
    put(config.exports, `${id}.mp4.part`);
    put(config.exports, `${id}.now.jpg`);
    put(config.motions, 'nobodys.json');
    put(config.takes, `${id}-3.png`);
    mkdirSync(join(config.footage, id));
    mkdirSync(join(config.footage, `${id}.part`));
    const own = await addFootage({ fingerprint: 'f' });
    await replaceAnalysis(own, 'motion', { file: 'own.json', parameters: { method: 'quick', sidecar: null } });
    put(config.motions, 'own.json');
    mkdirSync(join(config.footage, own));
    const kept = await jobs.addJob({
      kind: 'export',
      params: { settings: { codec: 'h264' } },
      footageId: own,
      takeId: null,
    });
    await jobs.updateJob(kept, { state: 'done' });
    writeFileSync(onDisk(exportPlace((await jobs.findJob(kept))!)), 'x');
    await reconcile();
    expect(await unowned()).toEqual([{ folder: 'exports', name: 'nobodys.mp4' }]);
    expect(readdirSync(config.motions)).toEqual(['own.json']);
    expect(readdirSync(config.exports)).toHaveLength(2);
    expect(readdirSync(config.footage)).toEqual([own]);
    expect(readdirSync(config.takes)).toEqual([]);
    const [day] = readdirSync(config.setAside);
    const aside = (folder: string) => readdirSync(join(config.setAside, day!, folder));
    expect([aside('footage'), aside('motions')]).toEqual([[id], ['nobodys.json']]);
    const offered = await unfinishedUploads();
    expect(offered.map((u) => u.name).sort()).toEqual(['nobodys.mp4', 'somebodys.part']);
  });

  test('folders for temporary things are emptied, but of nothing that somebody else put there', async () => {
    mkdirSync(join(config.work, randomUUID()));
    mkdirSync(join(config.work, `ask-${randomUUID()}`));
    put(config.work, 'novel.txt');
    put(config.stills, `${'0a'.repeat(16)}.png`);
    put(config.stills, 'holiday.png');
    await clearTemporary();
    expect([readdirSync(config.work), readdirSync(config.stills)]).toEqual([[], []]);
    const [day] = readdirSync(config.setAside);
    expect(existsSync(join(config.setAside, day!, 'work', 'novel.txt'))).toBe(true);
    expect(existsSync(join(config.setAside, day!, 'stills', 'holiday.png'))).toBe(true);
  });

  test('a copy whose content is in the Library is not listed as never taken in', async () => {
    const { markOf } = await import('@glimbo/media/examine');
    const file = join(allowed, 'there.mp4');
    writeFileSync(file, 'the same content');
    await addFootage({ file, fingerprint: await markOf([file]) });
    writeFileSync(join(config.uploads, 'again-0001'), 'the same content');
    writeFileSync(
      join(config.uploads, 'again-0001.json'),
      JSON.stringify({ size: 16, metadata: { filename: 'there.mp4' } }),
    );
    const names = (await unfinishedUploads()).map((u) => u.name);
    expect(names).not.toContain('there.mp4');
    expect(existsSync(join(config.uploads, 'again-0001'))).toBe(false);
  });
});

test('a path leads nowhere but into the folders that were allowed, links too', async () => {
  const outside = join(config.data, 'secret.mp4');
  writeFileSync(outside, 'x');
  symlinkSync(outside, join(allowed, 'link-b.mp4'));
  writeFileSync(join(allowed, 'link-a.mp4'), 'x');
  expect(await allowedPath(join(allowed, 'link-b.mp4'))).toMatchObject({ problem: /outside/ });
  expect(await allowedPath(join(allowed, 'none.mp4'))).toMatchObject({ problem: /not found/ });
  // The pair's second file lies outside: the first is looked at by itself.
  const result = await gatherPath(join(allowed, 'link-a.mp4'), { accepted: false, pair: null }, '');
  expect(JSON.stringify(result)).not.toContain('secret');
});
