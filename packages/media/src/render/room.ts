/** Memory, module and counters for the frames of a plan. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { PixelFormat } from '@glimbo/core/colour/pixels';
import { createMemory, Kernel } from '@glimbo/kernel';
import { planMemory, type MemoryPlan } from '@glimbo/kernel/memory';
import { engineFolder } from '../ffmpeg.js';
import { placesOf, type Counted } from './counters.js';
import type { PlanTable } from './plan-table.js';
import type { RenderSource } from './sources.js';

interface Wanted {
  sources: Pick<RenderSource, 'width' | 'height' | 'format'>[];
  /** Sources that share a place, by their numbers. */
  lanes: number[][];
  /** How finished frames lie. */
  format: PixelFormat;
  /** How many pictures of each source, and how many finished frames, are held at once. */
  rings: number[];
  frames: number;
  workers: number;
}

export interface Room {
  layout: MemoryPlan;
  memory: WebAssembly.Memory;
  module: WebAssembly.Module;
  counted: Counted;
  counters: SharedArrayBuffer;
}

/** Makes room for carrying out a plan. */
export async function roomFor(table: PlanTable, wanted: Wanted): Promise<Room> {
  const { sources, lanes, format, rings, frames, workers } = wanted;
  const ring = Math.max(1, ...rings);
  const resources = {
    tables: table.treatments.count,
    overlays: table.overlays.count,
    patches: table.patchPictures.count,
  };
  const layout = planMemory({
    sources: sources.map((source, s) => ({
      ...source,
      smeared: table.pictures[s]!.smeared.includes(1),
      ring: rings[s]!,
    })),
    ...{ lanes, target: table, format, workers, ring, frames },
    ...resources,
    layers: table.mostJoined,
    mixing: table.mostShots > 1,
    detail: table.details.length > 0,
    parted: table.sectors.length > 0,
  });
  const memory = createMemory(layout.size);
  const module = await WebAssembly.compile(readFileSync(join(engineFolder(), 'kernel.wasm')));
  (await Kernel.create(module, memory, layout)).prepare();
  const counted = { sources: sources.length, ring, frames, ...resources };
  return { layout, memory, module, counted, counters: new SharedArrayBuffer(4 * placesOf(counted).count) };
}
