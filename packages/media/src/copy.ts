/** Copying originals, checked, and knowing them again by their content. */
import { createHash } from 'node:crypto';
import { open, rename, rm, stat, statfs } from 'node:fs/promises';
import { basename, dirname } from 'node:path';
import { fingerprintParts } from '@glimbo/core/gather/fingerprint';
import { MediaError } from './ffmpeg.js';

const CHUNK = 4 << 20;
/** Room in bytes that copying leaves free on a disk. */
const SPARE_ROOM = 500e6;

/**
 * What a file is known by whatever its name: SHA-256 (hexadecimal) of its size in decimal digits and one megabyte each
 * of its beginning, middle and end; of all of it up to three megabytes.
 */
export async function fingerprint(file: string): Promise<string> {
  const { size } = await stat(file);
  const hash = createHash('sha256').update(String(size));
  const handle = await open(file);
  try {
    for (const [from, to] of fingerprintParts(size)) {
      const bytes = Buffer.alloc(to - from);
      await handle.read(bytes, 0, bytes.length, from);
      hash.update(bytes);
    }
  } finally {
    await handle.close();
  }
  return hash.digest('hex');
}

/** Throws MediaError when a folder's disk has not enough room for so many bytes. */
export async function needRoom(folder: string, bytes: number) {
  const disk = await statfs(folder);
  const free = disk.bavail * disk.bsize - SPARE_ROOM;
  if (bytes > free)
    throw new MediaError(
      `There is not enough room on the disk: ${gigabytes(bytes)} are to be copied and ${gigabytes(Math.max(0, free))} are free. Nothing was copied; make room and try again.`,
    );
}

const gigabytes = (n: number) => `${(n / 1e9).toFixed(n < 1e9 ? 2 : 1)} GB`;

export interface CopyOptions {
  /** Gets the bytes that are done: half of each counts when it is written, half when it was read back. */
  progress?: (bytes: number) => void;
  signal?: AbortSignal;
}

/**
 * Copies a file, reads the copy back and compares check sums (SHA-256, given back in hexadecimal). It is written
 * beside its place and renamed when whole and right; otherwise nothing is left. Throws MediaError.
 */
export async function copyChecked(from: string, to: string, { progress, signal }: CopyOptions = {}): Promise<string> {
  const part = `${to}.part`;
  try {
    const { size } = await stat(from);
    const sum = await copyTo(from, part, (bytes) => progress?.(bytes / 2), signal);
    if ((await checksum(part, signal, (bytes) => progress?.((size + bytes) / 2))) !== sum)
      throw new MediaError(`${basename(from)} did not arrive as it was sent. Nothing of it was kept; copy it again.`);
    await rename(part, to);
    return sum;
  } catch (error) {
    await rm(part, { force: true });
    signal?.throwIfAborted();
    if (error instanceof MediaError) throw error;
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'ENOSPC')
      throw new MediaError(
        `The disk became full while ${basename(from)} was copied. Nothing half copied was kept; make room and copy it again.`,
      );
    const there = await stat(dirname(from)).then(
      () => true,
      () => false,
    );
    if (!there) throw new CardGoneError(basename(from));
    throw new MediaError(`${basename(from)} could not be read: ${(error as Error).message}. Nothing of it was kept.`);
  }
}

/** The folder that was copied from is not there any more. */
export class CardGoneError extends MediaError {
  constructor(name: string) {
    super(`The card was ejected while ${name} was copied. Nothing half copied was kept.`);
  }
}

async function copyTo(from: string, to: string, progress?: (bytes: number) => void, signal?: AbortSignal) {
  const hash = createHash('sha256');
  const source = await open(from);
  try {
    const target = await open(to, 'w');
    try {
      const buffer = Buffer.allocUnsafe(CHUNK);
      for (let done = 0; ;) {
        signal?.throwIfAborted();
        // A file that was opened can outlive its card: that it still has its name is asked each time.
        await stat(from);
        const { bytesRead } = await source.read(buffer, 0, CHUNK);
        if (bytesRead === 0) break;
        const bytes = buffer.subarray(0, bytesRead);
        hash.update(bytes);
        for (let sent = 0; sent < bytesRead;) sent += (await target.write(bytes, sent)).bytesWritten;
        done += bytesRead;
        progress?.(done);
      }
      await target.sync();
    } finally {
      await target.close();
    }
  } finally {
    await source.close();
  }
  return hash.digest('hex');
}

/** SHA-256 of a file in hexadecimal. */
export async function checksum(
  file: string,
  signal?: AbortSignal,
  progress?: (bytes: number) => void,
): Promise<string> {
  const hash = createHash('sha256');
  const handle = await open(file);
  try {
    const buffer = Buffer.allocUnsafe(CHUNK);
    for (let done = 0; ;) {
      signal?.throwIfAborted();
      const { bytesRead } = await handle.read(buffer, 0, CHUNK);
      if (bytesRead === 0) break;
      hash.update(buffer.subarray(0, bytesRead));
      progress?.((done += bytesRead));
    }
  } finally {
    await handle.close();
  }
  return hash.digest('hex');
}
