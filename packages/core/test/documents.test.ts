/** Paths, marks, moves and pastes as documents: what is written is read again, and what is broken is told in words. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { fromOtio, toOtio } from '../src/gather/otio.js';
import { onView, readKept } from '../src/moves/kept.js';
import { pathFromCsv, pathToCsv } from '../src/path/csv.js';
import { setChannelKey, setEase, setViewKey } from '../src/path/edit.js';
import { EASES, type Ease } from '../src/curve/ease.js';
import { allKeys } from '../src/path/keys.js';
import { emptyPath, keysOf, type Path } from '../src/path/path.js';
import { readClipping } from '../src/path/validate-clipping.js';
import { caught } from '../src/path/snapping.js';
import { changeInWords } from '../src/edit/change-words.js';
import { addFormat, inFormat, withCorrection } from '../src/take/formats.js';
import { pasteOnto } from '../src/edit/paste.js';
import { newTake, type Take } from '../src/take/take.js';
import { readTake } from '../src/take/validate.js';

const two = setViewKey(setViewKey(emptyPath(), 1, { pan: 10 }), 3, { pan: 50, fov: 40 });
const take = (more: Partial<Take> = {}): Take => ({ ...newTake('a.mp4', 10), path: two, ...more });

describe('a path as CSV', () => {
  const ease: fc.Arbitrary<Ease> = fc.oneof(
    fc.constantFrom(...EASES),
    fc.tuple(...[0, -1, 0, -1].map((low) => fc.double({ min: low, max: 1, noNaN: true }))) as fc.Arbitrary<
      [number, number, number, number]
    >,
  );
  test('is read as it was written', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: 0, max: 900 }), { minLength: 1, maxLength: 8 }),
        fc.double({ min: -720, max: 720, noNaN: true }),
        ease,
        (frames, value, e) => {
          let path: Path = { ...emptyPath(), bend: 0.25 };
          // A zero has no sign in a file.
          const plain = Array.isArray(e) ? (e.map((v: number) => v + 0) as unknown as Ease) : e;
          for (const f of frames) path = setChannelKey(path, 'pan', f / 30, value + f, plain);
          path.pan = keysOf(path, 'pan').map((k, i) => (i % 2 ? { ...k, turn: 'arc' as const } : k));
          expect(pathFromCsv(pathToCsv(path))).toEqual(path);
        },
      ),
    );
  });
  test.each([
    ['', /first row/],
    ['time,channel,value\n', /no keyframes/],
    ['time,channel,value\n1,pan,x\n', /row 2/],
    ['time,channel,value\n1,pan,1\n2,zoom,1\n', /row 3/],
    ['time,channel,value\n1,pan,1\n1,pan,2\n', /pan: .*same time/],
    ['time,channel,value,ease\n1,pan,1,bouncy\n', /ease is one of/],
  ])('that is broken is told: %j', (text, words) => {
    expect(() => pathFromCsv(text)).toThrow(expect.objectContaining({ problem: expect.stringMatching(words) }));
  });
  test('may have its columns in another order, and more of them', () => {
    const path = pathFromCsv('note,value,channel,time\nx,5,tilt,2\n,7,tilt,1\n');
    expect(keysOf(path, 'tilt')).toEqual([
      { time: 1, value: 7 },
      { time: 2, value: 5 },
    ]);
  });
});

describe('marks and ranges as OpenTimelineIO', () => {
  const footage = { name: 'Ridge', file: 'ridge.mp4', rate: 30, frames: 300 };
  test('are read as they were written, on frames', () => {
    const marks = [
      { time: 1.5, name: 'Whistle' },
      { time: 4, name: 'Tunnel' },
    ];
    const ranges = [{ in: 2, out: 5.5 }];
    const document = toOtio({ ...footage, marks, ranges });
    expect(document).toMatchObject({ OTIO_SCHEMA: 'Timeline.1', tracks: { OTIO_SCHEMA: 'Stack.1' } });
    expect(fromOtio(JSON.parse(JSON.stringify(document)), 10)).toEqual({ marks, ranges });
  });
  test('of another program are found wherever they stand', () => {
    const time = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', rate: 24, value });
    const marker = { OTIO_SCHEMA: 'Marker.1', name: '', marked_range: { start_time: time(48), duration: time(0) } };
    const clip = {
      OTIO_SCHEMA: 'Clip.1',
      markers: [marker],
      source_range: { start_time: time(24), duration: time(48) },
    };
    const nested = {
      OTIO_SCHEMA: 'Stack.1',
      children: [{ OTIO_SCHEMA: 'Track.1', children: [{ OTIO_SCHEMA: 'Stack.1', children: [clip] }] }],
    };
    expect(fromOtio(nested, 10)).toEqual({ marks: [{ time: 2, name: 'Mark' }], ranges: [{ in: 1, out: 3 }] });
  });
  test.each([null, [], {}, { OTIO_SCHEMA: 'Gap.1' }, { OTIO_SCHEMA: 'Timeline.1' }])(
    'that are none are told: %j',
    (plain) => {
      expect(() => fromOtio(plain, 10)).toThrow(/cannot be read/);
    },
  );
});

describe('what is kept for later', () => {
  const keys = {
    pan: [
      { time: 0, value: 20 },
      { time: 2, value: 380 },
    ],
  };
  test.each([
    { format: 'glimbo-move', version: 1, name: 'Round', keys },
    { format: 'glimbo-lens', version: 1, name: 'Close', fov: 30, bend: 0 },
    { format: 'glimbo-curve', version: 1, name: 'Late', ease: [0.7, 0, 0.9, 1] },
  ])('is read: $format', (document) => {
    expect(readKept({ ...document, unknown: 1 })).toEqual(document);
  });
  test.each<[object | null, RegExp]>([
    [null, /no move/],
    [{ format: 'glimbo-move', version: 2, name: 'x', keys }, /no move/],
    [{ format: 'glimbo-move', version: 1, name: ' ', keys }, /name/],
    [{ format: 'glimbo-move', version: 1, name: 'x', keys: {} }, /no keyframes/],
    [{ format: 'glimbo-move', version: 1, name: 'x', keys: { pan: 4 } }, /no list/],
    [{ format: 'glimbo-move', version: 1, name: 'x', keys: { pan: [{ time: -1, value: 0 }] } }, /time/],
    [{ format: 'glimbo-lens', version: 1, name: 'x', fov: 300, bend: 0 }, /field of view/],
    [{ format: 'glimbo-curve', version: 1, name: 'x', ease: [2, 0, 0, 0] }, /x1 and x2/],
    [{ format: 'glimbo-curve', version: 1, name: 'x', ease: 'whip' }, /curve/],
  ])('that is broken is told', (document, words) => {
    expect(() => readKept(document)).toThrow(expect.objectContaining({ problem: expect.stringMatching(words) }));
  });
  test('begins at the heading that is framed, by its own way round', () => {
    expect(onView(keys, { pan: -100 }).pan!.map((k) => k.value)).toEqual([-100, 260]);
    expect(onView({ fov: [{ time: 0, value: 30 }] }, { pan: 5 })).toEqual({ fov: [{ time: 0, value: 30 }] });
    expect(() => readClipping([])).toThrow(/channel/);
  });
});

describe('a take that parts of another are put into', () => {
  const clipping = {
    pan: [
      { time: 0, value: 5 },
      { time: 1, value: 9 },
    ],
    fov: [{ time: 0, value: 33 }],
  };
  const footage = { rate: 30, duration: 10 };
  test('has its keyframes as long after its in point, in the channels that are wanted', () => {
    const into = take({ range: { in: 2, out: 9 }, path: emptyPath() });
    const pasted = pasteOnto(into, { keys: { clipping, after: 0.5, channels: ['pan'] } }, footage);
    expect(keysOf(pasted.path, 'pan').map((k) => [k.time, k.value])).toEqual([
      [2.5, 5],
      [3.5, 9],
    ]);
    expect(keysOf(pasted.path, 'fov')).toEqual([]);
  });
  test('has none past the end of its own footage', () => {
    const pasted = pasteOnto(take({ path: emptyPath() }), { keys: { clipping, after: 9.5 } }, footage);
    expect(keysOf(pasted.path, 'pan').map((k) => k.time)).toEqual([9.5]);
  });
  test('has the settings of the other, and none where the other has none', () => {
    const from = addFormat(take({ pace: { keys: [{ time: 1, speed: 0.5 }] }, level: { keys: [] } }), '9:16');
    const into = take({ steady: { mode: 'still' } as Take['steady'] });
    const pasted = pasteOnto(into, { from, settings: ['pace', 'level', 'steady', 'formats'] }, footage);
    expect(pasted).toMatchObject({ pace: from.pace, level: { keys: [] }, frame: from.frame, path: two });
    expect('steady' in pasted).toBe(false);
    expect(readTake(pasted)).toEqual(pasted);
  });
});

test('what undo takes back is said in a few words', () => {
  const now = take();
  const said = (after: Take) => changeInWords(now, after);
  expect(said(take({ path: setViewKey(two, 5, {}) }))).toBe('set 1 key');
  expect(said(take({ path: emptyPath() }))).toBe('remove 2 keys');
  expect(said(take({ path: setEase(two, allKeys(two), 'whip') }))).toBe('shape 2 keys');
  expect(said(take({ path: setViewKey(two, 3, { pan: 60 }) }))).toBe('change 1 key');
  expect(said(take({ path: { ...two, turn: 'arc' } }))).toBe('change the path');
  expect(said(take({ range: { in: 1, out: 9 } }))).toBe('in and out');
  expect(said(take({ pace: { keys: [{ time: 1, speed: 2 }] } }))).toBe('pace');
  expect(said(addFormat(now, '1:1'))).toBe('formats');
  const both = addFormat(now, '1:1');
  expect(changeInWords(both, inFormat(both, '1:1'))).toBe('format 1:1');
  expect(changeInWords(both, withCorrection(both, { pan: 3 }))).toBe('correction of 16:9');
});

test('a dragged time catches on the nearest moment within reach', () => {
  expect([caught(1.04, [1, 1.1], 0.05), caught(1.08, [1, 1.1], 0.05), caught(1.5, [1, 1.1], 0.05)]).toEqual([
    1, 1.1, 1.5,
  ]);
});
