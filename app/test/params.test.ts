/** What a job's row says it was asked for: nothing else is begun, and clearing up goes on all the same. */
import { afterAll, describe, expect, test } from '@jest/globals';
import type { Job } from '~/model/job';
import { exportParams, openWorld } from './world';

const { end } = await openWorld();
afterAll(end);
const read = await import('../jobs/params');
const { copyKind } = await import('../jobs/copy');
const { exportPlace } = await import('../jobs/export');
const { onDisk } = await import('../base/layout');

const job = (params: unknown) => ({ id: 'j', params }) as Job;
const item = { id: 'a', name: 'One', files: ['one.mp4'] };

describe('what was asked for', () => {
  test('is read as it was written', () => {
    expect(read.exportParams(job(exportParams()))).toMatchObject({
      take: { footage: 'a.mp4' },
      settings: { width: 320, height: 180, codec: 'h264' },
    });
    expect(read.motionParams(job({ method: 'quick', use: 'no' }))).toEqual({ method: 'quick', use: 'no' });
    expect(read.copyParams(job({ card: '/card', recordings: [item], tags: ['x'] })).recordings).toEqual([item]);
    expect(read.examineParams(job({ recordings: [['/a.mp4']], prefix: '' })).recordings).toEqual([['/a.mp4']]);
  });

  test.each<[string, (j: Job) => unknown, unknown]>([
    ['no take', read.exportParams, { settings: exportParams().settings }],
    ['a take that is none', read.exportParams, { ...exportParams(), take: {} }],
    [
      'a size that is odd',
      read.exportParams,
      { ...exportParams(), settings: { width: 321, height: 180, codec: 'h264' } },
    ],
    [
      'a codec that is none',
      read.exportParams,
      { ...exportParams(), settings: { width: 320, height: 180, codec: 'x' } },
    ],
    ['a method that is none', read.motionParams, { method: 'points', use: 'no' }],
    ['a use that is none', read.motionParams, { method: 'quick', use: 'maybe' }],
    ['nothing to copy', read.copyParams, {}],
    ['a recording without files', read.copyParams, { card: '/c', recordings: [{ ...item, files: [] }], tags: [] }],
    ['a file that is a number', read.copyParams, { card: '/c', recordings: [{ ...item, files: [1] }], tags: [] }],
    ['a path that is none', read.examineParams, { recordings: [['']], prefix: '' }],
    ['no list', read.examineParams, { recordings: 'all', prefix: '' }],
  ])('with %s is refused in words', (_, reader, params) => {
    expect(() => reader(job(params))).toThrow(/cannot be read|not a take|cannot be used/);
  });

  test('that cannot be read has nothing to be cleared up, and a file all the same', async () => {
    expect(read.recordingsToCopy(job({}))).toEqual([]);
    await copyKind.clean(job({ recordings: 7 }), 'over');
    expect(onDisk(exportPlace(job({})))).toMatch(/j\.mp4$/);
  });
});
