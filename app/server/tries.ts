/** A brake on guessing: after some failures an address has to wait before it may try again. */

interface Kept {
  failures: number;
  until: number;
}

/** Failures that cost nothing, the first wait after them, and the longest, in milliseconds. Each wait is twice the one before. */
const FREE = 5;
const FIRST_WAIT = 10_000;
const LONGEST_WAIT = 15 * 60_000;
/** Addresses that are remembered; the oldest make room. */
const MOST = 1000;

export class Tries {
  private readonly kept = new Map<string, Kept>();

  constructor(private readonly now: () => number = Date.now) {}

  /** Seconds that an address still has to wait; 0 when it may try. */
  wait(address: string): number {
    return Math.max(0, Math.ceil(((this.kept.get(address)?.until ?? 0) - this.now()) / 1000));
  }

  failed(address: string) {
    const failures = (this.kept.get(address)?.failures ?? 0) + 1;
    const wait = failures < FREE ? 0 : Math.min(LONGEST_WAIT, FIRST_WAIT * 2 ** (failures - FREE));
    this.kept.delete(address);
    this.kept.set(address, { failures, until: this.now() + wait });
    if (this.kept.size > MOST) this.kept.delete(this.kept.keys().next().value!);
  }

  succeeded(address: string) {
    this.kept.delete(address);
  }
}
