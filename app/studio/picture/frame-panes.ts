/** What the Frame draws: the take's view, the look all round, or before and after. */
import { looksOf } from '@glimbo/core/plan/blur';
import { WHOLE, type Place } from '@glimbo/core/lookouts/layout';
import { cutAt } from '@glimbo/core/lookouts/lookouts';
import { doesDetail, type Detail } from '@glimbo/core/look/detail';
import { treatmentAt, type Treatment } from '@glimbo/core/look/treatment';
import { asFilmed } from '@glimbo/core/edit/framing';
import { inFormat } from '@glimbo/core/take/formats';
import { timesAround } from '@glimbo/core/take/timing';
import type { Take } from '@glimbo/core/take/take';
import { framesOf, viewIn, viewOf, type ViewContext } from '@glimbo/core/view/view-of';
import { wholeFrame, type Pane } from '~/preview/panes';
import type { Scene } from '~/preview/scene';
import { formatPanes, gridLayout, placeWithin } from './format-layout';
import { lookRoundPanes } from './look-round';
import { showsGrid, shownBeforeAfter } from '../state/store';
import type { StudioState } from '../state/state';
import { contextIn } from '../state/seen-slice';

/** The last take as it was filmed: playing asks for the same one for every frame. */
let filmed: { of: Take; motion: StudioState['motion']; take: Take } | null = null;

function filmedTake(of: Take, motion: StudioState['motion'], correction: StudioState['correction']): Take {
  if (filmed?.of !== of || filmed.motion !== motion) filmed = { of, motion, take: asFilmed(of, correction) };
  return filmed.take;
}

/** Looks that the mean of a frame with motion blur is made of here, at most: each is a drawing of its own. */
const MOST_LOOKS = 24;

/** What each part of a picture sees while the shutter is open; undefined where it is not open for any time. */
function looksThrough(take: Take, context: ViewContext, time: number, rate: number, place: Place): Pane['looks'] {
  const shutter = take.look?.shutter;
  if (!shutter) return undefined;
  const at = timesAround(take, rate, time);
  const piece = take.lookouts ? cutAt(take.lookouts, time) : undefined;
  const viewAt = (frames: number) => viewIn(take, { ...context, piece }, frames === 0 ? time : at(frames), place)!;
  return (size) => looksOf({ shutter, viewAt, ...size, most: MOST_LOOKS }).map(viewAt);
}

/** The panes of a take's picture in a place of the Frame. */
function picturePanes(s: StudioState, take: Take, outer: Place = WHOLE): Pane[] {
  const { time } = s;
  const correction = s.correction().at(time);
  const context = contextIn(s);
  return framesOf(take, context, time).map(({ place, view }) => ({
    ...wholeFrame(view, correction, looksThrough(take, context, time, s.footage.facts.rate, place)),
    ...placeWithin(place, outer),
  }));
}

/** All Lookouts, each in its cell, and beside them what is on air, if that is wanted. */
function gridPanes(s: StudioState): Pane[] {
  const take = s.take();
  const { pictures, parts } = gridLayout(take, s.grid === 'beside' ? 'beside' : 'alone', s.frameRoom);
  const correction = s.correction().at(s.time);
  return [
    ...pictures.flatMap((place) => picturePanes(s, take, place)),
    ...parts.map(({ lookout, ...place }) => ({
      ...wholeFrame(viewOf(take, { ...contextIn(s), lookout }, s.time), correction),
      ...place,
    })),
  ];
}

interface Shown {
  panes: Pane[];
  /** What is drawn up to a line at a share of the width. */
  before: { panes: Pane[]; until: number } | null;
  /** What is done to the colours. */
  treatment: Treatment | null;
  /** Clarity and sharpening. */
  detail: Detail | null;
}

export function framePanes(s: StudioState): Shown {
  const { look } = s.take();
  const treatment = s.lookRound ? null : treatmentAt(s.take(), s.time, s.metering());
  const detail = !s.lookRound && look?.detail && doesDetail(look.detail) ? look.detail : null;
  return { ...panesOf(s), treatment, detail };
}

/** The layer that the take itself is. */
export const OWN = 'take';

/** The Frame as a scene of one layer, and what is done to the colours of that. */
export function frameScene(s: StudioState): { scene: Scene; treatment: Treatment | null } {
  const { panes, before, treatment, detail } = framePanes(s);
  const layer = { id: OWN, panes, before, detail, weight: 1 };
  return { scene: { layers: [layer], clipped: s.station === 'look' && s.seeing.clipped }, treatment };
}

/** The panes of the Frame, and those that are drawn up to a line before them. */
export function panesOf(s: StudioState): Omit<Shown, 'treatment' | 'detail'> {
  const { time, splitAt, unsteadied, lookRound, motion, correction } = s;
  const beforeAfter = shownBeforeAfter(s);
  const take = s.take();
  const now = correction().at(time);
  if (lookRound) return { panes: lookRoundPanes(0, now), before: null };
  if (showsGrid(s)) return { panes: gridPanes(s), before: null };
  if (s.allFormats && s.station !== 'level') {
    const { panes } = formatPanes(take);
    return { panes: panes.flatMap((p) => picturePanes(s, inFormat(take, p.aspect), p)), before: null };
  }
  const after = picturePanes(s, take);
  if (beforeAfter === 'after' && !unsteadied) return { panes: after, before: null };
  if (s.station === 'look') {
    const plain = after.map((pane) => ({ ...pane, plain: true }));
    return unsteadied ? { panes: plain, before: null } : { panes: after, before: { panes: plain, until: splitAt } };
  }
  const bare = filmedTake(take, motion, correction);
  const before = wholeFrame(viewOf(bare, { glance: s.glance }, time), correction(bare).at(time));
  if (unsteadied) return { panes: [before], before: null };
  if (beforeAfter === 'split') return { panes: after, before: { panes: [before], until: splitAt } };
  return {
    panes: [
      { ...before, width: 0.5 },
      ...after.map((pane) => ({ ...pane, ...placeWithin(pane, { ...WHOLE, left: 0.5, width: 0.5 }) })),
    ],
    before: null,
  };
}
