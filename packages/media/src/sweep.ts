/** Writing the lanes of a footage as its band and its sound come in: the Sweep, activity, loudness. */
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { ACTIVITY_BLOCKS, ACTIVITY_GAP, activityRow, bandLuma } from '@glimbo/core/sweep/activity';
import { squeezeBand, SWEEP_TILE, SWEEP_WIDTH } from '@glimbo/core/sweep/sweep';
import { output } from './ffmpeg.js';

/** Height in pixels of the band round the horizon that a row is made of. */
export const BAND_HEIGHT = 24;
const BAND_BYTES = SWEEP_WIDTH * BAND_HEIGHT * 3;

/** Takes band pictures (RGB, SWEEP_WIDTH × BAND_HEIGHT) and writes `sweep.png`, `activity.png` and their tiles. */
export class SweepWriter {
  frames = 0;
  private readonly pending = new Uint8Array(BAND_BYTES);
  private filled = 0;
  private readonly gap: number;
  private readonly bands: Uint8Array[] = [];
  private readonly overview: { sweep: Uint8Array[]; activity: Uint8Array[] } = { sweep: [], activity: [] };
  private tile: { sweep: Uint8Array[]; activity: Uint8Array[] } = { sweep: [], activity: [] };
  private tiles = 0;
  private busiest = new Uint8Array(ACTIVITY_BLOCKS);
  private writing: Promise<void> = Promise.resolve();

  constructor(
    private readonly folder: string,
    rate: number,
    private readonly framesPerRow: number,
  ) {
    this.gap = Math.max(1, Math.round(rate * ACTIVITY_GAP));
  }

  take(chunk: Uint8Array) {
    for (let used = 0; used < chunk.length;) {
      const n = Math.min(chunk.length - used, BAND_BYTES - this.filled);
      this.pending.set(chunk.subarray(used, used + n), this.filled);
      used += n;
      this.filled += n;
      if (this.filled === BAND_BYTES) {
        this.filled = 0;
        this.band();
      }
    }
  }

  private band() {
    const row = new Uint8Array(SWEEP_WIDTH * 3);
    squeezeBand(this.pending, SWEEP_WIDTH, BAND_HEIGHT, row, 0);
    const luma = bandLuma(this.pending, BAND_HEIGHT);
    this.bands.push(luma);
    if (this.bands.length > this.gap + 1) this.bands.shift();
    const activity = this.bands.length > 1 ? activityRow(this.bands[0]!, luma) : new Uint8Array(ACTIVITY_BLOCKS);
    this.tile.sweep.push(row);
    this.tile.activity.push(activity);
    if (this.tile.sweep.length === SWEEP_TILE) this.closeTile();
    // A row of the overview shows its first frame, and the most that moved in any of its frames.
    if (this.frames % this.framesPerRow === 0) {
      this.overview.sweep.push(row);
      this.busiest = activity.slice();
      this.overview.activity.push(this.busiest);
    } else activity.forEach((v, i) => (this.busiest[i] = Math.max(this.busiest[i]!, v)));
    this.frames++;
  }

  private closeTile() {
    const { sweep, activity } = this.tile;
    const name = String(this.tiles++).padStart(4, '0');
    this.tile = { sweep: [], activity: [] };
    this.writing = this.writing.then(async () => {
      await this.write(`sweep-${name}.png`, sweep, 'rgb24');
      await this.write(`activity-${name}.png`, activity, 'gray');
    });
    // A failure is told by finish().
    this.writing.catch(() => {});
  }

  private async write(name: string, rows: Uint8Array[], format: 'rgb24' | 'gray') {
    const width = format === 'gray' ? ACTIVITY_BLOCKS : SWEEP_WIDTH;
    const png = await output('ffmpeg', [
      '-v', 'error', '-f', 'rawvideo', '-pix_fmt', format, '-s', `${width}x${rows.length}`, '-i', '-',
      '-frames:v', '1', '-c:v', 'png', '-f', 'image2pipe', '-',
    ], Buffer.concat(rows)); // prettier-ignore
    await writeFile(join(this.folder, name), png);
  }

  async finish() {
    if (this.tile.sweep.length) this.closeTile();
    await this.writing;
    await this.write('sweep.png', this.overview.sweep, 'rgb24');
    await this.write('activity.png', this.overview.activity, 'gray');
    return { rows: this.overview.sweep.length, tiles: this.tiles };
  }
}

/** Samples a second at which the sound is looked at. */
export const SOUND_RATE = 8000;
/** Loudness in dB below full scale that is shown as nothing. */
const QUIETEST = -54;

/** Takes mono 16-bit samples and gives one byte a frame: loudness (root mean square) from QUIETEST (0) to 0 dB (255). */
export class SoundWriter {
  private readonly loudness: number[] = [];
  private sum = 0;
  private count = 0;
  private odd: number | null = null;

  constructor(private readonly rate: number) {}

  take(chunk: Uint8Array) {
    let i = 0;
    if (this.odd !== null && chunk.length) {
      this.sample(this.odd | (chunk[0]! << 8));
      this.odd = null;
      i = 1;
    }
    for (; i + 1 < chunk.length; i += 2) this.sample(chunk[i]! | (chunk[i + 1]! << 8));
    if (i < chunk.length) this.odd = chunk[i]!;
  }

  private sample(unsigned: number) {
    const v = (unsigned > 32767 ? unsigned - 65536 : unsigned) / 32768;
    this.sum += v * v;
    this.count++;
    if (this.count >= SOUND_RATE / this.rate) {
      const decibels = 10 * Math.log10(this.sum / this.count + 1e-12);
      this.loudness.push(Math.round(255 * Math.max(0, Math.min(1, 1 - decibels / QUIETEST))));
      this.count -= SOUND_RATE / this.rate;
      this.sum = 0;
    }
  }

  finish(frames: number): Uint8Array {
    return Uint8Array.from({ length: frames }, (_, n) => this.loudness[n] ?? 0);
  }
}
