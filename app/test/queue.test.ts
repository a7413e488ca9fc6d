/** The queue: whatever becomes of a job, of its process or of this one, it ends well and nothing of it is left. */
import { afterAll, beforeAll, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { existsSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fingerprint } from '@glimbo/media/copy';
import { keepsTheContract } from './queue-contract';
import { allowed, exportParams, facts, openWorld, until } from './world';

// It waits for processes, on any machine.
jest.setTimeout(120_000);

const { db, config, end } = await openWorld();
const { addFootage, findFootage } = await import('../db/footage');
const jobs = await import('../db/jobs');
const { KINDS } = await import('../jobs/kinds');
const { queue } = await import('../queue/queue');
const { RowQueue } = await import('../queue/row-queue');
const { onJob } = await import('../queue/events');
const { startIdleWork } = await import('../jobs/idle');
const { exportPlace } = await import('../jobs/export');
const { onDisk } = await import('../base/layout');
const { changeSettings } = await import('../db/settings');

const events: string[] = [];
onJob((e) => void events.push(`${e.kind} ${e.state}`));

async function exportJob(behave: string, footageId: string) {
  return queue().add({
    kind: 'export',
    params: exportParams(behave),
    footageId,
    takeId: null,
  });
}
const footage = (behave = 'well') =>
  addFootage({
    name: behave,
    file: `/nowhere/${behave}-${Math.random()}.mp4`,
    inPlace: true,
    variableRate: false,
    facts: facts({ behave }),
  });
const state = async (id: string) => (await jobs.findJob(id))?.state;
const left = () =>
  readdirSync(config.work).length + readdirSync(config.exports).filter((f) => f.endsWith('.part')).length;

let id: string;
beforeAll(async () => {
  id = await footage();
  // Left running by a process that is no more: a lower number would be a service's, this one belongs to nobody.
  const lost = await jobs.addJob({
    kind: 'export',
    params: exportParams(),
    footageId: id,
    takeId: null,
  });
  await jobs.claimJob(['export'], `${(await import('node:os')).hostname()} 4194000 gone`, Date.now() + 1e6);
  await jobs.updateJob(lost, { progress: 0.5 });
  writeFileSync(`${onDisk(exportPlace((await jobs.findJob(lost))!))}.part`, 'half');
  await queue().start();
  await until(async () => (await state(lost)) === 'done');
});
beforeEach(() => void (events.length = 0));
afterAll(async () => {
  await queue().stop();
  await end();
});

describe('the queue of rows', () => {
  // Of its own: the one of this file does nothing meanwhile.
  beforeAll(() => queue().stop());
  afterAll(() => queue().start());
  keepsTheContract({
    another: () => new RowQueue(KINDS),
    job: jobs.findJob,
    add: (to, behave, { priority = 0, footage: of = id } = {}) =>
      to.add({ kind: 'export', params: exportParams(behave), footageId: of, takeId: null, priority }),
    footage,
    made: (job) => onDisk(exportPlace({ id: job, params: {} } as never)),
    left,
  });
});

describe('a job', () => {
  test('is done, told, and leaves what it made and nothing else', async () => {
    const job = await exportJob('well', id);
    await until(async () => (await state(job)) === 'done');
    expect(existsSync(onDisk(exportPlace((await jobs.findJob(job))!)))).toBe(true);
    expect(events).toEqual(expect.arrayContaining(['export queued', 'export running', 'export done']));
    expect(left()).toBe(0);
    await queue().remove(job);
    expect(await jobs.findJob(job)).toBeNull();
  });

  test('that fails says why; done again it is a new one', async () => {
    const job = await exportJob('fails', id);
    await until(async () => (await state(job)) === 'failed');
    expect((await jobs.findJob(job))!.error).toBe('It does not work.');
    const before = (await jobs.jobsOf({})).length;
    await queue().repeat(job);
    await until(async () => (await jobs.unfinishedJobs()).length === 0);
    expect((await jobs.jobsOf({})).length).toBe(before + 1);
    expect(left()).toBe(0);
  });

  test('whose process is killed is begun again', async () => {
    const job = await exportJob('dies once', id);
    await until(async () => (await state(job)) === 'done');
    expect((await jobs.findJob(job))!.attempts).toBe(2);
    expect(left()).toBe(0);
  });

  test('whose process is killed every time fails in words, and the next one is done', async () => {
    const job = await exportJob('dies', id);
    await until(async () => (await state(job)) === 'failed');
    expect(await jobs.findJob(job)).toMatchObject({
      attempts: 3,
      error: expect.stringMatching(/broken off from outside/),
    });
    const next = await exportJob('well', id);
    await until(async () => (await state(next)) === 'done');
    expect(left()).toBe(0);
  });

  test('is cancelled while it waits, and while it runs; when that is over nothing is left', async () => {
    const runs = await exportJob('hangs', id);
    const waits = await exportJob('well', id);
    await until(() => events.includes('export running'));
    await queue().cancel(waits);
    expect(await state(waits)).toBe('cancelled');
    await queue().cancel(runs);
    expect(await state(runs)).toBe('cancelled');
    expect(left()).toBe(0);
  });

  test('that does not listen is killed', async () => {
    const job = await exportJob('deaf', id);
    await until(() => readdirSync(config.exports).some((f) => f.endsWith('.part')));
    await queue().cancel(job);
    expect(await state(job)).toBe('cancelled');
    expect(left()).toBe(0);
  });

  test('that runs only when nothing else waits gives way to another, and is done afterwards', async () => {
    const own = await footage();
    const idle = await queue().add({
      kind: 'motion',
      params: { method: 'quick', use: 'no' },
      footageId: own,
      takeId: null,
      priority: jobs.WHEN_IDLE,
    });
    await db('footage')
      .where({ id })
      .update({ facts: JSON.stringify(facts()) });
    await until(async () => (await state(idle)) !== 'queued');
    const urgent = await exportJob('well', id);
    await until(async () => (await state(urgent)) === 'done');
    await until(async () => (await state(idle)) === 'done');
    const [first, second] = [(await jobs.findJob(urgent))!, (await jobs.findJob(idle))!];
    expect(second.ended!).toBeGreaterThanOrEqual(first.ended! - 1000);
    expect(left()).toBe(0);
  });

  test('of footage that is gone says so', async () => {
    const gone = await footage();
    const blocker = await exportJob('hangs', id);
    const job = await exportJob('well', gone);
    await db('jobs').where({ id: job }).update({ footage_id: null });
    await queue().cancel(blocker);
    await until(async () => (await state(job)) === 'failed');
    expect((await jobs.findJob(job))!.error).toMatch(/gone from the Library/);
  });

  test('whose original was replaced by another film of the same size says so and exports nothing', async () => {
    const file = join(allowed, 'replaced.mp4');
    writeFileSync(file, 'the first film');
    const own = await addFootage({
      name: 'Replaced',
      file,
      inPlace: true,
      variableRate: false,
      facts: facts(),
      fingerprint: await fingerprint(file),
    });
    const good = await exportJob('well', own);
    await until(async () => (await state(good)) === 'done');
    writeFileSync(file, 'another one  !');
    const job = await exportJob('well', own);
    await until(async () => (await state(job)) === 'failed');
    expect((await jobs.findJob(job))!.error).toMatch(
      /replaced\.mp4 is not the recording that was gathered as “Replaced”/,
    );
    expect(left()).toBe(0);
  });

  test('that was begun three times and never ended is given up', async () => {
    const job = await jobs.addJob({
      kind: 'examine',
      params: { recordings: [], prefix: '' },
      footageId: null,
      takeId: null,
    });
    await jobs.claimJob(['examine'], 'elsewhere 1 x', Date.now() - 1);
    await jobs.updateJob(job, { attempts: 3 });
    const abandoned = await jobs.abandonedJobs(Date.now(), () => false);
    expect(abandoned.map((j) => j.id)).toContain(job);
    await queue().stop();
    expect(await state(job)).toBe('running');
    await jobs.updateJob(job, { state: 'cancelled' });
  });
});

describe('claims', () => {
  test('one job is given to one worker only, the more urgent first; a lease that is renewed is not abandoned', async () => {
    await db('jobs').delete();
    const later = await jobs.addJob({
      kind: 'copy',
      params: {},
      footageId: null,
      takeId: null,
      priority: jobs.WHEN_IDLE,
    });
    const first = await jobs.addJob({ kind: 'copy', params: {}, footageId: null, takeId: null });
    const taken = await Promise.all([1, 2, 3].map((n) => jobs.claimJob(['copy'], `w${n}`, 1000)));
    expect(taken.map((j) => j?.id)).toEqual([first, later, undefined]);
    expect((await jobs.abandonedJobs(2000, () => false)).map((j) => j.id).sort()).toEqual([first, later].sort());
    await jobs.renewLeases('w1', 5000);
    expect((await jobs.abandonedJobs(2000, () => false)).map((j) => j.id)).toEqual([later]);
    expect((await jobs.abandonedJobs(2000, (w) => w === 'w1')).map((j) => j.id).sort()).toEqual([first, later].sort());
  });
});

test('a job that another worker took over is theirs: what comes of it here changes nothing; they hear that it be cancelled', async () => {
  await db('jobs').delete();
  const job = await jobs.addJob({ kind: 'copy', params: {}, footageId: null, takeId: null });
  await jobs.claimJob(['copy'], 'w1', 1000);
  expect(await jobs.updateClaimed(job, 'w1', { progress: 0.5 })).toBe(true);
  await jobs.updateJob(job, { state: 'queued' });
  await jobs.claimJob(['copy'], 'w2', 1000);
  expect(await jobs.updateClaimed(job, 'w1', { state: 'done', progress: 1 })).toBe(false);
  expect(await jobs.findJob(job)).toMatchObject({ state: 'running', progress: 0 });
  await queue().cancel(job);
  expect([await jobs.cancelledOf('w1'), await jobs.cancelledOf('w2')]).toEqual([[], [job]]);
  // Whoever claims it anew is not asked to cancel it.
  await jobs.updateJob(job, { state: 'queued' });
  await jobs.claimJob(['copy'], 'w3', 1000);
  expect(await jobs.cancelledOf('w3')).toEqual([]);
  await db('jobs').delete();
});

test('new footage is analysed and looked through by itself when nothing else waits, unless that is switched off', async () => {
  await db('jobs').delete();
  const stop = startIdleWork();
  const { announce } = await import('../queue/events');
  const gathered = async (footageId: string) =>
    announce({
      ...(await jobs.findJob(await jobs.addJob({ kind: 'gather', params: {}, footageId, takeId: null })))!,
      state: 'done',
    });
  const idle = async (footageId = id) => (await jobs.unfinishedJobs(footageId)).filter((j) => j.kind !== 'gather');
  const kinds = async (footageId: string) => (await idle(footageId)).map((j) => j.kind).sort();
  await gathered(id);
  await until(async () => (await idle()).length === 2);
  expect(await kinds(id)).toEqual(['find', 'motion']);
  for (const job of await idle()) expect(job.priority).toBe(jobs.WHEN_IDLE);
  // What moves is told from the motion, which comes first.
  expect((await jobs.claimJob(['find', 'motion'], 'w1', 1000))!.kind).toBe('motion');
  await gathered(id);
  await changeSettings({ findNew: false });
  const second = await footage();
  await gathered(second);
  await until(async () => (await idle(second)).length === 1);
  expect(await kinds(second)).toEqual(['motion']);
  await changeSettings({ analyseNew: false });
  await gathered(await footage());
  await new Promise((resolve) => setTimeout(resolve, 200));
  expect(await idle()).toHaveLength(2);
  expect((await jobs.jobsOf({})).filter(({ kind }) => kind !== 'gather')).toHaveLength(3);
  stop();
});

test('everything of a footage is cancelled with it', async () => {
  const other = await footage();
  const job = await jobs.addJob({ kind: 'gather', params: {}, footageId: other, takeId: null });
  await queue().cancelOf(other);
  expect(await state(job)).toBe('cancelled');
  expect(await findFootage(other)).not.toBeNull();
});

test('what somebody waits for is given up after a while, and others get their turn', async () => {
  const { ask } = await import('../queue/ask');
  const task = (behave: string) => ({ kind: 'light', behave, recording: {} }) as never;
  const stuck = [1, 2].map(() => ask(task('hangs'), undefined, 400));
  const next = ask(task('well'), undefined, 10_000);
  for (const one of stuck) await expect(one).rejects.toThrow(/takes longer than/);
  await expect(next).resolves.toMatchObject({ ok: true });
});
