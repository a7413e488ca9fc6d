/** Copies are checked, leave nothing half done, and files are known again by their content. */
import { afterAll, describe, expect, test } from '@jest/globals';
import { createHash, randomBytes } from 'node:crypto';
import {
  appendFileSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readCard } from '../src/card.js';
import { CardGoneError, checksum, copyChecked, fingerprint, needRoom } from '../src/copy.js';

const folder = mkdtempSync(join(tmpdir(), 'glimbo-copy-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const at = (name: string) => join(folder, name);
const sha = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');

describe('a checked copy', () => {
  test('has the same bytes, and gives their check sum', async () => {
    const bytes = randomBytes(9_000_001);
    writeFileSync(at('a'), bytes);
    const seen: number[] = [];
    expect(await copyChecked(at('a'), at('b'), { progress: (n) => seen.push(n) })).toBe(sha(bytes));
    expect(readFileSync(at('b')).equals(bytes)).toBe(true);
    expect(seen.at(-1)).toBe(bytes.length);
    expect(await checksum(at('b'))).toBe(sha(bytes));
  });

  test('that is cancelled, or whose card goes, leaves nothing', async () => {
    mkdirSync(at('card'));
    writeFileSync(at('card/film'), randomBytes(20_000_000));
    const stop = new AbortController();
    const cancelled = copyChecked(at('card/film'), at('c'), { signal: stop.signal, progress: () => stop.abort() });
    await expect(cancelled).rejects.toThrow(/abort/i);
    const gone = copyChecked(at('card/film'), at('d'), {
      progress: () => existsSync(at('card')) && renameSync(at('card'), at('drawer')),
    });
    await expect(gone).rejects.toThrow(CardGoneError);
    expect(readdirSync(folder).filter((f) => /^[cd]($|\.)/.test(f))).toEqual([]);
  });

  test('onto a disk that is full says so', async () => {
    // The copy is written to NAME.part: here that is the device that is always full.
    symlinkSync('/dev/full', at('e.part'));
    await expect(copyChecked(at('a'), at('e'))).rejects.toThrow(/disk became full/);
    expect(existsSync(at('e'))).toBe(false);
    await expect(needRoom(folder, 1e18)).rejects.toThrow(/not enough room/);
    await expect(needRoom(folder, 1)).resolves.toBeUndefined();
  });
});

describe('a fingerprint', () => {
  test('follows the content and not the name, and sees a change at either end or in length', async () => {
    const bytes = randomBytes(5_000_000);
    writeFileSync(at('one'), bytes);
    writeFileSync(at('two'), bytes);
    const mark = await fingerprint(at('one'));
    expect(await fingerprint(at('two'))).toBe(mark);
    appendFileSync(at('two'), 'x');
    expect(await fingerprint(at('two'))).not.toBe(mark);
    const other = Buffer.from(bytes);
    other[0]! ^= 1;
    writeFileSync(at('three'), other);
    expect(await fingerprint(at('three'))).not.toBe(mark);
    // As documented: size in digits, then the three samples.
    const M = 1 << 20;
    const middle = Math.floor((bytes.length - M) / 2);
    const parts = [String(bytes.length), bytes.subarray(0, M), bytes.subarray(middle, middle + M), bytes.subarray(-M)];
    expect(mark).toBe(parts.reduce((h, p) => h.update(p), createHash('sha256')).digest('hex'));
  });
});

test('a card is read with its subfolders, empty files told', async () => {
  mkdirSync(at('halt/FILMS'), { recursive: true });
  for (const [name, text] of [
    ['X_A.MP4', 'a'],
    ['X_B.MP4', ''],
    ['Y.MP4', 'y'],
    ['note.txt', 'n'],
    ['.hidden.mp4', 'h'],
  ] as const)
    writeFileSync(at(`halt/FILMS/${name}`), text);
  const found = await readCard(at('halt'));
  expect(found.map((r) => [r.name, r.files.length, r.problem])).toEqual([
    ['X', 2, 'One of its files is empty (0 bytes).'],
    ['Y', 1, null],
  ]);
});
