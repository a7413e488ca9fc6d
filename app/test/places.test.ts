/** Work is named by places, and originals of ours by their names: both are found wherever the data folder lies. */
import { afterAll, expect, test } from '@jest/globals';
import { join } from 'node:path';
import { resolved, type Place } from '@glimbo/cli/place';
import { exportParams, facts, openWorld } from './world';

const { db, config, end } = await openWorld();
const { addFootage, findFootage, findFootageByFile, relink } = await import('../db/footage');
const { migrate } = await import('../db/database');
const jobs = await import('../db/jobs');
const { KINDS } = await import('../jobs/kinds');
const { layout, onDisk, placeOf } = await import('../base/layout');
afterAll(end);

const original = (name: string) => join(config.originals, name);
const add = (file: string, inPlace: boolean, secondFile?: string) =>
  addFootage({ name: 'Pond', file, secondFile, inPlace, variableRate: false, facts: facts() });

test('an original of ours is kept by its name, one that is used in place by its path; both are found by their paths', async () => {
  const own = await add(original('own.mp4'), false, original('own-2.mp4'));
  const lying = await add('/card/lying.mp4', true);
  const kept = await db('footage').whereIn('id', [own, lying]).orderBy('in_place').select('file', 'second_file');
  expect(kept).toEqual([
    { file: 'own.mp4', second_file: 'own-2.mp4' },
    { file: '/card/lying.mp4', second_file: null },
  ]);
  expect(await findFootage(own)).toMatchObject({ file: original('own.mp4'), secondFile: original('own-2.mp4') });
  expect((await findFootageByFile(original('own.mp4')))?.id).toBe(own);
  expect((await findFootageByFile('/card/lying.mp4'))?.id).toBe(lying);
});

test.each(['gather', 'motion', 'export'] as const)(
  'a job (%s) names nothing of the data folder by a path of this machine',
  async (kind) => {
    const params = kind === 'export' ? exportParams() : kind === 'motion' ? { method: 'quick', use: 'no' } : {};
    const footageId = await add(original(`${kind}.mp4`), false);
    const id = await jobs.addJob({ kind, params, footageId, takeId: null });
    const task = await KINDS[kind].prepare((await jobs.findJob(id))!);
    expect(JSON.stringify(task)).not.toContain(config.data);
    // Somebody else, with the same data elsewhere.
    const there = JSON.stringify(resolved(task as never, ({ root, path }: Place) => `/mnt/${root}/${path}`));
    expect(there).toContain(`/mnt/`);
    expect(there).not.toContain('"root"');
  },
);

test('places and paths of originals, uploads and anything else belong together', () => {
  for (const place of [layout.original('a.mp4'), layout.upload('b'), layout.disk('/c/d.mp4')])
    expect(placeOf(onDisk(place))).toEqual(place);
  expect(placeOf(`${config.originals}-not/a.mp4`).root).toBe('disk');
  expect(placeOf(config.originals)).toEqual(layout.disk(config.originals));
});

test('only what has a root and a path and nothing else is a place', () => {
  const others = { path: { keyframes: [] }, root: 'footage', a: { root: 'elsewhere', path: 'x' }, b: [null, 1, 'x'] };
  expect(resolved({ ...others, c: [layout.proxy('f')] }, () => 'here')).toEqual({ ...others, c: ['here'] });
});

test('originals that were kept by their paths are found by their names, wherever the data folder lies now', async () => {
  const [own, lying] = [await add(original('moved.mp4'), false), await add('/card/kept.mp4', true)];
  await db.migrate.down();
  await db('footage').where({ id: own }).update({ file: '/elsewhere/originals/moved.mp4' });
  await migrate();
  expect((await findFootage(own))!.file).toBe(original('moved.mp4'));
  expect((await findFootage(lying))!.file).toBe('/card/kept.mp4');
});

test('an original that is found again among ours is kept by its name', async () => {
  const id = await add('/gone/again.mp4', true);
  await relink(id, original('again.mp4'), null);
  expect((await findFootageByFile(original('again.mp4')))?.id).toBe(id);
});
