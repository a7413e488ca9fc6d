/** Files that takes name: handed in, kept by their content, refused in words; and a footage's light. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { NEUTRAL } from '@glimbo/core/look/settings';
import { gradeOf } from '@glimbo/core/look/grade';
import { cubeOf, writeCube } from '@glimbo/core/look/cube';
import { allowed, facts, openWorld } from './world';

const { config, end } = await openWorld();
const { addFootage } = await import('../db/footage');
const materials = await import('../routes/materials');
const light = await import('../routes/light');
const { isMaterial, nameOfMaterial } = await import('../model/material');
afterAll(end);
beforeAll(() => void mkdirSync(config.materials, { recursive: true }));

async function hand(name: string, body: string | Uint8Array) {
  const request = new Request(`http://glimbo/materials?name=${encodeURIComponent(name)}`, {
    method: 'POST',
    body: body as BodyInit,
  });
  const answer = await materials.action({ request, params: {}, context: {} } as never);
  return { status: answer.status, said: (await answer.json()) as { file?: string; problem?: string } };
}

const cube = writeCube(cubeOf('Dusk', gradeOf({ ...NEUTRAL, temperature: 20 }), 3));
const svg = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 4 3"/>';
const png = Buffer.concat([
  Buffer.from('89504e470d0a1a0a0000000d4948445200000010000000080806000000', 'hex'),
  Buffer.alloc(20),
]);

describe('a file that a take may name', () => {
  test.each<[string, string | Uint8Array, string]>([
    ['Dusk over: the halt.cube', cube, 'Dusk over the halt.cube'],
    ['wheel.SVG', svg, 'wheel.svg'],
    ['Logo.png', png, 'Logo.png'],
    ['::.cube', cube, 'cube.cube'],
  ])('%s is kept under a name of its own', async (name, body, plain) => {
    const { status, said } = await hand(name, body);
    expect(status).toBe(200);
    expect([isMaterial(said.file!), nameOfMaterial(said.file!)]).toEqual([true, plain]);
    expect(readFileSync(join(config.materials, said.file!)).equals(Buffer.from(body))).toBe(true);
    // The same again is the same file.
    expect((await hand(name, body)).said.file).toBe(said.file);
  });

  test.each<[string, string | Uint8Array, RegExp]>([
    ['look.txt', cube, /no \.cube, \.png or \.svg/],
    ['broken.cube', 'behave: fails', /“broken.cube” It does not work\. Nothing was changed/],
    ['no.png', 'behave: fails', /“no.png” It does not work/],
  ])('%s is refused, and nothing is left', async (name, body, words) => {
    const before = readdirSync(config.materials);
    const { status, said } = await hand(name, body);
    expect([status, said.problem]).toEqual([422, expect.stringMatching(words)]);
    expect(readdirSync(config.materials)).toEqual(before);
    expect(readdirSync(config.work)).toEqual([]);
  });

  test.each(['../glimbo.sqlite', 'a.cube', 'a.0123456789ab.exe', 'a/b.0123456789ab.cube', ''])(
    '“%s” is no name of one',
    (file) => expect(isMaterial(file)).toBe(false),
  );
});

describe('the light of a footage', () => {
  const ask = (footageId: string) => light.loader({ params: { footageId } } as never);

  test('is handed out as it was measured; without a proxy there is none', async () => {
    const footage = await addFootage({
      name: 'Halt',
      file: join(allowed, 'halt.mp4'),
      inPlace: true,
      variableRate: false,
      facts: facts(),
    });
    expect((await ask(footage)).status).toBe(404);
    expect((await ask('gone')).status).toBe(404);
    const { db } = await import('../db/database');
    await db('footage')
      .where({ id: footage })
      .update({ gathered: JSON.stringify({ frames: 120 }) });
    mkdirSync(join(config.footage, footage), { recursive: true });
    writeFileSync(join(config.footage, footage, 'light.u8'), new Uint8Array([1, 2, 3]));
    const answer = await ask(footage);
    expect([answer.status, [...new Uint8Array(await answer.arrayBuffer())]]).toEqual([200, [1, 2, 3]]);
  });
});
