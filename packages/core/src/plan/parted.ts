/** What lies outside the sector of a take, moment by moment: how its shots are parted. */
import { IDENTITY, multiply } from '../geometry/rotation.js';
import { twinFromWorld, twinTime, type Sector, type Twin } from '../look/sector.js';
import { twinGains } from '../look/twin-light.js';
import type { Correction } from '../correction/correction.js';
import type { Take } from '../take/take.js';
import type { PlanFootage, TwinFootage } from './footage.js';
import type { Shot } from './shot.js';
import { frameOf } from '../time/frames.js';

/** What a take's twin is drawn from: another footage, or its own where it names none. Throws RangeError where that was not handed over. */
export function twinFootageOf<F extends TwinFootage>(twin: Twin, own: F, other: TwinFootage | null | undefined) {
  if (twin.footage === undefined) return own;
  if (!other) throw new RangeError('The twin’s footage is missing.');
  return other;
}

/** Bytes of decoded pictures that may be held for a twin that is at another time of the same footage. */
const MOST_HELD = 512 * 2 ** 20;
/** Bytes of a pixel with its share of colour and of mip levels. */
const PIXEL_BYTES = 2;
/** Pictures that may be held for it. */
const MOST_PICTURES = 48;

/**
 * Whether a twin is drawn from the pictures of its own footage as they come for the take itself: where it goes along with it, and
 * not so far away that too many pictures would have to be held. Else they are decoded a second time.
 */
export function sharesPictures(twin: Twin, { rate, width }: Pick<PlanFootage, 'rate' | 'width'>): boolean {
  if (twin.footage !== undefined || twin.runs !== 'along' || width === undefined) return false;
  const apart = Math.abs(Math.round(twin.time * rate));
  return apart <= MOST_PICTURES && apart * PIXEL_BYTES * ((width * width) / 2) <= MOST_HELD;
}

const clamped = (frame: number, { frames }: Pick<TwinFootage, 'frames'>) => Math.max(0, Math.min(frames - 1, frame));

/** The frame of its footage that a twin shows beside a frame of the take's, which is at a time in seconds of it. */
export function twinFrame(twin: Twin, own: Pick<TwinFootage, 'rate'>, of: TwinFootage, frame: number, time: number) {
  // In the same footage whole frames apart: at the same moment it is the same picture.
  if (twin.footage === undefined && twin.runs === 'along') return clamped(frame + Math.round(twin.time * own.rate), of);
  return clamped(frameOf(twinTime(twin, time), of.rate), of);
}

/** Seconds of its footage that are shown of a twin. */
function momentOf(twin: Twin, own: TwinFootage, of: TwinFootage, time: number): number {
  const end = (of.frames - 1) / of.rate;
  const apart = twin.footage === undefined ? Math.round(twin.time * own.rate) / own.rate : twin.time;
  return Math.max(0, Math.min(end, twinTime({ runs: twin.runs, time: apart }, time)));
}

/** How a take's shots are parted: nothing changes where it has no sector. */
export function partingOf(
  { look }: Pick<Take, 'look'>,
  own: TwinFootage,
  other: TwinFootage | null | undefined,
  correction: Correction,
): (shot: Shot) => Shot {
  const sector = look?.sector;
  if (!sector) return (shot) => shot;
  const { twin } = sector;
  const of = twin && twinFootageOf(twin, own, other);
  const gains = twin && gainsOf({ ...sector, twin }, own, of!, correction);
  return (shot) => {
    const toWorld = 'rotation' in shot.picture ? shot.picture.rotation : IDENTITY;
    if (!twin || !of) return { ...shot, parted: { toWorld, twin: null } };
    const time = momentOf(twin, own, of, shot.time);
    // Another footage is filmed from the same place: it lies as the take's does.
    const turned = correction.at(twin.footage === undefined ? time : shot.time);
    const gain = gains?.(shot.time) ?? 1;
    return {
      ...shot,
      parted: {
        toWorld,
        twin: { toSource: multiply(twinFromWorld(twin, turned), toWorld), source: of.source, time, gain },
      },
    };
  };
}

function gainsOf(sector: Sector & { twin: Twin }, own: TwinFootage, of: TwinFootage, correction: Correction) {
  if (!sector.twin.match || !own.light?.samples || !of.light?.samples) return null;
  return twinGains({ sector, kept: own.light, twin: of.light, correctionAt: (t) => correction.at(t) });
}
