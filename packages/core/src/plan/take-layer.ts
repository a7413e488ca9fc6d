/** A take as a layer of a plan, moment by moment: what its own clip, its stills and whatever is made of several takes show. */
import { doesDetail } from '../look/detail.js';
import type { Steps } from '../look/table.js';
import { treatmentAt } from '../look/treatment.js';
import { pixelsOf } from '../lookouts/layout.js';
import { hasOverlays, overlaysSaid, overTake } from './over-take.js';
import type { Materials } from '../overlay/svg.js';
import type { Comparison } from '../export/settings.js';
import { meteringOf } from '../edit/metering.js';
import type { Take } from '../take/take.js';
import { compared } from './compared.js';
import type { PlanFootage } from './footage.js';
import { sharesPictures, twinFootageOf, twinFrame } from './parted.js';
import { planned, wholePane, type Layer, type Pane } from './plan.js';
import { knownOf, placesIn, sphereSeer, takeSeer, type Known, type Seer } from './seers.js';
import type { PlanSource } from './shot.js';

export interface LayerSettings {
  /** Pixels, even. */
  width: number;
  height: number;
  /** The whole sphere instead of the take's view. */
  sphere?: boolean;
  compare?: Comparison;
  /** What overlays are drawn with. */
  materials?: Materials;
  /** Points a side of its tables of colours; by default as fine as a moving picture can have them. */
  steps?: Steps;
  /** Seconds of the footage at which it is asked for its layers; the take's own range by default. */
  range?: { in: number; out: number };
}

/** A moment of a take, and which pictures stand for it. */
export interface Moment {
  /** Seconds of the footage, and the frame that is shown. */
  time: number;
  frame: number;
  /** Share of the frame after that one; 0 where that alone is shown. */
  mix: number;
  /** Seconds of the footage at frames of the clip before and after, while the shutter is open. */
  at: (frames: number) => number;
  /** Seed of the grain in what a patch is filled with. */
  grain: number;
}

/** A take's sources, numbered from 0: the footage, and that of the twin, unless it is drawn from the same pictures. */
export function sourcesOf({ look }: Take, footage: PlanFootage): PlanSource[] {
  const twin = look?.sector?.twin;
  return twin && !sharesPictures(twin, footage)
    ? [footage.source, twinFootageOf(twin, footage, footage.twin).source]
    : [footage.source];
}

/** The layer that a take is at each of its moments, all of a frame of the size given. Its sources are those of `sourcesOf`. */
export function takeLayer(take: Take, footage: PlanFootage, settings: LayerSettings): (moment: Moment) => Layer {
  const known = knownOf(take, footage);
  const parts = partsOf(take, footage, settings, known);
  const { look } = take;
  const metering = meteringOf(take, footage.light ?? null, known.correction, known.context);
  const steps = settings.steps ?? stepsOf(take, metering !== null);
  const overlayAt = overlaysOf(take, settings);
  const detail = look?.detail && doesDetail(look.detail) ? look.detail : null;
  return (moment) => {
    const treatment = treatmentAt(take, moment.time, metering);
    return {
      pane: wholePane(settings),
      weight: 1,
      parts: parts.flatMap(({ pane, seer }) => {
        const shots = shotsOf(take, footage, seer, pane, moment);
        return shots.length ? [{ pane, shots }] : [];
      }),
      treatment: treatment && { ...treatment, steps },
      patch: look?.patch ?? null,
      grain: moment.grain,
      sector: look?.sector ?? null,
      detail,
      overlay: overlayAt(moment.time),
    };
  };
}

/** What is seen in the parts of a take's picture. */
function partsOf(
  take: Take,
  footage: PlanFootage,
  settings: LayerSettings,
  known: Known,
): { pane: Pane; seer: Seer }[] {
  if (settings.sphere) return [{ pane: wholePane(settings), seer: sphereSeer(take, footage, known) }];
  if (settings.compare) return compared(take, footage, known, settings.compare, settings);
  return placesIn(take, settings.range ?? take.range).map((place) => ({
    pane: pixelsOf(place, settings),
    seer: takeSeer(take, footage, known, place),
  }));
}

/** The shots of a part, each once or, between two frames, once of each. */
function shotsOf(take: Take, footage: PlanFootage, seer: Seer, pane: Pane, { time, frame, mix, at }: Moment) {
  const shots = seer(time, pane, at);
  return shots.flatMap((seen) => {
    const shown = (frame: number, weight: number) => ({
      ...planned(seen, 0, frame, twinAt(take, footage, frame, time)),
      weight: weight / shots.length,
    });
    return mix === 0 ? [shown(frame, 1)] : [shown(frame, 1 - mix), shown(frame + 1, mix)];
  });
}

/** The twin's picture beside a frame of the footage, which is at a time in seconds; undefined without one. */
function twinAt({ look }: Take, footage: PlanFootage, frame: number, time: number) {
  const twin = look?.sector?.twin;
  if (!twin) return undefined;
  const source = sharesPictures(twin, footage) ? 0 : 1;
  return { source, frame: twinFrame(twin, footage, twinFootageOf(twin, footage, footage.twin), frame, time) };
}

/** What changes from frame to frame has to be baked as often. */
function stepsOf({ look }: Take, metered: boolean): Steps {
  const keyed = Object.values(look?.grade ?? {}).some((channel) => Array.isArray(channel) && channel.length > 1);
  return keyed || metered ? 33 : 65;
}

/** What lies over a take's view at a time; a whole sphere and a comparison have nothing. */
function overlaysOf(take: Take, { width, height, sphere, compare, materials }: LayerSettings) {
  if (!hasOverlays(take) || sphere || compare || !materials) return () => null;
  let last: { said: string; svg: string | null } = { said: '', svg: null };
  return (time: number) => {
    const said = overlaysSaid(take, time);
    if (said !== last.said) last = { said, svg: overTake(take, { width, height }, time, materials) };
    return last.svg;
  };
}
