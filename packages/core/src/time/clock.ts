/**
 * The two times of a take: of the footage, in which keyframes, marks and analyses are kept, and as it is shown. Footage read
 * at another rate runs slower or faster; nothing else multiplies or divides times.
 */

export interface Clock {
  /** Seconds as shown, for seconds of the footage. */
  shown(footage: number): number;
  /** Seconds of the footage, for seconds as shown. */
  footage(shown: number): number;
  /** Seconds of the footage that go by in a second as shown. */
  readonly speed: number;
}

/** The clock of a take whose footage was filmed at `rate` frames a second. */
export function clockOf({ reading }: { reading?: number }, rate: number): Clock {
  if (!reading || reading === rate) return AS_FILMED;
  const stretch = rate / reading;
  return { shown: (t) => t * stretch, footage: (t) => t / stretch, speed: 1 / stretch };
}

const AS_FILMED: Clock = { shown: (t) => t, footage: (t) => t, speed: 1 };

/** How long a part of the footage is shown, in seconds. */
export const shownLength = (clock: Clock, range: { in: number; out: number }) =>
  clock.shown(range.out) - clock.shown(range.in);
