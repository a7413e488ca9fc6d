/** The table of the look that is wanted, baked off the main thread. Asked faster than it can be baked, it skips what is old. */
import type { Cube } from '@glimbo/core/look/cube';
import type { Treatment } from '@glimbo/core/look/treatment';
import type { Baked, BakeOrder } from './look-baker.worker';
import type { TableImage } from './look-texture';

export class LookTables {
  private worker: Worker | null = null;
  private wanted = '';
  private id = 0;
  private cube: Cube | null = null;
  /** Whether the table that is shown is the one that is exported with. */
  settled = true;

  constructor(
    private readonly show: (table: TableImage | null) => void,
    private readonly failed: () => void,
  ) {}

  /** Asks for the table of a treatment; null where nothing is done, which is so at once. */
  want(treatment: Treatment | null) {
    const { lut, ...rest } = treatment ?? { grade: null };
    const cube = lut?.cube ?? null;
    const said = treatment ? JSON.stringify([rest, lut?.amount]) : '';
    if (said === this.wanted && (!cube || cube === this.cube)) return;
    this.wanted = said;
    this.id++;
    if (!treatment) {
      this.settled = true;
      this.show(null);
      return;
    }
    this.settled = false;
    const { lut: _, ...plain } = treatment;
    const order: BakeOrder = { id: this.id, treatment: { ...plain, lutAmount: lut?.amount ?? 0 } };
    if (cube && cube !== this.cube) order.cube = this.cube = cube;
    this.begun().postMessage(order);
  }

  private begun(): Worker {
    if (this.worker) return this.worker;
    this.worker = new Worker(new URL('./look-baker.worker.ts', import.meta.url), { type: 'module' });
    this.worker.onmessage = ({ data }: MessageEvent<Baked>) => {
      if (!this.wanted) return;
      // One of a moment before is better than none, but not after the one that is wanted.
      if (data.id !== this.id && this.settled) return;
      this.settled = data.last && data.id === this.id;
      this.show(data.table);
    };
    this.worker.onerror = () => this.giveUp();
    return this.worker;
  }

  /** After a failure the next look that is wanted goes to a new worker. */
  private giveUp() {
    this.dispose();
    this.worker = null;
    this.cube = null;
    this.wanted = '';
    this.settled = true;
    this.show(null);
    this.failed();
  }

  dispose() {
    this.worker?.terminate();
  }
}
