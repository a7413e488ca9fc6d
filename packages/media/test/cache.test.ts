/** What is kept of files in the user's cache. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { cachePlace } from '../src/cache.js';

const folder = mkdtempSync(join(tmpdir(), 'glimbo-cache-'));
const before = process.env.XDG_CACHE_HOME;
beforeAll(() => {
  process.env.XDG_CACHE_HOME = join(folder, 'cache');
});
afterAll(() => {
  if (before === undefined) delete process.env.XDG_CACHE_HOME;
  else process.env.XDG_CACHE_HOME = before;
  rmSync(folder, { recursive: true, force: true });
});

const file = (name: string) => {
  const path = join(folder, name);
  writeFileSync(path, name);
  return path;
};

test('a file has one place for each kind, another once it has changed; what is not there has none', async () => {
  const place = await cachePlace(file('one.mp4'), 'moving');
  expect(place).toBe(await cachePlace(join(folder, 'one.mp4'), 'moving'));
  expect(place).not.toBe(await cachePlace(join(folder, 'one.mp4'), 'light'));
  writeFileSync(join(folder, 'one.mp4'), 'changed');
  expect(await cachePlace(join(folder, 'one.mp4'), 'moving')).not.toBe(place);
  expect(await cachePlace(join(folder, 'gone.mp4'), 'moving')).toBeNull();
});

test('what was asked for longest ago is removed, and what is asked for again stays', async () => {
  const places: string[] = [];
  for (let n = 0; n < 30; n++) {
    const place = (await cachePlace(file(`${n}.mp4`), 'worlds'))!;
    mkdirSync(place, { recursive: true });
    writeFileSync(join(place, 'world'), 'known');
    utimesSync(place, 1000 + n, 1000 + n);
    places.push(place);
    // The first is asked for all the time.
    await cachePlace(join(folder, '0.mp4'), 'worlds');
  }
  expect(existsSync(places[0]!)).toBe(true);
  expect(existsSync(places[1]!)).toBe(false);
  expect(existsSync(places[29]!)).toBe(true);
  expect(readdirSync(join(folder, 'cache', 'glimbo', 'worlds'))).toHaveLength(24);
});
