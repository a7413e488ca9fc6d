/** What a thread of the render pipeline is started with. */
import type { Cubes } from '@glimbo/core/look/treatment';
import type { MemoryPlan } from '@glimbo/kernel/memory';
import type { PlanTable } from './plan-table.js';

/** Rows of a picture, both even. */
export interface Rows {
  top: number;
  rows: number;
}

interface Shared {
  module: WebAssembly.Module;
  memory: WebAssembly.Memory;
  plan: MemoryPlan;
  counters: SharedArrayBuffer;
  table: PlanTable;
  /** The LUTs of its treatments. */
  cubes: Cubes;
  /** The image of its patch, straight RGBA. */
  patchImage?: Uint8Array;
}

export type WorkerSetup = Shared &
  (
    | {
        role: 'read';
        source: number;
        fifo: string;
        /** Frame of the footage that comes first out of the pipe. */
        begins: number;
        /** The rows of each picture that come. */
        part: Rows;
      }
    | { role: 'write'; fifo: string }
    | { role: 'draw'; index: number }
  );
