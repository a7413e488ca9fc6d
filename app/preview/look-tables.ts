/** The table of the look that is wanted, baked off the main thread. Asked faster than it can be baked, it skips what is old. */
import type { Treatment } from '@glimbo/core/look/treatment';
import type { Baked, BakeOrder } from './look-baker.worker';
import type { TableImage } from './look-texture';

export interface LookEvents {
  table: (table: TableImage | null) => void;
  failed: () => void;
  /** Whether the LUT that the look names could not be had. */
  missing: (missing: boolean) => void;
}

export class LookTables {
  private worker: Worker | null = null;
  private wanted = '';
  private id = 0;
  /** Whether the table that is shown is the one that is exported with. */
  settled = true;

  constructor(private readonly events: LookEvents) {}

  /** Asks for the table of a treatment; null where nothing is done, which is so at once. */
  want(treatment: Treatment | null) {
    const said = treatment ? JSON.stringify(treatment) : '';
    if (said === this.wanted) return;
    this.wanted = said;
    this.id++;
    this.settled = !treatment;
    if (!treatment) {
      this.events.missing(false);
      return this.events.table(null);
    }
    const order: BakeOrder = { id: this.id, treatment };
    this.begun().postMessage(order);
  }

  private begun(): Worker {
    if (this.worker) return this.worker;
    this.worker = new Worker(new URL('./look-baker.worker.ts', import.meta.url), { type: 'module' });
    this.worker.onmessage = ({ data }: MessageEvent<Baked>) => {
      // One of a moment before is better than none, but not after the one that is wanted.
      if (!this.wanted || (data.id !== this.id && this.settled)) return;
      this.settled = data.last && data.id === this.id;
      if (this.settled) this.events.missing(data.missing);
      this.events.table(data.table);
    };
    this.worker.onerror = () => this.giveUp();
    return this.worker;
  }

  /** After a failure the next look that is wanted goes to a new worker. */
  private giveUp() {
    this.dispose();
    this.worker = null;
    this.wanted = '';
    this.settled = true;
    this.events.table(null);
    this.events.failed();
  }

  dispose() {
    this.worker?.terminate();
  }
}
