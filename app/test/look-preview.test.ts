/** Tables that are baked on demand, and small pictures of what the Frame sees: without a browser's means. */
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { IDENTITY } from '@glimbo/core/geometry/rotation';
import { DEFAULT_VIEW } from '@glimbo/core/lens/view';
import { cubeOf, writeCube } from '@glimbo/core/look/cube';
import { gradeOf } from '@glimbo/core/look/grade';
import { NEUTRAL } from '@glimbo/core/look/settings';
import { USUAL_PATCH } from '@glimbo/core/look/patch';
import { codesOfRgb } from '@glimbo/core/look/table';
import type { Baked, BakeOrder } from '../preview/look-baker.worker';
import { LookTables } from '../preview/look-tables';
import { cubesOf } from '../preview/cubes';
import { patchPixels } from '../preview/patch-picture';
import { colourAt, smallFrame } from '../preview/small-frame';

/** A worker that is answered by hand. */
class Stand {
  static last: Stand;
  orders: BakeOrder[] = [];
  ended = false;
  onmessage: (e: { data: Baked }) => void = () => {};
  onerror: () => void = () => {};
  constructor() {
    Stand.last = this;
  }
  postMessage(order: BakeOrder) {
    this.orders.push(order);
  }
  answer(id: number, last: boolean, missing = false) {
    this.onmessage({ data: { id, last, missing, table: { steps: last ? 65 : 33, points: new Uint16Array(4) } } });
  }
  terminate() {
    this.ended = true;
  }
}
const { Worker: before } = globalThis as { Worker?: typeof Worker };
beforeEach(() => {
  Object.assign(globalThis, { Worker: Stand });
});
afterEach(() => {
  Object.assign(globalThis, { Worker: before });
});

describe('tables of looks', () => {
  const bright = (exposure: number) => ({ grade: { ...NEUTRAL, exposure } });
  function tables() {
    const seen: string[] = [];
    const made = new LookTables({
      table: (table) => seen.push(table ? `table of ${table.steps}` : 'none'),
      missing: (missing) => seen.push(missing ? 'missing' : 'there'),
      failed: () => seen.push('failed'),
    });
    return { made, seen };
  }

  test('come small and then whole; only the whole one of what is wanted is settled', () => {
    const { made, seen } = tables();
    made.want(bright(1));
    expect(made.settled).toBe(false);
    Stand.last.answer(1, false);
    expect([made.settled, seen.at(-1)]).toEqual([false, 'table of 33']);
    Stand.last.answer(1, true);
    expect([made.settled, seen.at(-1)]).toEqual([true, 'table of 65']);
    made.want(bright(1));
    expect(Stand.last.orders).toHaveLength(1);
  });

  test('what is old is shown while something new is on its way, and never after it', () => {
    const { made, seen } = tables();
    made.want(bright(1));
    made.want(bright(2));
    Stand.last.answer(1, false);
    expect(seen).toEqual(['table of 33']);
    Stand.last.answer(2, true);
    Stand.last.answer(1, true);
    expect(seen.filter((s) => s === 'table of 65')).toHaveLength(1);
    made.want(null);
    expect([made.settled, seen.at(-1)]).toEqual([true, 'none']);
    Stand.last.answer(2, true);
    expect(seen.at(-1)).toBe('none');
  });

  test('a missing LUT is told, a failure too, and the next look is baked by another worker', () => {
    const { made, seen } = tables();
    made.want({ ...bright(0), lut: { file: 'gone.cube', amount: 1 } });
    Stand.last.answer(1, true, true);
    expect(seen).toContain('missing');
    const first = Stand.last;
    first.onerror();
    expect([first.ended, seen.at(-1), made.settled]).toEqual([true, 'failed', true]);
    made.want(bright(1));
    expect(Stand.last).not.toBe(first);
    made.dispose();
    expect(Stand.last.ended).toBe(true);
  });
});

/** A sphere laid flat whose right half is red and whose left half is green, with a blue strip below. */
function planes() {
  const [width, height] = [64, 32];
  const colourOf = (x: number, y: number) =>
    codesOfRgb(y >= 0.875 ? [0, 0, 1] : x > 0.5 ? [0.8, 0.1, 0.1] : [0.1, 0.7, 0.1]).map(Math.round);
  const plane = (w: number, h: number, p: number) =>
    Uint8Array.from({ length: w * h }, (_, i) => colourOf(((i % w) + 0.5) / w, (Math.floor(i / w) + 0.5) / h)[p]!);
  return { width, height, y: plane(width, height, 0), u: plane(32, 16, 1), v: plane(32, 16, 2) };
}

describe('small pictures', () => {
  const at = (pixels: Float32Array, i: number) =>
    [...pixels.subarray(3 * i, 3 * i + 3)].map((v) => Math.round(10 * v) / 10);

  test('show what the view sees, with its correction', () => {
    const frame = smallFrame(planes(), { ...DEFAULT_VIEW, fov: 60 }, IDENTITY, { width: 16, height: 9 })!;
    expect(at(frame.pixels, 4 * 16 + 2)).toEqual([0.1, 0.7, 0.1]);
    expect(at(frame.pixels, 4 * 16 + 13)).toEqual([0.8, 0.1, 0.1]);
    // Turned by half a turn, left and right change places.
    const turned = smallFrame(planes(), { ...DEFAULT_VIEW, fov: 60 }, [-1, 0, 0, 0, 1, 0, 0, 0, -1], {
      width: 16,
      height: 9,
    })!;
    expect(at(turned.pixels, 4 * 16 + 2)).toEqual([0.8, 0.1, 0.1]);
  });

  test('tell the colour in a direction', () => {
    expect(colourAt(planes(), [1, 0, 0])!.map((v) => Math.round(10 * v) / 10)).toEqual([0.8, 0.1, 0.1]);
    expect(colourAt(planes(), [0, -1, 0])![2]).toBeGreaterThan(0.9);
  });

  test('a patch is filled from its rim, or has its own colour', () => {
    const fill = patchPixels({ ...USUAL_PATCH, size: 10 }, planes(), IDENTITY, null)!;
    const middle = 3 * ((fill.side / 2) * fill.side + fill.side / 2);
    const [y, cb] = codesOfRgb([0, 0, 1]);
    expect(Math.abs(fill.pixels[middle]! - y)).toBeLessThan(8);
    expect(Math.abs(fill.pixels[middle + 1]! - cb)).toBeLessThan(3);
    const grey = patchPixels({ ...USUAL_PATCH, kind: 'colour', colour: '#808080' }, null, IDENTITY, null)!;
    expect([...grey.pixels.subarray(0, 3)]).toEqual(codesOfRgb([128 / 255, 128 / 255, 128 / 255]).map(Math.round));
    expect(patchPixels(USUAL_PATCH, null, IDENTITY, null)).toBeNull();
  });
});

describe('LUTs that looks name', () => {
  const text = writeCube(cubeOf('Dusk', gradeOf({ ...NEUTRAL, temperature: 30 }), 3));
  const answers = (...said: (string | null)[]) => {
    const asked: string[] = [];
    globalThis.fetch = ((address: string) => {
      asked.push(address);
      const body = said[Math.min(asked.length, said.length) - 1];
      return Promise.resolve(body === null ? new Response('', { status: 404 }) : new Response(body));
    }) as never;
    return asked;
  };

  test('are fetched and read once', async () => {
    const asked = answers(text);
    const [one, two] = await Promise.all([cubesOf('Dusk.1.cube'), cubesOf('Dusk.1.cube')]);
    expect(one.get('Dusk.1.cube')).toMatchObject({ kind: '3D', size: 3 });
    expect([two, await cubesOf('Dusk.1.cube')]).toEqual([one, one]);
    expect(asked).toEqual(['/media/materials/Dusk.1.cube']);
    expect((await cubesOf(undefined)).size).toBe(0);
  });

  test('that are missing or broken are none, and asked for again', async () => {
    const asked = answers(null, 'LUT_3D_SIZE 2', text);
    expect((await cubesOf('Late.2.cube')).size).toBe(0);
    expect((await cubesOf('Late.2.cube')).size).toBe(0);
    expect((await cubesOf('Late.2.cube')).size).toBe(1);
    expect(asked).toHaveLength(3);
  });
});
