/** Actions and loaders asked with all that may come in: every answer has the right status and a sentence, and nothing is changed. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { existsSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { RouterContextProvider, type ActionFunctionArgs } from 'react-router';
import { USUAL_RULE } from '@glimbo/core/follow/rule';
import { packHistory } from '@glimbo/core/document/change';
import { commit, present, startHistory } from '@glimbo/core/document/history';
import { whole } from '@glimbo/core/document/patch';
import { newTake, type Take } from '@glimbo/core/take/take';
import { allowed, facts, openWorld } from './world';

process.env.GLIMBO_PASSPHRASE = 'turntable';
const { db, config, end } = await openWorld();
const { addFootage, findFootage } = await import('../db/footage');
const { findTake, listTakes } = await import('../db/takes');
const { jobsOf } = await import('../db/jobs');
const { readSettings } = await import('../db/settings');
const { addressContext } = await import('../server/context');
const { told, Refusal } = await import('../server/answer');
const { DISK_FULL } = await import('../base/disk');
const { startTake } = await import('../gathering/start-take');
const routes = {
  take: await import('../routes/take'),
  footage: await import('../routes/footage'),
  gather: await import('../routes/gather'),
  motion: await import('../routes/motion'),
  stitch: await import('../routes/stitch'),
  job: await import('../routes/job'),
  exports: await import('../routes/exports'),
  library: await import('../routes/library'),
  card: await import('../routes/card'),
  settings: await import('../routes/settings'),
  signIn: await import('../routes/sign-in'),
  kept: await import('../routes/kept'),
  takes: await import('../routes/takes'),
};
afterAll(end);

let footage: string;
let take: string;
const document = (change: Partial<Take> = {}): Take => ({ ...newTake('a.mp4', 4), ...change });
beforeAll(async () => {
  footage = await addFootage({
    name: 'Halt',
    file: join(allowed, 'halt.mp4'),
    inPlace: true,
    variableRate: false,
    facts: facts(),
  });
  take = (await startTake(footage))!;
});

interface Answer {
  status: number;
  body: { problem?: string } & Record<string, unknown>;
}
type Action = (args: ActionFunctionArgs) => Promise<unknown>;

/** Asks an action as the server would; gives status and data, whichever way it answers. */
async function ask(
  action: unknown,
  body: BodyInit,
  params: Record<string, string> = {},
  type?: string,
): Promise<Answer> {
  const context = new RouterContextProvider();
  context.set(addressContext, '10.0.0.7');
  const request = new Request('http://glimbo/x', {
    method: 'POST',
    body,
    headers: type ? { 'content-type': type } : {},
  });
  const answer = await (action as Action)({ request, params, context } as unknown as ActionFunctionArgs);
  if (answer instanceof Response)
    return { status: answer.status, body: (await answer.json().catch(() => ({}))) as Answer['body'] };
  const { data, init } = answer as { data?: Answer['body']; init?: { status?: number } };
  return { status: init?.status ?? 200, body: data ?? (answer as Answer['body']) };
}
const json = (action: unknown, body: unknown, params = {}) => ask(action, JSON.stringify(body), params);
const form = (action: unknown, fields: Record<string, string>, params = {}) =>
  ask(action, new URLSearchParams(fields), params);

const deep = '['.repeat(20_000) + ']'.repeat(20_000);

describe.each([
  ['take', () => [routes.take.action, { takeId: take }]],
  ['footage', () => [routes.footage.action, { footageId: footage }]],
  ['motion', () => [routes.motion.action, { footageId: footage }]],
  ['stitch', () => [routes.stitch.action, { footageId: footage }]],
] as [string, () => [unknown, Record<string, string>]][])('%s', (name, of) => {
  test.each([
    ['no JSON', '{', 400, /not JSON/],
    ['nothing', '', 400, /not JSON/],
    ['JSON without end of depth', deep, 400, /nested too deep/],
    ['a list', '[]', 422, /not a JSON object/],
    ['null', 'null', 422, /not a JSON object/],
    ['an intent that is none', '{"intent":"fly"}', 422, /intent/],
    ['an intent that is a list', '{"intent":["save"]}', 422, /intent/],
  ])('answers %s in a sentence', async (_, body, status, words) => {
    const [action, params] = of();
    const answer = await ask(action, body, params);
    expect([answer.status, answer.body.problem]).toEqual([status, expect.stringMatching(words)]);
  });

  test('says so when it is gone', async () => {
    const [action] = of();
    const answer = await json(action, { intent: 'delete' }, { takeId: 'none', footageId: 'none' });
    expect([answer.status, answer.body.problem]).toEqual([404, expect.stringMatching(/gone/)]);
    expect(name).toBeTruthy();
  });
});

const following = (subject: string): Partial<Take> => ({
  follows: [{ ...USUAL_RULE, subject, in: 0, out: 1, blend: 0 }],
});

describe('a take', () => {
  const save = ({
    steps = [document()],
    ...more
  }: { steps?: object[]; id?: string; keep?: number; at?: number } = {}) => ({
    intent: 'save',
    id: more.id ?? 'save-0001',
    revision: 1,
    change: { first: 0, keep: 1, at: 1, ...more, patches: steps.map(whole) },
  });
  test.each<[string, Parameters<typeof save>[0], RegExp]>([
    ['keeps nothing', { keep: 0, steps: [], at: 0 }, /no step/],
    ['ends after the footage', { steps: [document({ range: { in: 0, out: 1e5 } })] }, /out point.*end of the footage/],
    ['is no take', { steps: [{}] }, /not a take/],
    ['follows a file of this machine', { steps: [document(following('/etc/passwd'))] }, /subject that is not kept/],
    ['follows a file beside the folder', { steps: [document(following('../a.json'))] }, /subject that is not kept/],
    ['counts on what is not there', { keep: 9, at: 9 }, /not there/],
  ])('whose save %s stays as it was', async (_, more, words) => {
    const before = await findTake(take);
    const { status, body } = await json(routes.take.action, save(more), { takeId: take });
    expect([status, body.problem]).toEqual([422, expect.stringMatching(words)]);
    expect(await findTake(take)).toEqual(before);
  });

  test('is saved once however often a save comes; a stale one is told, and what it made can be kept or put on top', async () => {
    const mine = document({ frame: { aspect: '9:16' } });
    expect((await json(routes.take.action, save({ steps: [mine] }), { takeId: take })).body).toEqual({ revision: 2 });
    expect((await json(routes.take.action, save({ steps: [mine] }), { takeId: take })).body).toEqual({ revision: 2 });
    const late = await json(routes.take.action, save({ id: 'save-0002' }), { takeId: take });
    expect(late).toMatchObject({ status: 409, body: { revision: 2 } });

    const history = commit(startHistory(document()), document({ frame: { aspect: '1:1' } }));
    const fork = await json(routes.take.action, { intent: 'fork', history: packHistory(history) }, { takeId: take });
    expect((await findTake(String(fork.body.id)))!.record.name).toMatch(/\(mine\)$/);
    expect((await findTake(String(fork.body.id)))!.history.steps).toHaveLength(2);
    await json(routes.take.action, { intent: 'put', document: present(history) }, { takeId: take });
    const now = (await findTake(take))!.history;
    expect(now.steps.map((s) => s.frame.aspect)).toEqual(['16:9', '9:16', '1:1']);
    expect(now.at).toBe(2);
  });

  test('is duplicated under a number, renamed, a favourite, deleted and back; deleted, it takes no save', async () => {
    const copy = await json(routes.take.action, { intent: 'duplicate' }, { takeId: take });
    const again = await json(routes.take.action, { intent: 'duplicate' }, { takeId: take });
    expect([copy.body.name, again.body.name]).toEqual(['Halt, take 1, version 2', 'Halt, take 1, version 3']);
    const id = String(copy.body.id);
    await json(routes.take.action, { intent: 'rename', name: '  Pond ' }, { takeId: id });
    await json(routes.take.action, { intent: 'favourite', favourite: true }, { takeId: id });
    expect((await findTake(id))!.record).toMatchObject({ name: 'Pond', favourite: true });
    await json(routes.take.action, { intent: 'delete' }, { takeId: id });
    expect((await listTakes()).map((t) => t.id)).not.toContain(id);
    const late = await json(routes.take.action, save({}), { takeId: id });
    expect([late.status, late.body.problem]).toEqual([410, expect.stringMatching(/deleted in another tab/)]);
    await json(routes.take.action, { intent: 'restore' }, { takeId: id });
    expect((await listTakes()).map((t) => t.id)).toContain(id);
  });
});

describe('footage', () => {
  const act = (body: object) => json(routes.footage.action, body, { footageId: footage });
  test('changes are applied one by one and answered with what is said now', async () => {
    await act({ intent: 'change', change: { what: 'mark', mark: { id: 'a', time: 1, name: 'A' } } });
    const { body } = await act({ intent: 'change', change: { what: 'mark', mark: { id: 'b', time: 0, name: 'B' } } });
    expect((body.said as { marks: { id: string }[] }).marks.map((m) => m.id)).toEqual(['b', 'a']);
    expect((await act({ intent: 'change', change: { what: 'everything' } })).status).toBe(422);
    await act({ intent: 'remark', name: ' Yard ', favourite: true });
    expect(await findFootage(footage)).toMatchObject({ name: 'Yard', favourite: true });
  });
  test('a take of a range that does not fit is one that does', async () => {
    const { body } = await act({ intent: 'take', name: 'Cut', range: { in: 2, out: 99 } });
    expect((await findTake(String(body.id)))!.history.steps[0]!.range).toEqual({ in: 2, out: 4 });
    expect((await act({ intent: 'take', range: { in: 'a', out: 2 } })).status).toBe(422);
  });
  test('an original is not found in folders that are not allowed', async () => {
    expect(await act({ intent: 'relink', path: '/etc/passwd' })).toMatchObject({
      status: 422,
      body: { problem: expect.stringMatching(/outside the folders/) },
    });
  });
});

describe('what is kept for later', () => {
  const act = (body: object) => json(routes.kept.action, body);
  const lens = { format: 'glimbo-lens', version: 1, name: 'Close', fov: 30, bend: 0 };
  test('is listed, renamed in its place, and forgotten', async () => {
    const kept = (await act({ intent: 'keep', document: lens })).body.items as { id: string }[];
    expect(kept).toEqual([{ id: expect.any(String), document: lens }]);
    const [{ id }] = kept as [{ id: string }];
    await act({ intent: 'keep', id, document: { ...lens, name: 'Closer' } });
    const listed = (await (await routes.kept.loader()).json()) as { items: object[] };
    expect(listed.items).toEqual([{ id, document: { ...lens, name: 'Closer' } }]);
    expect((await act({ intent: 'forget', id })).body.items).toEqual([]);
  });
  test.each<[string, object, number, RegExp]>([
    ['a lens beyond the lens', { intent: 'keep', document: { ...lens, fov: 300 } }, 422, /Nothing was kept/],
    ['nothing', { intent: 'keep' }, 422, /no move, curve, lens, mood or set/],
    ['a wish that is none', { intent: 'praise' }, 400, /not known/],
  ])('%s is told', async (_, body, status, words) => {
    expect(await act(body)).toMatchObject({ status, body: { problem: expect.stringMatching(words) } });
  });
});

describe('parts of a take put into others', () => {
  const act = (body: object) => json(routes.takes.action, body);
  const keys = {
    pan: [
      { time: 0, value: 7 },
      { time: 1, value: 9 },
    ],
  };
  test('are a step of undo in each, and takes that are gone are passed over', async () => {
    const others = [(await startTake(footage))!, (await startTake(footage))!];
    const { body } = await act({ takes: [...others, 'gone'], keys, after: 1, from: take, settings: ['formats'] });
    expect(body).toEqual({ pasted: 2 });
    for (const id of others) {
      const { history } = (await findTake(id))!;
      expect([history.steps.length, history.at]).toEqual([2, 1]);
      expect(history.steps[1]!.path.pan).toMatchObject([
        { time: 1, value: 7 },
        { time: 2, value: 9 },
      ]);
    }
    const listed = (await (await routes.takes.loader()).json()) as { takes: { id: string; footageName: string }[] };
    expect(listed.takes.map((t) => t.id)).toEqual(expect.arrayContaining(others));
  });
  test.each<[string, object, RegExp]>([
    ['no takes', { takes: [], keys }, /takes/],
    ['keyframes that are none', { takes: ['a'], keys: { pan: 'x' } }, /Nothing was pasted/],
    ['a setting that is none', { takes: ['a'], from: 'b', settings: ['weather'] }, /settings/],
    ['settings of nobody', { takes: ['a'], from: 'b', settings: ['pace'] }, /gone/],
  ])('with %s is told', async (_, body, words) => {
    const answer = await act(body);
    expect(answer.status).toBeGreaterThanOrEqual(400);
    expect(answer.body.problem).toMatch(words);
  });
});

describe('several formats exported at once', () => {
  const send = (clips: unknown) =>
    ask(routes.exports.action, new URLSearchParams({ intent: 'export', takeId: own, clips: JSON.stringify(clips) }));
  const settings = { width: 320, height: 180, codec: 'h264' };
  let own: string;
  beforeAll(async () => void (own = (await startTake(footage))!));
  test('are a job each; with one that the take has not, none is begun', async () => {
    const before = (await jobsOf({ footageId: footage })).length;
    expect(
      await send([
        { aspect: '16:9', settings },
        { aspect: '1:1', settings },
      ]),
    ).toMatchObject({
      status: 422,
      body: { problem: expect.stringMatching(/Nothing was exported. This take has no format 1:1/) },
    });
    expect((await send([])).status).toBe(400);
    expect((await send('all')).status).toBe(400);
    expect(await jobsOf({ footageId: footage })).toHaveLength(before);
    expect((await send([{ aspect: '16:9', settings }, { settings }])).status).toBe(200);
    expect(await jobsOf({ footageId: footage })).toHaveLength(before + 2);
  });
});

describe('motion', () => {
  const act = (body: object) => json(routes.motion.action, body, { footageId: footage });
  test.each([
    ['analysing before the proxy is there', { intent: 'analyse', method: 'quick', use: 'no' }, /proxy is not made/],
    ['correcting what is not there', { intent: 'correct', cuts: [1], bad: [] }, /not analysed yet/],
    ['cuts that are words', { intent: 'correct', cuts: ['x'], bad: [] }, /cuts/],
    ['a sidecar that is none', { intent: 'sidecar', text: 'hello' }, /not a motion sidecar/],
  ])('%s is told', async (_, body, words) => {
    expect(await act(body)).toMatchObject({ status: 422, body: { problem: expect.stringMatching(words) } });
  });
  test('its loader says so when there is none', async () => {
    const answer = await routes.motion.loader({ params: { footageId: footage } } as never);
    expect(answer.status).toBe(404);
  });
});

describe('exports', () => {
  const exportsPage = (query = '') =>
    routes.exports.loader({ request: new Request(`http://glimbo/exports${query}`) } as never);
  const start = (settings: string, takeId = take) =>
    form(routes.exports.action, { intent: 'export', takeId, settings });
  test.each([
    ['{"rate":[30]}', 422],
    ['{', 400],
    ['null', 422],
    ['{"width":1920,"height":1080,"codec":"h264","rate":[30]}', 422],
    ['{"width":"1920","height":1080,"codec":"h264"}', 422],
  ])('settings %s start nothing', async (settings, status) => {
    const before = (await jobsOf({})).length;
    const answer = await start(settings);
    expect([answer.status, answer.body.problem]).toEqual([status, expect.stringMatching(/Nothing was exported/)]);
    expect((await jobsOf({})).length).toBe(before);
    expect(await exportsPage()).toMatchObject({ newest: true, older: null });
  });
  test('beyond what a page shows are reached from one page to the next', async () => {
    for (let n = 0; n < 450; n++)
      await db('jobs').insert({ id: `many-${n}`, kind: 'export', state: 'done', params: '{}', created: 1000 + n });
    const seen: string[] = [];
    let page = await exportsPage();
    expect(page).toMatchObject({ newest: true, older: expect.any(Number) });
    for (;;) {
      seen.push(...page.exports.map((j) => j.id));
      if (page.older === null) break;
      page = await exportsPage(`?before=${page.older}`);
      expect(page.newest).toBe(false);
    }
    expect(seen.filter((one) => one.startsWith('many-'))).toEqual(
      Array.from({ length: 450 }, (_, i) => `many-${449 - i}`),
    );
    await db('jobs').where('id', 'like', 'many-%').delete();
  });
  test('good ones start an export, of a take that is there', async () => {
    const good = '{"width":640,"height":360,"codec":"h264","quality":20}';
    expect((await start(good)).status).toBe(200);
    expect((await jobsOf({}))[0]).toMatchObject({ kind: 'export', takeId: take, state: 'queued' });
    expect((await start(good, 'none')).status).toBe(404);
    const { id } = (await jobsOf({}))[0]!;
    expect((await form(routes.job.action, { intent: 'fly' }, { jobId: id })).status).toBe(400);
    expect((await form(routes.job.action, { intent: 'cancel' }, { jobId: 'none' })).status).toBe(404);
    expect((await routes.job.loader({ params: { jobId: id } } as never)).status).toBe(200);
  });
});

describe('gathering', () => {
  test.each([
    [{ intent: 'upload', uploads: '../../etc/passwd', names: '["a.mp4"]', name: 'x' }, /upload is not known/],
    [{ intent: 'upload', uploads: 'upload-0001', names: '7', name: 'x' }, /names of the files/],
    [{ intent: 'path', path: '/etc/passwd' }, /outside the folders/],
    [{ intent: 'path', path: join(allowed, 'nowhere.mp4') }, /not found/],
    [{ intent: 'fly' }, /not known here/],
  ] as [Record<string, string>, RegExp][])('%j is told', async (fields, words) => {
    expect(JSON.stringify((await form(routes.gather.action, fields)).body)).toMatch(words);
  });
  test('a body that is no form is told, anywhere', async () => {
    for (const action of [
      routes.gather.action,
      routes.exports.action,
      routes.settings.action,
      routes.card.action,
      routes.library.action,
    ]) {
      const { status, body } = await ask(action, '{"a":1}', {}, 'application/json');
      expect([status, body.problem]).toEqual([400, expect.stringMatching(/form could not be read/)]);
    }
  });
  test('a folder is looked through by a job, which is answered at once', async () => {
    for (const n of [1, 2, 3]) writeFileSync(join(allowed, `clip-${n}.mp4`), 'no film');
    const { body } = await form(routes.gather.action, { intent: 'path', path: allowed, prefix: 'Sunday ' });
    expect(body).toMatchObject({ job: expect.any(String), recordings: 3 });
    const job = (await jobsOf({})).find((j) => j.id === body.job)!;
    expect(job).toMatchObject({ kind: 'examine', params: { prefix: 'Sunday ' } });
  });
  test('discarding looks at names, not at paths', async () => {
    await form(routes.gather.action, { intent: 'discard', upload: '../glimbo.sqlite' });
    expect(existsSync(join(config.data, 'glimbo.sqlite'))).toBe(true);
  });
});

test('settings out of their range are left as they were', async () => {
  const before = await readSettings();
  await form(routes.settings.action, { proxyWidth: '7' });
  expect(await readSettings()).toEqual(before);
  await form(routes.settings.action, { proxyWidth: '1280', analyseNew: 'no', findNew: 'no' });
  expect(await readSettings()).toEqual({ proxyWidth: 1280, analyseNew: false, findNew: false });
});

test('the passphrase: a wrong one is told, many are slowed down, and none of that is a crash', async () => {
  const answers: number[] = [];
  for (let i = 0; i < 8; i++) answers.push((await form(routes.signIn.action, { passphrase: 'guess' })).status);
  expect(answers.slice(0, 5)).toEqual([403, 403, 403, 403, 403]);
  expect(answers.slice(5)).toEqual([429, 429, 429]);
});

describe('what goes wrong is told', () => {
  test('a full disk, our own mistakes, and what the user can do something about', () => {
    const full = Object.assign(new Error('ENOSPC: no space left on device'), { code: 'ENOSPC' });
    expect(told(full)).toEqual({ problem: DISK_FULL, status: 507 });
    expect(told(Object.assign(new Error('database or disk is full'), { code: 'SQLITE_FULL' })).status).toBe(507);
    expect(told(new TypeError('x is undefined'))).toMatchObject({
      status: 500,
      problem: expect.not.stringMatching(/undefined/),
    });
    expect(told(new Refusal('Not so.', 418))).toEqual({ problem: 'Not so.', status: 418 });
  });

  test('a database that cannot be written answers 507 and not a stack', async () => {
    const connection = (await db.client.acquireConnection()) as { pragma(text: string): number };
    const pages = connection.pragma('page_count') as unknown as { page_count: number }[];
    connection.pragma(`max_page_count = ${pages[0]!.page_count}`);
    await db.client.releaseConnection(connection);
    const steps = [
      document({
        path: { ...document().path, pan: Array.from({ length: 5000 }, (_, i) => ({ time: i, value: i / 10 })) },
      }),
    ];
    const { record, history } = (await findTake(take))!;
    const keep = history.steps.length;
    const change = { first: 0, keep, at: keep, patches: steps.map(whole) };
    const body = { intent: 'save', id: 'save-full', revision: record.revision, change };
    const answer = await json(routes.take.action, body, { takeId: take });
    expect(answer).toMatchObject({ status: 507, body: { problem: DISK_FULL } });
    expect((await findTake(take))!.history).toEqual(history);
    const raised = (await db.client.acquireConnection()) as { pragma(text: string): void };
    raised.pragma('max_page_count = 1000000');
    await db.client.releaseConnection(raised);
    expect((await json(routes.take.action, body, { takeId: take })).status).toBe(200);
  });
});
