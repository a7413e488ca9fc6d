/** What is kept of a footage that is being gathered: what is there so far, and what is needed to go on after a kill. */
import { existsSync } from 'node:fs';
import { readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { deserialize, serialize } from 'node:v8';
import type { Source } from '@glimbo/core/stitch/source';
import { FragmentCounter, joinPieces, type Piece } from './growing.js';
import type { HeardSound, SoundWriter } from './sound-lane.js';
import type { LaneState, SweepWriter } from './sweep.js';

/** What a gathering can be gone on with. */
export interface Kept {
  /** What it was asked: another question begins anew. */
  asked: string;
  pieces: Piece[];
  lanes: LaneState;
  sound: HeardSound;
  source: Source;
}

const STATE = 'state.bin';

/** What an earlier attempt at the same left in a folder; null if there is nothing of use. */
export async function keptIn(folder: string, asked: string): Promise<Kept | null> {
  try {
    const kept = deserialize(await readFile(join(folder, STATE))) as Kept;
    const whole = kept.asked === asked && kept.pieces.every(({ file }) => existsSync(join(folder, file)));
    return whole ? kept : null;
  } catch {
    return null;
  }
}

/** The first snapshot after so many seconds of the footage, and the next ones each when there is so much more. */
const FIRST = 1;
const MORE = 1.4;

/** What of a footage is there before all of it is. */
export interface Grown {
  /** Frames that can be played. */
  ready: number;
  sweep: { rows: number; tiles: number };
}

const snapshotName = (frames: number) => `proxy-${frames}.mp4`;
export const pieceName = (from: number) => `piece-${from}.mp4`;
export const COMPANION = 'companion.mp4';
/** What only serves until the whole is there, whichever attempt made it. */
const SERVED = /^(state\.bin|pieces\.txt|companion\.mp4|(piece|proxy)-\d+\.mp4)(\.part)?$/;

/** Follows the encoder and the lanes, and makes snapshots of both. */
export class Growth {
  private readonly counter: FragmentCounter;
  private next: number;
  private busy: Promise<void> | null = null;
  private shown: string[] = [];
  private failed = false;

  constructor(
    private readonly folder: string,
    private readonly footage: { rate: number; frames: number },
    private readonly kept: Omit<Kept, 'lanes' | 'sound'>,
    private readonly lanes: SweepWriter,
    private readonly sound: SoundWriter,
    private readonly tell: (grown: Grown) => void,
  ) {
    this.counter = new FragmentCounter(join(folder, this.piece.file));
    this.next = Math.max(FIRST * footage.rate, this.piece.from * MORE);
  }

  private get piece() {
    return this.kept.pieces.at(-1)!;
  }

  /** Looks whether there is enough for another snapshot. A failure only means that there is none: the work itself will tell. */
  look() {
    if (this.failed) return;
    this.busy ??= this.snapshot()
      .catch(() => void (this.failed = true))
      .finally(() => (this.busy = null));
  }

  private async snapshot() {
    const { folder, kept } = this;
    const { rate, frames } = this.footage;
    const there = this.piece.from + (await this.counter.count());
    if (there < this.next) return;
    const lanes = this.lanes.upTo(there);
    // Of the last ones the whole is the snapshot.
    if (!lanes || lanes.frames < this.next || lanes.frames >= frames) return;
    const ready = lanes.frames;
    const proxy = snapshotName(ready);
    await joinPieces(folder, kept.pieces, ready, rate, join(folder, proxy));
    const sweep = await this.lanes.publish(lanes);
    const sound = this.sound.finish(ready);
    await writeFile(join(folder, 'sound.u8'), sound.loudness);
    await writeFile(join(folder, `${STATE}.part`), serialize({ ...kept, lanes, sound } satisfies Kept));
    await rename(join(folder, `${STATE}.part`), join(folder, STATE));
    this.next = Math.max(ready + FIRST * rate, ready * MORE);
    this.tell({ ready, sweep });
    // The one before may still be playing somewhere.
    this.shown.push(proxy);
    if (this.shown.length > 2) await rm(join(folder, this.shown.shift()!), { force: true });
  }

  /** Joins all pieces to the whole proxy and removes what only served on the way. */
  async finish() {
    await this.busy;
    const { folder, kept } = this;
    const { rate, frames } = this.footage;
    await joinPieces(folder, kept.pieces, frames, rate, join(folder, 'proxy.mp4'));
    for (const file of await readdir(folder)) if (SERVED.test(file)) await rm(join(folder, file));
  }
}
