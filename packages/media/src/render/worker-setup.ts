/** What a thread of the render pipeline is started with. */
import type { MemoryPlan } from '@glimbo/kernel/memory';
import type { Counted } from './counters.js';
import type { EngineMaterials } from './frame-engine.js';
import type { PlanTable } from './plan-table.js';

/** Rows of a picture, both even. */
export interface Rows {
  top: number;
  rows: number;
}

/** How a source's pictures are read. */
export interface Reading {
  source: number;
  fifo: string;
  /** Frame of the source that comes first out of the pipe. */
  begins: number;
  /** The rows of each picture that come. */
  part: Rows;
  /** How many frames of the clip must be written before its place is free. */
  after: number;
}

interface Shared {
  module: WebAssembly.Module;
  memory: WebAssembly.Memory;
  plan: MemoryPlan;
  counters: SharedArrayBuffer;
  counted: Counted;
  table: PlanTable;
  materials: EngineMaterials;
}

export type WorkerSetup = Shared &
  (
    | {
        role: 'read';
        /** One after the other. */
        readings: Reading[];
      }
    | { role: 'write'; fifo: string }
    | { role: 'draw'; index: number }
  );
