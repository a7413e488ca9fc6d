/** Before and after in one picture: where each of them stands, and what it sees. */
import { correctionOf } from '../correction/correction.js';
import type { Comparison } from '../export/settings.js';
import { asFilmed } from '../edit/framing.js';
import type { Take } from '../take/take.js';
import type { PlanFootage } from './footage.js';
import { wholePane, type Pane } from './plan.js';
import { knownOf, takeSeer, type Known, type Seer } from './seers.js';

const even = (n: number) => 2 * Math.round(n / 2);

/** Where before and after stand in a frame: before first, except where it lies over a corner of after. */
function panesOf(compare: Comparison, size: { width: number; height: number }): { before: Pane; after: Pane } {
  const { width, height } = size;
  switch (compare) {
    case 'beside': {
      const half = even(width / 2);
      return {
        before: { left: 0, top: 0, width: half, height },
        after: { left: half, top: 0, width: width - half, height },
      };
    }
    case 'over': {
      const half = even(height / 2);
      return {
        before: { left: 0, top: 0, width, height: half },
        after: { left: 0, top: half, width, height: height - half },
      };
    }
    case 'inset': {
      const small = { width: even(width / 3), height: even(height / 3) };
      // In very flat frames the small picture still lies within.
      const margin = Math.min(even(width / 40), 2 * Math.floor((height - small.height) / 4));
      return { before: { left: margin, top: margin, ...small }, after: wholePane(size) };
    }
  }
}

/** A take as it was filmed beside what it is made to be: panes and who sees what is in them, later ones over earlier ones. */
export function compared(
  take: Take,
  footage: PlanFootage,
  known: Known,
  compare: Comparison,
  size: { width: number; height: number },
): { pane: Pane; seer: Seer }[] {
  const bare = asFilmed(take, (t) => correctionOf(t, footage.motion));
  const { before, after } = panesOf(compare, size);
  const parts = [
    { pane: before, seer: takeSeer(bare, footage, knownOf(bare, footage)) },
    { pane: after, seer: takeSeer(take, footage, known) },
  ];
  return compare === 'inset' ? parts.reverse() : parts;
}
