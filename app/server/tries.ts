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

  /**
   * A try begins, and counts as failed until it has succeeded: tries that come at the same time pass the brake one after the
   * other. Gives the seconds that the address has to wait first; 0 when it may try.
   */
  begin(address: string): number {
    const before = this.kept.get(address);
    const left = (before?.until ?? 0) - this.now();
    if (left > 0) return Math.ceil(left / 1000);
    const failures = (before?.failures ?? 0) + 1;
    const wait = failures < FREE ? 0 : Math.min(LONGEST_WAIT, FIRST_WAIT * 2 ** (failures - FREE));
    this.kept.delete(address);
    this.kept.set(address, { failures, until: this.now() + wait });
    if (this.kept.size > MOST) this.kept.delete(this.kept.keys().next().value!);
    return 0;
  }

  succeeded(address: string) {
    this.kept.delete(address);
  }
}
