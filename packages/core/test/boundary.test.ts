/** What comes from outside: every bad value gets words, and nothing unknown gets in. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { DEEPEST, readShape, ShapeError, tooDeep } from '../src/boundary/shape.js';
import { remarked } from '../src/gather/remarks.js';
import { FootageOrder, readRemarkChange } from '../src/gather/validate-remarks.js';
import { methodNamed } from '../src/motion/motion.js';
import { MotionOrder } from '../src/motion/validate-order.js';
import { readMotionDocument } from '../src/motion/validate.js';
import { packHistory } from '../src/document/change.js';
import { commit, startHistory } from '../src/document/history.js';
import { whole } from '../src/document/patch.js';
import { newTake, type Take } from '../src/take/take.js';
import { readClipSettings } from '../src/export/validate-settings.js';
import { DocumentOrder, readHistory, readSave } from '../src/document/validate-save.js';
import { readTake, TakeError } from '../src/take/validate.js';

const nested = (levels: number) => JSON.parse('['.repeat(levels) + ']'.repeat(levels)) as unknown;
const take = newTake('ridge.mp4', 4);

describe('depth', () => {
  test('is measured without recursion, and beyond reason refused in words', () => {
    expect(tooDeep(nested(DEEPEST))).toBe(false);
    expect(tooDeep(nested(20_000))).toBe(true);
    expect(() => readTake({ ...take, more: nested(20_000) })).toThrow(/nested more than/);
  });
});

describe('a take', () => {
  test.each([
    ['an out point beyond any footage', { range: { in: 0, out: 1e7 } }, /out/],
    ['an in point before the start', { range: { in: -1, out: 2 } }, /in/],
    ['a tilt of a million', { path: { ...take.path, tilt: 1e6 } }, /tilt lies from/],
    ['a field of view of a million', { path: { ...take.path, fov: 1e6 } }, /fov lies from/],
    ['a shift of ten million', { path: { ...take.path, shiftX: [{ time: 0, value: 9e6 }] } }, /shiftX lies from/],
    ['a keyframe before the start', { path: { ...take.path, pan: [{ time: -1, value: 0 }] } }, /time of a keyframe/],
    ['a centre of 1e308', { orientation: { centre: { pan: 1e308, tilt: 0 } } }, /centre/],
    ['a pin before the start', { steady: { mode: 'pinned', pins: [{ time: -2, kind: 'filmed' }] } }, /time of a pin/],
    ['a list', [], /not a JSON object/],
    ['nothing', null, /not a JSON object/],
  ])('with %s is refused in words', (_, change, words) => {
    const plain = Array.isArray(change) || change === null ? change : { ...take, ...change };
    expect(() => readTake(plain)).toThrow(TakeError);
    expect(() => readTake(plain)).toThrow(words);
  });

  test.each(['follows', 'path', 'pace', 'look', 'steady', 'lookouts', 'orientation', 'reading'])(
    'whose %s is null is refused',
    (member) => expect(() => readTake({ ...take, [member]: null })).toThrow(new RegExp(member)),
  );

  test('with members that would hide its shape from the checks is checked all the same', () => {
    const plain = (json: string) => ({ ...take, later: JSON.parse(json) as unknown, ...(JSON.parse(json) as object) });
    expect(readTake(plain('{"constructor": 1}'))).toMatchObject({ footage: take.footage });
    expect(() => readTake({ ...plain('{"constructor": 1}'), range: { in: -1, out: 2, constructor: 1 } })).toThrow(/in/);
    expect(() => readTake(JSON.parse(JSON.stringify(take).replace('{', '{"__proto__": {}, "frame": 3, ')))).not.toThrow(
      TypeError,
    );
  });

  test('of many keyframes is read without copying them', () => {
    const pan = Array.from({ length: 5000 }, (_, i) => ({ time: i / 10, value: i }));
    expect(readTake({ ...take, path: { ...take.path, pan } }).path.pan).toBe(pan);
  });

  test('spins of many turns are taken, and members that are not known are kept', () => {
    const plain = {
      ...take,
      path: {
        ...take.path,
        pan: [
          { time: 0, value: 0 },
          { time: 3, value: 3600 },
        ],
      },
      later: { a: 1 },
    };
    expect(readTake(plain)).toMatchObject({ later: { a: 1 }, path: { pan: [{ value: 0 }, { value: 3600 }] } });
  });

  test('whatever JSON is read, it is taken or refused in words, never anything else', () => {
    fc.assert(
      fc.property(
        fc.json({ maxDepth: 6 }),
        fc.constantFrom('range', 'path', 'frame', 'orientation', 'steady', 'level', 'footage'),
        (json, member) => {
          try {
            readTake({ ...take, [member]: JSON.parse(json) as unknown });
          } catch (error) {
            expect(error).toBeInstanceOf(TakeError);
          }
        },
      ),
    );
  });
});

describe('settings of a clip', () => {
  const good = { width: 1920, height: 1080, codec: 'h264', rate: 30, quality: 19 };
  test('are taken as they are, without what is not known', () => {
    expect(readClipSettings({ ...good, evil: true })).toEqual(good);
  });
  test.each([
    ['a rate that is a list', { rate: [30] }, /rate/],
    ['an odd width', { width: 1921 }, /even/],
    ['no width', { width: undefined }, /width/],
    ['a huge height', { height: 1e9 }, /height/],
    ['an unknown codec', { codec: 'gif' }, /codec/],
    ['a quality beyond its range', { quality: 99 }, /quality/],
    ['a bit rate that is a text', { bitRate: '18M' }, /bitRate/],
    ['a comparison of spheres', { sphere: true, compare: 'beside' }, /compared/],
  ])('with %s are refused', (_, change, words) => {
    expect(() => readClipSettings({ ...good, ...change })).toThrow(ShapeError);
    expect(() => readClipSettings({ ...good, ...change })).toThrow(words);
  });
});

describe('a save', () => {
  const change = { first: 0, keep: 2, at: 2, patches: [whole(take)] };
  const good = { id: 'a-save-id', revision: 3, change };
  test('is read with its patches checked', () => {
    expect(readSave({ intent: 'save', ...good })).toEqual(good);
  });
  test.each<[string, object, RegExp]>([
    ['leaves nothing', { keep: 0, patches: [], at: 0 }, /no step/],
    ['has its present step nowhere', { at: 3 }, /not among/],
    ['has its present step before its first', { first: 1, at: 0 }, /not among/],
    ['counts in fractions', { keep: 1.5 }, /keep/],
    ['counts backwards', { at: -1 }, /at/],
    ['has more steps than there can be', { keep: 5000, at: 5000 }, /more than 600/],
    ['has operations that are none', { patches: [[{ op: 'move', path: '/a' }]] }, /add, remove or replace/],
    ['has operations without a place', { patches: [[{ op: 'add', value: 1 }]] }, /path/],
    ['has patches that are no list', { patches: 'all' }, /patches/],
  ])('that %s is refused', (_, more, words) => {
    expect(() => readSave({ ...good, change: { ...change, ...more } })).toThrow(words);
  });
  test('without an identity is refused', () => {
    expect(() => readSave({ ...good, id: undefined })).toThrow(/id/);
    expect(() => readSave({ ...good, change: null })).toThrow(/change/);
  });
  test('a whole history is checked likewise, each step of it', () => {
    const history = commit(startHistory<Take>(take), { ...take, reading: 24 });
    const plain = JSON.parse(JSON.stringify({ history: packHistory(history) })) as object;
    expect(readHistory(plain, readTake)).toEqual(history);
    const packed = packHistory(history);
    expect(() => readHistory({ history: { ...packed, at: 2 } }, readTake)).toThrow(/not among/);
    const wrong = [packed.patches[0]!, [{ op: 'add', path: '/reading', value: 1e9 }]];
    expect(() => readHistory({ history: { ...packed, patches: wrong } }, readTake)).toThrow(/reading/);
  });
  test('what is asked of a take, a footage and its motion is one of what is known', () => {
    const read = (Shape: new () => object, plain: unknown) => () => readShape(Shape, plain, 'No');
    expect(read(DocumentOrder, { intent: 'format-disk' })).toThrow(/intent/);
    expect(read(FootageOrder, { intent: 'take', range: { in: 'a', out: 2 } })).toThrow(/range.in/);
    expect(read(MotionOrder, { intent: 'correct', cuts: ['now'] })).toThrow(/cuts/);
    expect(read(MotionOrder, { intent: 'correct', bad: [{ in: 1 }] })).toThrow(/bad/);
    expect(read(MotionOrder, { intent: 'analyse', method: 'quick', use: 'no' })).not.toThrow();
  });
});

describe('remarks', () => {
  const none = { marks: [], ranges: [], tags: [], notes: '' };
  const mark = (id: string, time: number) => ({ what: 'mark', mark: { id, time, name: id } }) as const;

  test('two who mark different moments both keep their marks, in order', () => {
    const both = remarked(remarked(none, mark('b', 5), 10), mark('a', 2), 10);
    expect(both.marks.map((m) => m.id)).toEqual(['a', 'b']);
    expect(remarked(both, mark('a', 99), 10).marks.find((m) => m.id === 'a')!.time).toBe(10);
    expect(remarked(both, { what: 'unmark', id: 'a' }, 10).marks.map((m) => m.id)).toEqual(['b']);
  });

  test('ranges lie within the footage; one that is empty changes nothing', () => {
    const one = remarked(none, { what: 'range', range: { id: 'r', in: -1, out: 99 } }, 10);
    expect(one.ranges).toEqual([{ id: 'r', in: 0, out: 10 }]);
    expect(remarked(none, { what: 'range', range: { id: 'r', in: 11, out: 12 } }, 10)).toEqual(none);
    expect(remarked(one, { what: 'unrange', id: 'r' }, 10).ranges).toEqual([]);
  });

  test('tags are added and taken away one by one; notes written in two places are both kept', () => {
    const tagged = remarked(
      { ...none, tags: ['theirs', 'old'] },
      { what: 'tags', add: [' mine ', 'theirs'], remove: ['old'] },
      10,
    );
    expect(tagged.tags).toEqual(['theirs', 'mine']);
    const notes = (before: string, was: string) =>
      remarked({ ...none, notes: before }, { what: 'notes', notes: 'mine', was }, 10).notes;
    expect(notes('old', 'old')).toBe('mine');
    expect(notes('theirs', 'old')).toBe('mine\n\ntheirs');
  });

  test.each([
    [null],
    [{}],
    [{ what: 'mark', mark: { id: 'a', time: 'now', name: 'x' } }],
    [{ what: 'mark' }],
    [{ what: 'tags', add: 'x', remove: [] }],
    [{ what: 'notes', notes: 'x'.repeat(20_001), was: '' }],
    [{ what: 'unmark', id: 7 }],
  ])('a change that is none is refused: %j', (plain) => expect(() => readRemarkChange(plain)).toThrow(ShapeError));
});

test('the older names of the analyses are read for ever', () => {
  expect(['quick', 'thorough', 'points', 'patches', 'other', 7].map(methodNamed)).toEqual([
    'quick',
    'thorough',
    'quick',
    'thorough',
    null,
    null,
  ]);
  const frames = [{ time: 0, orientation: [0, 0, 0, 1] }];
  expect(
    readMotionDocument({ format: 'glimbo-motion', version: 1, rate: 30, method: 'patches', frames }),
  ).toMatchObject({ method: 'thorough' });
});
