/** Bakes looks off the main thread: first a small table, at once, and then the one that is exported with. */
import { bake, UNIT, type Steps } from '@glimbo/core/look/table';
import type { Lattice } from '@glimbo/core/look/tetrahedral';
import { mapOf, type Cubes, type Treatment } from '@glimbo/core/look/treatment';
import { cubesOf } from './cubes';
import type { TableImage } from './look-texture';

export interface BakeOrder {
  id: number;
  treatment: Treatment;
}
export interface Baked {
  id: number;
  table: TableImage;
  /** Whether it is the one that is exported with. */
  last: boolean;
  /** Whether a LUT that it should have could not be had. */
  missing: boolean;
}

/** Milliseconds without another order after which the large table is worth its time. */
const CALM = 40;

let wanted: BakeOrder | null = null;
/** The order that came last. */
let latest = 0;

const image = ({ steps, values }: Lattice): TableImage => {
  const points = new Uint16Array(4 * steps ** 3);
  for (let i = 0; i < steps ** 3; i++)
    for (let k = 0; k < 3; k++) points[4 * i + k] = Math.round(UNIT * values[3 * i + k]!);
  return { steps, points };
};

function send({ id, treatment }: BakeOrder, cubes: Cubes, steps: Steps) {
  const table = image(bake(mapOf(treatment, cubes), steps));
  const missing = treatment.lut !== undefined && !cubes.has(treatment.lut.file);
  const baked: Baked = { id, table, last: steps === 65, missing };
  self.postMessage(baked, { transfer: [table.points.buffer] });
}

self.onmessage = ({ data }: MessageEvent<BakeOrder>) => {
  // Orders that have come meanwhile are read first: only the latest is baked.
  if (!wanted) setTimeout(() => void work());
  wanted = data;
  latest = data.id;
};

async function work() {
  let order: BakeOrder;
  let cubes: Cubes;
  // What has come while a LUT was fetched may want another one.
  do {
    order = wanted!;
    cubes = await cubesOf(order.treatment.lut?.file);
  } while (order !== wanted);
  wanted = null;
  send(order, cubes, 33);
  setTimeout(() => order.id === latest && send(order, cubes, 65), CALM);
}
