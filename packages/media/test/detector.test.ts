import { expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { angleBetween, type Vec3 } from '@glimbo/core/geometry/rotation';
import { inViewOf, shippedDetector } from '../src/detector.js';
import { recognisedAlong } from '../src/recognise-subjects.js';

const clip = (name: string) => fileURLToPath(new URL(`../../demo/clips/${name}`, import.meta.url));

test('of all classes people, animals and vehicles are told, where they are like that at all', () => {
  const box = [10, 20, 30, 60] as const;
  const rows = [
    [...box, 0.9, 0],
    [...box, 0.8, 7],
    [...box, 0.7, 16],
    [...box, 0.9, 32],
    [...box, 0.1, 0],
    [30, 20, 10, 60, 0.9, 0],
  ];
  expect(inViewOf(rows).map(({ kind, likeness }) => [kind, likeness])).toEqual([
    ['person', 0.9],
    ['vehicle', 0.8],
    ['animal', 0.7],
  ]);
  expect(inViewOf(rows)[0]).toMatchObject({ left: 10, top: 20, right: 30, bottom: 60 });
});

test('the one that ships recognises visitors of the demo, where they truly stand', async () => {
  const detector = (await shippedDetector())!;
  const facts = { rate: 30, frames: 90 };
  const moments = await recognisedAlong(clip('ridge-loop.mp4'), facts, detector, { motion: null });
  expect(moments.map(({ frame }) => frame)).toEqual([0, 75]);
  const truth = JSON.parse(readFileSync(clip('ridge-loop.truth.json'), 'utf8')) as {
    subjects: { name: string; looks: [frame: number, x: number, y: number, z: number, size: number, seen: number][] }[];
  };
  const plain = moments.flatMap(({ frame, seen }) =>
    seen.filter(({ likeness }) => likeness > 0.45).map((one) => ({ frame, ...one })),
  );
  expect(plain.length).toBeGreaterThan(1);
  for (const { frame, kind, direction } of plain) {
    const off = truth.subjects.map(({ looks }) => {
      const [, x, y, z, size] = looks[frame / 3]!;
      return angleBetween(direction, [x, y, z] as Vec3) / size;
    });
    expect(kind).toBe('person');
    expect(Math.min(...off)).toBeLessThan(0.5);
  }
}, 120_000);
