/** What a take sees at a moment: in the places that its Lookouts have in the picture, or of the whole sphere. */
import { placesOf, WHOLE, samePlace, type Place } from '../lookouts/layout.js';
import { cutAt } from '../lookouts/lookouts.js';
import { sphereWidth } from '../stitch/source.js';
import { correctionOf, type Correction } from '../correction/correction.js';
import { ratioOf } from '../take/formats.js';
import type { Take } from '../take/take.js';
import { followingsOf, viewIn, type ViewContext } from '../view/view-of.js';
import { evenly, looksOf } from './blur.js';
import type { PlanFootage } from './footage.js';
import { partingOf } from './parted.js';
import { patched, sphereShot, viewShot, type Shot } from './shot.js';
import { smearedLooks } from './smear.js';

interface Size {
  width: number;
  height: number;
}

/**
 * Whoever knows what is seen in a pane of width × height pixels at a time in seconds of the footage: one shot, or with motion blur
 * as many as weigh the same; none where the pane is not shown then. `at` gives the footage's seconds at frames of the clip before and
 * after.
 */
export type Seer = (time: number, size: Size, at: (frames: number) => number) => Shot[];

/** What all panes of a take's picture are seen with. */
export interface Known {
  correction: Correction;
  context: ViewContext;
}

/** What besides the take has a say in its views: the subjects that it follows. */
const contextOf = (take: Take, { trackOf }: Pick<PlanFootage, 'trackOf'>, correction: Correction): ViewContext =>
  trackOf ? followingsOf(take, trackOf, correction) : {};

export function knownOf(take: Take, footage: Pick<PlanFootage, 'motion' | 'trackOf'>): Known {
  const correction = correctionOf(take, footage.motion);
  return { correction, context: contextOf(take, footage, correction) };
}

/** What a take sees in one of the places that its Lookouts have in the picture. */
export function takeSeer(take: Take, footage: PlanFootage, known: Known, place: Place = WHOLE): Seer {
  const { source } = footage;
  const { correction, context } = known;
  const parted = partingOf(take, footage, footage.twin, correction);
  const shutter = take.look?.shutter ?? 0;
  const fine = footage.width === undefined ? undefined : sphereWidth(source, footage.width);
  return (time, size, at) => {
    // While the shutter is open nothing is cut.
    const open = take.lookouts ? { ...context, piece: cutAt(take.lookouts, time) } : context;
    const now = viewIn(take, open, time, place);
    if (!now) return [];
    const viewAt = (frames: number) => (frames === 0 ? now : viewIn(take, open, at(frames), place)!);
    const turned = correction.at(time);
    const shotAt = (frames: number) => viewShot(viewAt(frames), turned, { source, time, ...size });
    const looks = looksOf({ shutter, viewAt, ...size, sphereWidth: fine });
    // Twins go their own ways.
    const few = looks.length > 2 && fine && !take.look?.sector ? fewerLooks(shutter, shotAt, fine) : null;
    return (few ?? looks).map((f) => {
      const shot = parted(patched(shotAt(f), take.look?.patch, turned));
      return few ? { ...shot, smeared: true } : shot;
    });
  };
}

/** Looks of narrowed pictures that stand for all that a pan shows while the shutter is open; null where it is none. */
function fewerLooks(shutter: number, shotAt: (frames: number) => Shot, width: number): number[] | null {
  const open = shutter / 360;
  const looks = smearedLooks([shotAt(-open / 2), shotAt(0), shotAt(open / 2)], width);
  return looks === null ? null : evenly(looks, open);
}

/** The whole sphere as a take corrects it. */
export function sphereSeer(take: Take, footage: PlanFootage, { correction }: Pick<Known, 'correction'>): Seer {
  const { source } = footage;
  const parted = partingOf(take, footage, footage.twin, correction);
  return (time, size) => {
    const turned = correction.at(time);
    return [parted(patched(sphereShot(turned, { source, time, ...size }), take.look?.patch, turned))];
  };
}

/** All places that a take's Lookouts have in the picture within a range, those that lie over others after them. */
export function placesIn(take: Take, range: { in: number; out: number }): Place[] {
  const { lookouts } = take;
  const cuts = lookouts?.cuts ?? [];
  const within = cuts.filter((c, i) => c.time < range.out && (cuts[i + 1]?.time ?? Infinity) > range.in);
  const layouts = within.map((c) => c.shows?.layout ?? 'one');
  const all = [WHOLE, ...layouts.flatMap((layout) => placesOf(layout, ratioOf(take)))];
  return all.filter((place, i) => all.findIndex((other) => samePlace(other, place)) === i);
}
