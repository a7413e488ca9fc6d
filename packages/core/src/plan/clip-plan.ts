/** The frame plans of a take: its view, its whole sphere, and before and after in one picture. */
import { IDENTITY } from '../geometry/rotation.js';
import type { SubjectTrack } from '../follow/subject.js';
import { placesOf, pixelsOf, samePlace, WHOLE, type Place } from '../lookouts/layout.js';
import { cutAt, onAir } from '../lookouts/lookouts.js';
import { doesDetail } from '../look/detail.js';
import { hasOverlays, overlaysSaid, overTake } from '../overlay/over-take.js';
import type { Materials } from '../overlay/svg.js';
import { treatmentAt } from '../look/treatment.js';
import type { FootageLight } from '../look/light.js';
import type { Motion } from '../motion/motion.js';
import type { Source } from '../stitch/source.js';
import type { Comparison } from '../take/clip.js';
import { correctionOf, type Correction } from '../take/correction.js';
import { asFilmed } from '../take/framing.js';
import { ratioOf } from '../take/formats.js';
import { meteringOf } from '../take/metering.js';
import type { Take } from '../take/take.js';
import { clipTiming, frameShown, mixShown, timesAround, timeShown, type ClipTiming } from '../take/timing.js';
import { clockOf } from '../time/clock.js';
import { followingsOf, viewIn, type ViewContext } from '../view/view-of.js';
import { pacedSound, type PacedSound } from '../pace/sound.js';
import { looksOf } from './blur.js';
import { partingOf, twinFootageOf, twinFrame, type TwinFootage } from './parted.js';
import { planned, wholePane, type FramePlan, type Pane } from './plan.js';
import { patched, sphereShot, viewShot, type Shot } from './shot.js';

/** A footage as plans need to know it. */
export interface PlanFootage {
  source: Source;
  /** Frames a second, and how many. */
  rate: number;
  frames: number;
  /** Where the footage was analysed, how the rig moved. */
  motion: Motion | null;
  /** Its light, where a Meter or a twin needs it. */
  light?: FootageLight | null;
  /** What is known of its subjects. */
  trackOf?: (subject: string) => SubjectTrack | null;
  /** The other footage that the take's twin is drawn from, where it names one. */
  twin?: TwinFootage | null;
}

export interface PlanSettings {
  /** Pixels, even. */
  width: number;
  height: number;
  /** Frames a second; as the footage is read when absent. */
  rate?: number;
  /** The whole sphere instead of the take's view. */
  sphere?: boolean;
  compare?: Comparison;
  /** What overlays are drawn with. */
  materials?: Materials;
}

/** The part of the footage's sound that a clip has: seconds of the footage, and how fast it goes by. */
export interface PlannedSound {
  from: number;
  to: number;
  speed: number;
  /** Where it follows a pace: how; `off` where it is left out; null where it goes by evenly. */
  pace: PacedSound | 'off' | null;
}

export interface ClipPlan extends FramePlan {
  sound: PlannedSound;
}

interface Size {
  width: number;
  height: number;
}

/**
 * Whoever knows what is seen in a pane of width × height pixels at a time in seconds of the footage: one shot, or with motion blur
 * as many as weigh the same; none where the pane is not shown then. `at` gives the footage's seconds at frames of the clip before and
 * after.
 */
type Seer = (time: number, size: Size, at: (frames: number) => number) => Shot[];

/** What all panes of a take's picture are seen with. */
interface Known {
  correction: Correction;
  context: ViewContext;
}

function knownOf(take: Take, footage: Pick<PlanFootage, 'motion' | 'trackOf'>): Known {
  const correction = correctionOf(take, footage.motion);
  return { correction, context: contextOf(take, footage, correction) };
}

/** What a take sees in one of the places that its Lookouts have in the picture. */
function takeSeer(take: Take, footage: PlanFootage, known: Known, place: Place = WHOLE): Seer {
  const { source } = footage;
  const { correction, context } = known;
  const parted = partingOf(take, footage, footage.twin, correction);
  const shutter = take.look?.shutter ?? 0;
  return (time, size, at) => {
    // While the shutter is open nothing is cut.
    const open = take.lookouts ? { ...context, piece: cutAt(take.lookouts, time) } : context;
    const now = viewIn(take, open, time, place);
    if (!now) return [];
    const viewAt = (frames: number) => (frames === 0 ? now : viewIn(take, open, at(frames), place)!);
    const turned = correction.at(time);
    return looksOf({ shutter, viewAt, ...size }).map((f) =>
      parted(patched(viewShot(viewAt(f), turned, { source, time, ...size }), take.look?.patch, turned)),
    );
  };
}

/** What besides the take has a say in its views: the subjects that it follows. */
export const contextOf = (
  take: Take,
  { trackOf }: Pick<PlanFootage, 'trackOf'>,
  correction: Correction,
): ViewContext => (trackOf ? followingsOf(take, trackOf, correction) : {});

function sphereSeer(take: Take, footage: PlanFootage): Seer {
  const { source, motion } = footage;
  const correction = correctionOf(take, motion);
  const parted = partingOf(take, footage, footage.twin, correction);
  return (time, size) => {
    const turned = correction.at(time);
    return [parted(patched(sphereShot(turned, { source, time, ...size }), take.look?.patch, turned))];
  };
}

/** A take as it was filmed beside what it is made to be: the two panes' seers. */
function beforeAndAfter(take: Take, footage: PlanFootage): [Seer, Seer] {
  const bare = asFilmed(take, (t) => correctionOf(t, footage.motion));
  return [takeSeer(bare, footage, knownOf(bare, footage)), takeSeer(take, footage, knownOf(take, footage))];
}

const even = (n: number) => 2 * Math.round(n / 2);

/** Where before and after stand in a frame: before first, except where it lies over a corner of after. */
function panesOf(compare: Comparison, { width, height }: PlanSettings): { before: Pane; after: Pane } {
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
      return { before: { left: margin, top: margin, ...small }, after: { left: 0, top: 0, width, height } };
    }
  }
}

/** The seers of a clip with the panes that they see. */
function seen(take: Take, footage: PlanFootage, settings: PlanSettings, known: Known): { pane: Pane; seer: Seer }[] {
  const [whole] = wholePane(settings) as [Pane];
  if (settings.sphere) return [{ pane: whole, seer: sphereSeer(take, footage) }];
  if (!settings.compare)
    return placesIn(take).map((place) => ({
      pane: pixelsOf(place, settings),
      seer: takeSeer(take, footage, known, place),
    }));
  const [was, is] = beforeAndAfter(take, footage);
  const { before, after } = panesOf(settings.compare, settings);
  const parts = [
    { pane: before, seer: was },
    { pane: after, seer: is },
  ];
  return settings.compare === 'inset' ? parts.reverse() : parts;
}

/** All places that a take's Lookouts have in the picture within its range, those that lie over others after them. */
function placesIn(take: Take): Place[] {
  const { lookouts, range } = take;
  const cuts = lookouts?.cuts ?? [];
  const within = cuts.filter((c, i) => c.time < range.out && (cuts[i + 1]?.time ?? Infinity) > range.in);
  const layouts = within.map((c) => c.shows?.layout ?? 'one');
  const all = [WHOLE, ...layouts.flatMap((layout) => placesOf(layout, ratioOf(take)))];
  return all.filter((place, i) => all.findIndex((other) => samePlace(other, place)) === i);
}

/** The plan of a take's clip; null when its in point lies after the footage's end. */
export function clipPlan(take: Take, footage: PlanFootage, settings: PlanSettings): ClipPlan | null {
  const timing = clipTiming(take, footage.rate, footage.frames, settings.rate);
  if (!timing) return null;
  const { range, rate, frames } = timing;
  const known = knownOf(take, footage);
  const parts = seen(take, footage, settings, known);
  const metering = meteringOf(take, footage.light ?? null, known.correction, known.context);
  return {
    width: settings.width,
    height: settings.height,
    rate,
    frames,
    sources: sourcesOf(take, footage),
    panes: parts.map((p) => p.pane),
    shotsAt(n) {
      const { time, frame } = momentOf(timing, footage.rate, n);
      const mix = take.pace?.blend === 'mean' ? mixShown(timing, footage.rate, n) : 0;
      return parts.map(({ pane, seer }) => {
        const shots = seer(time, pane, (frames) => timeShown(timing, n + frames));
        return shots.flatMap((seen) => {
          const at = (frame: number, weight: number) => ({
            ...planned(seen, 0, frame, twinAt(take, footage, frame, time)),
            weight: weight / shots.length,
          });
          return mix === 0 ? [at(frame, 1)] : [at(frame, 1 - mix), at(frame + 1, mix)];
        });
      });
    },
    ...(take.look ? { treatmentAt: (n) => treatmentAt(take, timeShown(timing, n), metering) } : {}),
    ...(take.look?.patch ? { patch: take.look.patch } : {}),
    ...(take.look?.sector ? { sector: take.look.sector } : {}),
    ...overlayPlan(take, settings, (n) => timeShown(timing, n)),
    ...(take.look?.detail && doesDetail(take.look.detail) ? { detail: take.look.detail } : {}),
    sound: {
      from: range.in,
      to: range.out,
      speed: clockOf(take, footage.rate).speed,
      pace: pacedSound(take, range, clockOf(take, footage.rate).speed),
    },
  };
}

/** The footage, and that of the twin, which is a source of its own even where it is the same: it is at another time. */
function sourcesOf({ look }: Take, footage: PlanFootage): Source[] {
  const twin = look?.sector?.twin;
  return twin ? [footage.source, twinFootageOf(twin, footage, footage.twin).source] : [footage.source];
}

/** The twin's picture beside a frame of the footage, which is at a time in seconds; undefined without one. */
function twinAt({ look }: Take, footage: PlanFootage, frame: number, time: number) {
  const twin = look?.sector?.twin;
  if (!twin) return undefined;
  return { source: 1, frame: twinFrame(twin, footage, twinFootageOf(twin, footage, footage.twin), frame, time) };
}

/** What lies over a clip in the take's view; a whole sphere and a comparison have nothing. */
function overlayPlan(
  take: Take,
  { width, height, sphere, compare, materials }: PlanSettings,
  timeOf: (n: number) => number,
): Pick<FramePlan, 'overlayAt'> {
  if (!hasOverlays(take) || sphere || compare || !materials) return {};
  let last: { said: string; svg: string | null } = { said: '', svg: null };
  return {
    overlayAt(n) {
      const said = overlaysSaid(take, timeOf(n));
      if (said !== last.said) last = { said, svg: overTake(take, { width, height }, timeOf(n), materials) };
      return last.svg;
    },
  };
}

const momentOf = (timing: ClipTiming, rate: number, n: number) => ({
  time: timeShown(timing, n),
  frame: frameShown(timing, rate, n),
});

/** The plan of a footage laid flat as it was filmed, frame for frame, from a frame to its end. */
export const laidFlatPlan = (
  { source, rate, frames }: Pick<PlanFootage, 'source' | 'rate' | 'frames'>,
  size: { width: number; height: number },
  from = 0,
): FramePlan => ({
  ...size,
  rate,
  frames: frames - from,
  sources: [source],
  panes: wholePane(size),
  shotsAt(n) {
    const frame = from + n;
    return [[planned(sphereShot(IDENTITY, { source, time: frame / rate, ...size }), 0, frame)]];
  },
});

/** A part of a still, in pixels, and the shots whose mean it is. */
export interface StillPane {
  pane: Pane;
  shots: Shot[];
}

/** What a take sees at one time in seconds, pane by pane, or without one the whole sphere as it was filmed. */
export function stillPanes(
  take: Take | null,
  footage: Omit<PlanFootage, 'frames'> & { frames?: number },
  time: number,
  size: Size,
): StillPane[] {
  const [pane] = wholePane(size) as [Pane];
  if (!take) return [{ pane, shots: [sphereShot(IDENTITY, { source: footage.source, time, ...size })] }];
  const whole = { frames: Infinity, ...footage };
  const known = knownOf(take, whole);
  return placesOf(onAir(take.lookouts, time)?.layout ?? 'one', ratioOf(take)).map((place) => {
    const pane = pixelsOf(place, size);
    const seer = takeSeer(take, whole, known, place);
    return { pane, shots: seer(time, pane, timesAround(take, footage.rate, time)) };
  });
}
