/**
 * The best way through states over time, shot by shot: dynamic programming within each shot, and over where shots begin and end
 * (cf. Su & Grauman 2017).
 */

/** Where one may go from a state, and what each costs; staying is always possible and costs nothing. */
export interface Moves {
  to: readonly number[];
  cost: readonly number[];
}

export interface WayProblem {
  /** What each state is worth in each step; nothing is negative infinity. */
  rewards: readonly Float32Array[];
  /** By state; of several kinds of moves one of each is made in a step, one after the other. */
  moves: readonly (readonly Moves[])[];
  /** How often it may be cut to any other state, and what that costs. */
  cuts: number;
  cutCost: number;
  /** Steps that a shot lasts at least and at most; all of it may be shorter. */
  shortest: number;
  longest: number;
  /** What the n-th step of a shot is worth as a share: what is seen for long wears off. */
  fade: (n: number) => number;
}

export interface Way {
  /** The state in each step. */
  states: number[];
  /** Steps that begin with a cut. */
  cutAt: number[];
  score: number;
}

/**
 * The way of the greatest sum of rewards less costs. Of ways that are worth the same the first is taken, so that it is always the same.
 * Throws RangeError where so few cuts, at shots so long, do not reach the end.
 */
export function bestWay(given: WayProblem): Way {
  const problem: Flat = { ...given, flat: given.moves.map(flattened) };
  const { rewards, cuts, cutCost, shortest, longest } = problem;
  const steps = rewards.length;
  if ((cuts + 1) * longest < steps) throw new RangeError('So few shots do not last to the end.');
  // ends[c][k]: the best that ends before step k after c cuts, and where its last shot begins.
  const ends = Array.from({ length: cuts + 1 }, () =>
    Array.from({ length: steps + 1 }, () => ({ score: -Infinity, begins: -1 })),
  );
  for (let begins = 0; begins < steps; begins++) {
    const before = ends.map((level) => (begins === 0 ? -Infinity : level[begins]!.score));
    if (begins > 0 && before.every((score) => score === -Infinity)) continue;
    const worth = shotsFrom(problem, begins, Math.min(steps, begins + longest));
    for (let n = 1; n <= worth.length; n++) {
      if (n < Math.min(shortest, steps)) continue;
      for (let c = 0; c <= cuts; c++) {
        const start = c === 0 ? (begins === 0 ? 0 : -Infinity) : before[c - 1]! - cutCost;
        const end = ends[c]![begins + n]!;
        if (start + worth[n - 1]! > end.score) Object.assign(end, { score: start + worth[n - 1]!, begins });
      }
    }
  }
  let c = 0;
  for (let k = 1; k <= cuts; k++) if (ends[k]![steps]!.score > ends[c]![steps]!.score) c = k;
  const way: Way = { states: [], cutAt: [], score: ends[c]![steps]!.score };
  for (let k = steps; k > 0; c--) {
    const { begins } = ends[c]![k]!;
    way.states.unshift(...shotStates(problem, begins, k));
    if (begins > 0) way.cutAt.unshift(begins);
    k = begins;
  }
  return way;
}

interface Flat extends WayProblem {
  flat: FlatMoves[];
}

/** The moves of all states, one behind the other. */
interface FlatMoves {
  from: Int32Array;
  to: Int32Array;
  cost: Float64Array;
}

const flattened = (moves: readonly Moves[]): FlatMoves => ({
  from: Int32Array.from(moves.flatMap(({ to }, s) => to.map(() => s))),
  to: Int32Array.from(moves.flatMap((m) => m.to)),
  cost: Float64Array.from(moves.flatMap((m) => m.cost)),
});

/** One step of a shot: the values of all states after it, and where each came from. */
function advance({ rewards, flat, fade }: Flat, values: Float64Array, step: number, n: number, came?: Int32Array) {
  let now = values;
  came?.forEach((_, s) => (came[s] = s));
  for (const kind of flat) now = moved(kind, now, came);
  const share = fade(n);
  const row = rewards[step]!;
  for (let s = 0; s < now.length; s++) now[s]! += share * row[s]!;
  return now;
}

/** The best of each state after one kind of move; `came`: from which state each came, before and after. */
function moved({ from, to, cost }: FlatMoves, values: Float64Array, came?: Int32Array): Float64Array {
  const next = values.slice();
  const before = came?.slice();
  for (let m = 0; m < to.length; m++) {
    const worth = values[from[m]!]! - cost[m]!;
    const at = to[m]!;
    if (worth <= next[at]!) continue;
    next[at] = worth;
    if (came) came[at] = before![from[m]!]!;
  }
  return next;
}

function most(values: Float64Array): number {
  let best = -Infinity;
  for (const v of values) if (v > best) best = v;
  return best;
}

const first = ({ rewards, fade }: Flat, begins: number): Float64Array =>
  Float64Array.from(rewards[begins]!, (r) => r * fade(0));

/** What the best shot that begins at a step is worth after 1, 2, … steps. */
function shotsFrom(problem: Flat, begins: number, until: number): number[] {
  let values = first(problem, begins);
  const worth = [most(values)];
  for (let step = begins + 1; step < until; step++) {
    values = advance(problem, values, step, step - begins);
    worth.push(most(values));
  }
  return worth;
}

/** The states of the best shot from one step to before another. */
function shotStates(problem: Flat, begins: number, until: number): number[] {
  let values = first(problem, begins);
  const came: Int32Array[] = [];
  for (let step = begins + 1; step < until; step++) {
    const from = new Int32Array(values.length);
    values = advance(problem, values, step, step - begins, from);
    came.push(from);
  }
  let state = values.indexOf(Math.max(...values));
  const states = [state];
  for (const from of came.reverse()) states.unshift((state = from[state]!));
  return states;
}
