/** Files that takes name, tried before they are taken in: whole ones pass, all else is refused in words, soon. */
import { afterAll, beforeAll, describe, expect, jest, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { checkMaterial, overlayMaterials } from '../src/materials.js';

// It waits for ffmpeg, on any machine.
jest.setTimeout(60_000);
process.env.GLIMBO_ENGINE ??= resolve('build/engine');
const folder = mkdtempSync(join(tmpdir(), 'glimbo-materials-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

let png: Buffer;
beforeAll(() => {
  const file = join(folder, 'logo.png');
  execFileSync('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', 'testsrc=s=64x48', '-frames:v', '1', file]);
  png = readFileSync(file);
});
const given = (name: string, body: string | Uint8Array) => {
  const file = join(folder, name);
  writeFileSync(file, body);
  return file;
};

describe('a picture or a LUT', () => {
  test('that is whole passes, its tag quoted either way', async () => {
    const svg = `<svg xmlns='http://www.w3.org/2000/svg' width='8' height='4'><rect width='8' height='4'/></svg>`;
    await checkMaterial(given('whole.png', png), 'png');
    await checkMaterial(given('whole.svg', svg), 'svg');
    await checkMaterial(given('whole.cube', `LUT_1D_SIZE 2\r\n0 0 0\r\n1 1 1`), 'cube');
  });

  test('that is cut short, or is something else, is refused', async () => {
    const svg = '<svg xmlns="http://www.w3.org/2000/svg" width="8" height="4"><rect width="8"';
    await expect(checkMaterial(given('half.png', png.subarray(0, png.length / 2)), 'png')).rejects.toThrow(/cut short/);
    await expect(checkMaterial(given('half.svg', svg), 'svg')).rejects.toThrow(/cut short/);
    await expect(checkMaterial(given('png.svg', png), 'svg')).rejects.toThrow(/no SVG picture/);
    await expect(checkMaterial(given('half.cube', 'LUT_3D_SIZE 2\n0 0 0'), 'cube')).rejects.toThrow(/cut short/);
    const huge = Buffer.from(png);
    huge.writeUInt32BE(16_000, 16);
    huge.writeUInt32BE(16_000, 20);
    await expect(checkMaterial(given('huge.png', huge), 'png')).rejects.toThrow(/too large/);
  });

  test('that a take names and that was cut short ends its export in words, and is not left out of it', async () => {
    given('half.png', png.subarray(0, png.length - 20));
    const overlays = [{ kind: 'picture', file: 'half.png' }] as never;
    await expect(overlayMaterials({ look: { overlays } }, { materials: folder })).rejects.toThrow(/cut short/);
  });
});
