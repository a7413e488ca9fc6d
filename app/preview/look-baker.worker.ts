/** Bakes looks off the main thread: first a small table, at once, and then the one that is exported with. */
import type { Cube } from '@glimbo/core/look/cube';
import { bake, UNIT } from '@glimbo/core/look/table';
import type { Lattice } from '@glimbo/core/look/tetrahedral';
import { mapOf, type Treatment } from '@glimbo/core/look/treatment';
import type { TableImage } from './look-texture';

export interface BakeOrder {
  id: number;
  /** The treatment without its LUT, which is sent only when it changes. */
  treatment: Omit<Treatment, 'lut'> & { lutAmount: number };
  cube?: Cube | null;
}
export interface Baked {
  id: number;
  table: TableImage;
  /** Whether it is the one that is exported with. */
  last: boolean;
}

/** Milliseconds without another order after which the large table is worth its time. */
const CALM = 40;

let cube: Cube | null = null;
let wanted: BakeOrder | null = null;
/** The order that came last. */
let latest = 0;

const image = ({ steps, values }: Lattice): TableImage => {
  const points = new Uint16Array(4 * steps ** 3);
  for (let i = 0; i < steps ** 3; i++)
    for (let k = 0; k < 3; k++) points[4 * i + k] = Math.round(UNIT * values[3 * i + k]!);
  return { steps, points };
};

function send(order: BakeOrder, steps: 33 | 65) {
  const { lutAmount, ...treatment } = order.treatment;
  const lut = cube && lutAmount > 0 ? { lut: { cube, amount: lutAmount } } : {};
  const table = image(bake(mapOf({ ...treatment, ...lut }), steps));
  const baked: Baked = { id: order.id, table, last: steps === 65 };
  self.postMessage(baked, { transfer: [table.points.buffer] });
}

self.onmessage = ({ data }: MessageEvent<BakeOrder>) => {
  if (data.cube !== undefined) cube = data.cube;
  // Orders that have come meanwhile are read first: only the latest is baked.
  if (!wanted) setTimeout(work);
  wanted = data;
  latest = data.id;
};

function work() {
  const order = wanted!;
  wanted = null;
  send(order, 33);
  setTimeout(() => order.id === latest && send(order, 65), CALM);
}
