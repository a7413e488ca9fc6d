/** Up proposed on photographs of real scenes that are leaned by known amounts. */
import { afterAll, expect, jest, test } from '@jest/globals';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { angleBetween, type Vec3 } from '@glimbo/core/geometry/rotation';
import { proposeUp } from '@glimbo/core/level/proposal';
import { Stance } from '@glimbo/core/level/stance';
import { SURE } from '@glimbo/core/level/sure';
import { createPrepare } from '@glimbo/kernel/slopes';
import { bareScenes } from '../../../bench/bare-scenes';
import { leanedPhotographs, leanedPictures, SCENES, WIDTH } from '../../../bench/photographs';

// It waits for ffmpeg, on any machine.
jest.setTimeout(120_000);

const module = await WebAssembly.compile(readFileSync(resolve('build/engine/motion.wasm')));
const prepare = await createPrepare(module, WIDTH);
const folder = mkdtempSync(join(tmpdir(), 'glimbo-photographs-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** Here, where computing takes long; the bench has them all. */
const EVERY_OTHER = SCENES.filter((_, i) => i % 2 === 0);

test('what is sure is right: on leaned, noisy, compressed photographs of many scenes', () => {
  const judged = leanedPhotographs(EVERY_OTHER, folder, { each: 1, seed: 11 }).map(({ scene, grey, up }) => {
    const found = proposeUp(prepare(grey), [0, 1, 0]);
    return { scene, confidence: found.confidence, off: angleBetween(found.up, up) };
  });
  const sure = judged.filter((j) => j.confidence >= SURE);
  const off = sure.map((j) => j.off).sort((a, b) => a - b);
  expect(sure.length / judged.length).toBeGreaterThan(0.5);
  expect(off[off.length >> 1]).toBeLessThan(1.5);
  expect(off.at(-1)).toBeLessThan(10);
});

test('a lean is not taken for more than it is, however narrow what stands upright', () => {
  // The workshop and the wood are full of thin uprights: their lean comes out without a bias.
  for (const { grey, up } of leanedPhotographs(['workshop', 'forest'], folder, { each: 1, seed: 3 })) {
    const found = proposeUp(prepare(grey), [0, 1, 0]);
    expect(found.confidence).toBeGreaterThan(0.9);
    expect(angleBetween(found.up, up)).toBeLessThan(1.5);
  }
});

test.each<[string, Vec3]>([
  ['upright', [0, 1, 0]],
  ['head down', [0, -1, 0]],
  ['on a side', [1, 0, 0]],
])('rigs under an open sky that are %s are known to be', (_, up) => {
  for (const { grey } of leanedPhotographs(['city', 'sunset'], folder, { each: 1, up })) {
    const stance = new Stance();
    stance.look(prepare(grey));
    expect(stance.axis.up).toEqual(up);
    expect(stance.axis.confidence).toBeGreaterThan(0.8);
  }
});

test('of drawn scenes without uprights what is sure is right too; water and dunes tell', () => {
  const { 'open water': water, dunes, fog } = bareScenes();
  for (const { scene, grey, up } of leanedPictures({ water: water!, dunes: dunes!, fog: fog! }, folder, { each: 1 })) {
    const found = proposeUp(prepare(grey), [0, 1, 0]);
    if (scene !== 'fog') expect(found.confidence).toBeGreaterThan(SURE);
    if (found.confidence >= SURE) expect(angleBetween(found.up, up)).toBeLessThan(10);
  }
});
