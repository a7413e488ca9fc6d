/** Writing the lanes of a footage as its band comes in: the Sweep and activity. */
import { rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { ACTIVITY_BLOCKS, ACTIVITY_GAP, activityRow, bandLuma } from '@glimbo/core/sweep/activity';
import { squeezeBand, SWEEP_TILE, SWEEP_WIDTH } from '@glimbo/core/sweep/sweep';
import { output } from './ffmpeg.js';

/** Height in pixels of the band round the horizon that a row is made of. */
export const BAND_HEIGHT = 24;
const BAND_BYTES = SWEEP_WIDTH * BAND_HEIGHT * 3;

/** Rows of the Sweep and of activity that go together. */
interface Rows {
  sweep: Uint8Array[];
  activity: Uint8Array[];
}

/** Where the lanes stood after some frames: what is needed to show them, and to go on from there. */
export interface LaneState {
  frames: number;
  tiles: number;
  overview: Rows;
  /** The rows of the tile that is not full yet. */
  tile: Rows;
  /** Luma of the last bands, which the next are compared with. */
  bands: Uint8Array[];
}

/** After how many frames each it is kept where the lanes stood. */
const KEPT_EVERY = 30;
/** For so many of these: an encoder is never so far behind, and however long the footage is, no more is held. */
const MOST_KEPT = 40;

const copyOf = (rows: Rows): Rows => ({ sweep: [...rows.sweep], activity: [...rows.activity] });

/** Takes band pictures (RGB, SWEEP_WIDTH × BAND_HEIGHT) and writes `sweep.png`, `activity.png` and their tiles. */
export class SweepWriter {
  frames = 0;
  private readonly pending = new Uint8Array(BAND_BYTES);
  private filled = 0;
  private readonly gap: number;
  private readonly bands: Uint8Array[] = [];
  private readonly overview: Rows = { sweep: [], activity: [] };
  private tile: Rows = { sweep: [], activity: [] };
  private tiles = 0;
  private busiest: Uint8Array = new Uint8Array(ACTIVITY_BLOCKS);
  private writing: Promise<void> = Promise.resolve();
  private kept: (Omit<LaneState, 'overview'> & { rows: number; busiest: Uint8Array })[] = [];

  constructor(
    private readonly folder: string,
    rate: number,
    private readonly framesPerRow: number,
    goOn?: LaneState,
  ) {
    this.gap = Math.max(1, Math.round(rate * ACTIVITY_GAP));
    if (!goOn) return;
    this.frames = goOn.frames;
    this.tiles = goOn.tiles;
    this.bands = [...goOn.bands];
    this.overview = copyOf(goOn.overview);
    this.tile = copyOf(goOn.tile);
    this.busiest = this.overview.activity.at(-1) ?? this.busiest;
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
    if (this.frames % KEPT_EVERY === 0) {
      const { frames, tiles, busiest } = this;
      const rows = this.overview.sweep.length;
      this.kept.push({
        frames,
        tiles,
        rows,
        busiest: busiest.slice(),
        tile: copyOf(this.tile),
        bands: [...this.bands],
      });
      if (this.kept.length > MOST_KEPT) this.kept.shift();
    }
  }

  /** Where the lanes stood after at most so many frames; null if that was not kept. What was before is forgotten. */
  upTo(frames: number): LaneState | null {
    while (this.kept[1] && this.kept[1].frames <= frames) this.kept.shift();
    const [first] = this.kept;
    if (!first || first.frames > frames) return null;
    const { rows, busiest, ...state } = first;
    const { sweep, activity } = this.overview;
    // What its last row was made of since then is not in it.
    return { ...state, overview: { sweep: sweep.slice(0, rows), activity: [...activity.slice(0, rows - 1), busiest] } };
  }

  /** Writes the overview and the open tile as they stood. Gives how many rows and tiles there are. */
  async publish({ overview, tile, tiles }: LaneState) {
    if (tile.sweep.length) this.writeTile(tiles, tile);
    await this.writing;
    await this.write('sweep.png', overview.sweep, 'rgb24');
    await this.write('activity.png', overview.activity, 'gray');
    return { rows: overview.sweep.length, tiles: tiles + (tile.sweep.length ? 1 : 0) };
  }

  private closeTile() {
    this.writeTile(this.tiles++, this.tile);
    this.tile = { sweep: [], activity: [] };
  }

  private writeTile(number: number, { sweep, activity }: Rows) {
    const name = String(number).padStart(4, '0');
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
    // Somebody may be looking at the one before.
    await writeFile(join(this.folder, `${name}.part`), png);
    await rename(join(this.folder, `${name}.part`), join(this.folder, name));
  }

  async finish() {
    if (this.tile.sweep.length) this.closeTile();
    await this.writing;
    await this.write('sweep.png', this.overview.sweep, 'rgb24');
    await this.write('activity.png', this.overview.activity, 'gray');
    return { rows: this.overview.sweep.length, tiles: this.tiles };
  }
}
