/** The JSON schema of takes that we publish says the same as the reader does. */
import { describe, expect, test } from '@jest/globals';
import Ajv2020 from 'ajv/dist/2020.js';
import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { setViewKey } from '../src/path/edit.js';
import { emptyPath } from '../src/path/path.js';
import { newTake } from '../src/take/take.js';
import { readTake } from '../src/take/validate.js';

const schema = JSON.parse(readFileSync('docs/formats/take.schema.json', 'utf8')) as object;
const accepts = new Ajv2020({ strict: false }).compile(schema);
const take = newTake('a.mp4', 10);

/** Whether the reader takes a document. */
function reads(plain: unknown): boolean {
  try {
    readTake(plain);
    return true;
  } catch {
    return false;
  }
}

describe('the published schema', () => {
  test.each<[string, object]>([
    ['a new take', take],
    [
      'the least there is',
      { format: 'glimbo-take', version: 1, footage: 'a.mp4', range: { in: 0, out: 1 }, frame: { aspect: '1:1' } },
    ],
    ['several formats', { ...take, frame: { aspect: '9:16', formats: [{ aspect: '9:16' }, { aspect: '16:9' }] } }],
    ['a fixed value', { ...take, path: { ...emptyPath(), fov: 60, bend: 1 } }],
    ['a curve of its own', { ...take, path: { pan: [{ time: 0, value: 1, ease: [0.2, 0, 0.4, 1.5] }] } }],
    [
      'orientation, steadying and level',
      {
        ...take,
        reading: 24,
        orientation: { mount: { pan: 0, tilt: 5, roll: 180 }, centre: { pan: 20, tilt: 0 } },
        steady: {
          mode: 'pinned',
          strength: 80,
          window: 1,
          pins: [{ time: 1, kind: 'filmed' }],
          frame: 0,
          heading: { follows: 'rig', window: 2 },
        },
        level: { keys: [{ time: 1, up: [0, 1, 0] }] },
      },
    ],
    ['what a later version adds', { ...take, look: { weather: 'dusk' } }],
  ])('accepts %s, as the reader does', (_, plain) => {
    expect([accepts(plain), reads(plain)]).toEqual([true, true]);
  });

  test.each<[string, object]>([
    ['another format', { ...take, format: 'take' }],
    ['a later version', { ...take, version: 3 }],
    ['no footage', { ...take, footage: undefined }],
    ['no range', { ...take, range: undefined }],
    ['a range in words', { ...take, range: { in: 'here', out: 'there' } }],
    ['a shape in words', { ...take, frame: { aspect: 'wide' } }],
    ['no formats in a list of them', { ...take, frame: { aspect: '1:1', formats: [] } }],
    ['a way of turning that is none', { ...take, path: { turn: 'spin' } }],
    ['a keyframe without a time', { ...take, path: { pan: [{ value: 1 }] } }],
    ['an ease that is none', { ...take, path: { pan: [{ time: 0, value: 1, ease: 'wobble' }] } }],
    ['a mode that is none', { ...take, steady: { mode: 'rock' } }],
    ['an up of two', { ...take, level: { keys: [{ time: 0, up: [0, 1] }] } }],
  ])('refuses %s, as the reader does', (_, plain) => {
    const written = JSON.parse(JSON.stringify(plain)) as unknown;
    expect([accepts(written), reads(written)]).toEqual([false, false]);
  });

  test('accepts every path that is laid', () => {
    const view = fc.record({
      pan: fc.integer({ min: -720, max: 720 }),
      tilt: fc.integer({ min: -90, max: 90 }),
      fov: fc.integer({ min: 5, max: 350 }),
      bend: fc.double({ min: 0, max: 4, noNaN: true }),
    });
    const keys = fc.uniqueArray(fc.tuple(fc.integer({ min: 0, max: 300 }), view), {
      selector: ([t]) => t,
      maxLength: 9,
    });
    fc.assert(
      fc.property(keys, (list) => {
        const path = list.reduce((p, [t, v]) => setViewKey(p, t / 30, v), emptyPath());
        const written = JSON.parse(JSON.stringify({ ...take, path })) as unknown;
        expect([accepts(written), reads(written)]).toEqual([true, true]);
      }),
      { numRuns: 60 },
    );
  });
});
