/** Parting shots by a sector in the kernel: its weight against the core's, and what is drawn on both sides. */
import { expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { YUV420 } from '@glimbo/core/colour/pixels';
import { apply, IDENTITY } from '@glimbo/core/geometry/rotation';
import { directionOf } from '@glimbo/core/geometry/sphere';
import { codesOfColour } from '@glimbo/core/look/patch';
import { edgesOf, USUAL_SECTOR, weightIn, type Sector } from '@glimbo/core/look/sector';
import { cameraDirection, DEFAULT_VIEW, type View } from '@glimbo/core/lens/view';
import { sphereShot, viewShot, type Shot } from '@glimbo/core/plan/shot';
import { createMemory, Kernel, stripesOf } from '../src/index.js';
import { planMemory } from '../src/memory.js';

/** Mip levels everywhere. */
const ALL = { mips: { from: 0, to: Infinity } };
const wasm = await WebAssembly.compile(readFileSync(resolve('build/engine/kernel.wasm')));
const SPHERE = { kind: 'sphere' } as const;
const [w, h] = [256, 128];

interface Asked {
  sector: Sector;
  view: Partial<View> | 'sphere';
  /** Luma of the take's footage, and of the twin's; null: none. */
  own: number;
  other: number | null;
  gain?: number;
  parted?: boolean;
}

async function drawn({ sector, view, own, other, gain = 1, parted = true }: Asked) {
  const size = view === 'sphere' ? { width: 256, height: 128 } : { width: 208, height: 152 };
  const plan = planMemory({
    sources: [
      { width: w, height: h, format: YUV420 },
      { width: w, height: h, format: YUV420 },
    ],
    target: size,
    format: YUV420,
    workers: 1,
    ring: 1,
    parted: true,
  });
  const memory = createMemory(plan.size);
  const kernel = await Kernel.create(wasm, memory, plan);
  kernel.prepare([SPHERE, SPHERE]);
  const [slot, twinSlot] = plan.sources.map((ring) => ring[0]!) as [
    (typeof plan.sources)[0][0],
    (typeof plan.sources)[0][0],
  ];
  const bytes = new Uint8Array(memory.buffer);
  for (const [s, luma] of [
    [slot, own],
    [twinSlot, other ?? 0],
  ] as const)
    for (let i = 0; i < s.bytes; i++) bytes[s.pointer + i] = i < w * h ? luma + ((i * 7) % 40) : 120 + (i % 9);
  const seen = { source: SPHERE, time: 0, ...size };
  const shot = view === 'sphere' ? sphereShot(IDENTITY, seen) : viewShot({ ...DEFAULT_VIEW, ...view }, IDENTITY, seen);
  const toWorld = 'rotation' in shot.picture ? shot.picture.rotation : IDENTITY;
  const twin = other === null ? null : { source: SPHERE, time: 0, toSource: shot.toSource, gain };
  const whole: Shot = parted ? { ...shot, parted: { toWorld, twin } } : shot;
  for (const [s, of] of [
    [slot, shot],
    [twinSlot, shot],
  ] as const)
    kernel.ready(of, s, ALL, 0, 1, 0);
  const target = plan.targets[0]!;
  for (const { row, rows } of stripesOf(size.height))
    kernel.draw(whole, slot, target, row, rows, 0, { sector: { sector, twin: other === null ? null : twinSlot } });
  const picture = bytes.slice(target.pointer, target.pointer + target.bytes);
  const direction = (x: number, y: number) =>
    'rotation' in shot.picture
      ? apply(toWorld, cameraDirection({ ...shot.picture, rotation: IDENTITY }, x + 0.5, y + 0.5)!)
      : directionOf(((x + 0.5) / size.width - 0.5) * 360, (0.5 - (y + 0.5) / size.height) * 180);
  return { picture, direction, ...size };
}

const views: [string, Partial<View> | 'sphere', Sector][] = [
  ['a view', { fov: 100, pan: 30 }, { ...USUAL_SECTOR, from: 10, to: 60, bottom: -20, top: 25, feather: 8 }],
  [
    'a planet',
    { fov: 300, bend: 1, tilt: -90 },
    { ...USUAL_SECTOR, from: 90, to: -90, bottom: -70, top: 90, feather: 3 },
  ],
  ['a sphere', 'sphere', { ...USUAL_SECTOR, from: 40, to: 20, bottom: -50, top: 50, feather: 12 }],
];

test.each(views)('mixes by the core’s weight in %s', async (_, view, sector) => {
  const asked = { sector, view, own: 30, other: 180 };
  const { picture, direction, width, height } = await drawn(asked);
  const kept = await drawn({ ...asked, parted: false });
  const there = await drawn({ ...asked, own: 180, parted: false });
  let [off, partly] = [0, 0];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const weight = Math.max(0, Math.min(1, weightIn(edgesOf(sector), direction(x, y))));
      const at = y * width + x;
      const wanted = there.picture[at]! + (kept.picture[at]! - there.picture[at]!) * weight;
      // Where two edges meet in less than a tile, a corner may be rounded off.
      if (Math.abs(picture[at]! - wanted) > 1.5) off++;
      if (weight > 0 && weight < 1) partly++;
    }
  expect(partly).toBeGreaterThan(200);
  expect(off).toBeLessThan(6);
});

test('the same picture on both sides is that picture, byte for byte', async () => {
  for (const [, view, sector] of views) {
    const asked = { sector, view, own: 60, other: 60 };
    expect(Buffer.compare((await drawn(asked)).picture, (await drawn({ ...asked, parted: false })).picture)).toBe(0);
  }
});

test('a gain changes the twin’s signal alone; without a twin there is the colour', async () => {
  const sector = { ...USUAL_SECTOR, from: 0, to: 90, feather: 0, colour: '#204060' };
  const half = await drawn({ sector, view: 'sphere', own: 100, other: 100, gain: 0.5 });
  const plain = await drawn({ sector, view: 'sphere', own: 100, other: 100 });
  const [inside, outside] = [64 * 256 + 160, 64 * 256 + 40];
  expect(half.picture[inside]).toBe(plain.picture[inside]);
  expect(half.picture[outside]).toBe(Math.round((plain.picture[outside]! - 16) / 2 + 16));
  const coloured = await drawn({ sector, view: 'sphere', own: 100, other: null });
  const [y, u, v] = codesOfColour(sector.colour);
  expect(coloured.picture[outside]).toBe(y);
  const chroma = 32 * 128 + 20;
  expect([coloured.picture[256 * 128 + chroma], coloured.picture[256 * 128 + 64 * 128 + chroma]]).toEqual([u, v]);
  expect(coloured.picture[inside]).toBe(plain.picture[inside]);
  // Turned, edges go along: what is kept lies in the world.
  const aside = await drawn({ sector, view: { pan: -90 }, own: 100, other: null });
  expect(new Set(aside.picture.subarray(70 * 208, 71 * 208))).toEqual(new Set([y]));
});
