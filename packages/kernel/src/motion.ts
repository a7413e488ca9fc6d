/** Following small patches of the picture from frame to frame: the WASM module of the motion analysis with a typed face. */
import { DEGREES } from '@glimbo/core/geometry/rotation';
import { directionOf } from '@glimbo/core/geometry/sphere';
import type { Grid } from '@glimbo/core/motion/grid';
import type { Corner, PatchFrame, PatchTracker, WholeModel } from '@glimbo/core/motion/tracker';
import { ModuleRoom } from './module-room.js';

interface Exports {
  smooth(bytes: number, out: number, width: number, height: number, sums: number): void;
  halveLevel(from: number, out: number, width: number, height: number): void;
  findCorners(
    level: number,
    width: number,
    height: number,
    rows: number,
    columns: number,
    wanted: number,
    scratch: number,
    out: number,
  ): void;
  patchBytes(levels: number): number;
  takePatch(patch: number, levels: number, pyramid: number, width: number, frame: number): number;
  findPatches(
    patches: number,
    levels: number,
    count: number,
    slots: number,
    frames: number,
    alike: number,
    coarsest: number,
    pyramid: number,
    width: number,
  ): void;
  compareWhole(
    panorama: number,
    picture: number,
    width: number,
    model: number,
    cells: number,
    weights: number,
    out: number,
  ): void;
  mixWhole(panorama: number, picture: number, width: number, model: number, share: number): void;
}

const LEVELS = 4;
/** Corners are looked for on this level: half the frame's size. */
const CORNER_LEVEL = 1;
/** Whole pictures are held against each other on this level. */
const WHOLE_LEVEL = 1;

/**
 * A tracker for grey frames of width × width/2 pixels, with room for `capacity` patches. Corners are looked for in the cells of a
 * grid. Memory is fixed: some 20 bytes a pixel.
 */
export async function createTracker(
  module: WebAssembly.Module,
  width: number,
  capacity: number,
  { columns, first, cells }: Grid,
): Promise<PatchTracker> {
  const height = width / 2;
  const room = new ModuleRoom();
  const claim = (size: number) => room.claim(size);
  const bytes = claim(width * height);
  const levels = Array.from({ length: LEVELS }, (_, n) => claim(((width * height) >> (2 * n)) * 4));
  const scratch = claim(((width * height) >> (2 * CORNER_LEVEL)) * 12);
  const [pyramid, rows, wantedAt, found, frameAt] = [
    claim(LEVELS * 4),
    claim(columns.length * 4),
    claim(cells),
    claim(cells * 12),
    claim(72),
  ];
  const [wide, tall] = [width >> WHOLE_LEVEL, height >> WHOLE_LEVEL];
  const panorama = claim(wide * tall * 4);
  const [cellsAt, weightsAt, modelAt, sumsAt] = [claim(wide * tall * 2), claim(cells * 4), claim(96), claim(176)];
  const [slotsAt, framesAt, alikeAt] = [claim(capacity * 4), claim(capacity * 72), claim(capacity * 4)];
  const patches = claim(0);
  // A patch's size is known only from the module; no level of it takes more than this.
  const { memory, wasm } = await room.start<Exports>(module, capacity * LEVELS * 2048);
  const patchSize = wasm.patchBytes(LEVELS);
  new Uint32Array(memory.buffer, pyramid, LEVELS).set(levels);
  new Int32Array(memory.buffer, rows, columns.length).set(columns);
  const frame = new Float64Array(memory.buffer, frameAt, 9);
  const cellOfPixel = new Uint16Array(memory.buffer, cellsAt, wide * tall);
  for (let y = 0, i = 0; y < tall; y++) {
    const r = Math.floor((y * columns.length) / tall);
    for (let x = 0; x < wide; x++) cellOfPixel[i++] = first[r]! + Math.floor((x * columns[r]!) / wide);
  }
  const setModel = ({ rotation, gain, lift, steep }: WholeModel) =>
    new Float64Array(memory.buffer, modelAt, 12).set([...rotation, gain, lift, steep]);
  const setFrame = ({ direction, across, up }: PatchFrame) => {
    frame.set(direction);
    frame.set(across, 3);
    frame.set(up, 6);
  };

  return {
    width,
    capacity,
    setPicture(grey) {
      new Uint8Array(memory.buffer, bytes, width * height).set(grey);
      wasm.smooth(bytes, levels[0]!, width, height, scratch);
      for (let n = 1; n < LEVELS; n++) wasm.halveLevel(levels[n - 1]!, levels[n]!, width >> (n - 1), height >> (n - 1));
    },
    corners(wanted) {
      new Uint8Array(memory.buffer, wantedAt, cells).set(wanted);
      wasm.findCorners(
        levels[CORNER_LEVEL]!,
        width >> CORNER_LEVEL,
        height >> CORNER_LEVEL,
        columns.length,
        rows,
        wantedAt,
        scratch,
        found,
      );
      const values = new Float32Array(memory.buffer, found, cells * 3);
      const corners: Corner[] = [];
      for (let cell = 0; cell < cells; cell++)
        if (wanted[cell] && values[cell * 3]! > 0)
          corners.push({
            cell,
            score: values[cell * 3]!,
            direction: directionOf(values[cell * 3 + 1]! * DEGREES, values[cell * 3 + 2]! * DEGREES),
          });
      return corners;
    },
    take(slot, at) {
      setFrame(at);
      return wasm.takePatch(patches + slot * patchSize, LEVELS, pyramid, width, frameAt);
    },
    search: {
      slots: new Int32Array(memory.buffer, slotsAt, capacity),
      frames: new Float64Array(memory.buffer, framesAt, capacity * 9),
      alike: new Float32Array(memory.buffer, alikeAt, capacity),
    },
    find(count, coarsest) {
      const from = Math.min(LEVELS - 1, coarsest);
      wasm.findPatches(patches, LEVELS, count, slotsAt, framesAt, alikeAt, from, pyramid, width);
    },
    compare(model, weights) {
      setModel(model);
      new Float32Array(memory.buffer, weightsAt, cells).set(weights);
      wasm.compareWhole(panorama, levels[WHOLE_LEVEL]!, wide, modelAt, cellsAt, weightsAt, sumsAt);
      return new Float64Array(memory.buffer, sumsAt, 22);
    },
    mixIn(model, share) {
      setModel(model);
      wasm.mixWhole(panorama, levels[WHOLE_LEVEL]!, wide, modelAt, share);
    },
  };
}
