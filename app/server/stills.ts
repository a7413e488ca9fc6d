/** Stills made to look at: a folder that keeps the latest few, emptied at start. */
import { randomBytes } from 'node:crypto';
import { readdir, rm, stat } from 'node:fs/promises';
import type { Place } from '@glimbo/cli/place';
import { layout, onDisk } from '../base/layout';

/** How many stay: enough for what a page still shows. */
const KEPT = 40;

/** A place for a new still, and the address under which it can be had. Older ones make room. */
export async function newStill(): Promise<{ file: Place; address: string }> {
  const files = await readdir(onDisk(layout.all('stills')));
  if (files.length > KEPT) {
    const aged = await Promise.all(
      files.map(async (f) => ({ f, at: (await stat(onDisk(layout.still(f))).catch(() => null))?.mtimeMs ?? 0 })),
    );
    aged.sort((a, b) => a.at - b.at);
    for (const { f } of aged.slice(0, files.length - KEPT)) await rm(onDisk(layout.still(f)), { force: true });
  }
  const name = `${randomBytes(16).toString('hex')}.png`;
  return { file: layout.still(name), address: `/media/stills/${name}` };
}
