/** What the Frame draws: the take's view, the look all round, or before and after. */
import { asFilmed } from '@glimbo/core/take/framing';
import type { Take } from '@glimbo/core/take/take';
import { viewOf } from '@glimbo/core/view/view-of';
import { wholeFrame, type Pane } from '~/preview/renderer';
import { lookRoundPanes } from './LookRound';
import { shownBeforeAfter } from '../state/store';
import type { StudioState } from '../state/state';

/** The last take as it was filmed: playing asks for the same one for every frame. */
let filmed: { of: Take; motion: StudioState['motion']; take: Take } | null = null;

function filmedTake(of: Take, motion: StudioState['motion'], correction: StudioState['correction']): Take {
  if (filmed?.of !== of || filmed.motion !== motion) filmed = { of, motion, take: asFilmed(of, correction) };
  return filmed.take;
}

export function framePanes(s: StudioState): { panes: Pane[]; before: { panes: Pane[]; until: number } | null } {
  const { time, splitAt, unsteadied, lookRound, motion, correction } = s;
  const beforeAfter = shownBeforeAfter(s);
  const take = s.take();
  const now = correction().at(time);
  if (lookRound) return { panes: lookRoundPanes(0, now), before: null };
  const after = wholeFrame(s.view(), now);
  if (beforeAfter === 'after' && !unsteadied) return { panes: [after], before: null };
  const bare = filmedTake(take, motion, correction);
  const before = wholeFrame(viewOf(bare, { glance: s.glance }, time), correction(bare).at(time));
  if (unsteadied) return { panes: [before], before: null };
  if (beforeAfter === 'split') return { panes: [after], before: { panes: [before], until: splitAt } };
  return {
    panes: [
      { ...before, width: 0.5 },
      { ...after, left: 0.5, width: 0.5 },
    ],
    before: null,
  };
}
