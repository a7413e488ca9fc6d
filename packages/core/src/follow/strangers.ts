/**
 * Whether what looks like a subject that was lost is somebody else: somebody whose streak, traced back in time, was elsewhere when the
 * subject was seen last. In a sphere nothing leaves the picture, so that most of what is there was there before.
 */
import { angleBetween, apply, unit, vec3, type Matrix3, type Vec3 } from '../geometry/rotation.js';
import { largerSide, lookDirection, stageOf, type Moving, type MovingLook } from '../moving/moving.js';

/** Seconds over which a streak that ended may go on as another, or split off from another. */
const GOES_ON = 1.5;
/** Sizes of the larger by which two places are one, to be on a streak and for two of them to be the same. */
const ON = 0.5;
const NEAR = 1;
/** Seconds after which nobody can say any more that who comes is who went. */
const TOO_LONG = 10;

/** Where something was seen: a direction of the world, and degrees across its larger side. */
export interface Place {
  frame: number;
  direction: Vec3;
  size: number;
}

/** Whose streak is somewhere: a newcomer was not seen yet when the subject was seen last; nobody, where nothing moves. */
export type Whose = 'subject' | 'stranger' | 'newcomer' | 'nobody';

export class Strangers {
  /** Each streak's looks, in the world. */
  private readonly streaks: Place[][];
  /** Frames over which a streak goes on as another. */
  private readonly gap: number;
  private readonly tooLong: number;

  /** `toWorld`: from directions of a frame's picture to the world's. */
  constructor(
    private readonly moving: Moving,
    toWorld: (frame: number) => Matrix3,
  ) {
    const placeOf = (look: MovingLook): Place => ({
      frame: look[0],
      direction: apply(toWorld(look[0]), lookDirection(look)),
      size: largerSide(look),
    });
    const { streaks, rate, every } = moving;
    this.streaks = streaks.map(({ looks }) => looks.map(placeOf));
    this.gap = Math.max(every, GOES_ON * rate);
    this.tooLong = TOO_LONG * rate;
  }

  /** Whose streak is seen in a frame at a direction of the world; null where it is not known what moves. */
  whose(frame: number, direction: Vec3, last: Place): Whose | null {
    if (!this.moving.still[stageOf(this.moving, frame)]) return null;
    const [streak] = this.streaks
      .flatMap((places) => {
        const place = placeAt(places, frame, this.gap);
        const off = place && angleBetween(place.direction, direction) / place.size;
        return off !== null && off < ON ? [{ places, off }] : [];
      })
      .sort((a, b) => a.off - b.off);
    return streak ? this.traced(streak.places, last, Math.sign(frame - last.frame)) : 'nobody';
  }

  /** Whether a person, an animal or a vehicle was recognised in a frame at a direction of the world. */
  isRecognised(frame: number, direction: Vec3): boolean {
    return this.moving.streaks.some(({ kind }, n) => {
      const place = kind && placeAt(this.streaks[n]!, frame, this.gap);
      return !!place && angleBetween(place.direction, direction) < ON * place.size;
    });
  }

  /** Where something is in a frame that moves or was recognised, and may be the subject: in the world, what is nearest to it first. */
  mayBe(frame: number, last: Place): Place[] {
    const known = this.moving.still[stageOf(this.moving, frame)];
    const sense = Math.sign(frame - last.frame);
    return this.streaks
      .flatMap((places) => {
        const place = placeAt(places, frame, this.gap);
        return place && !(known && this.traced(places, last, sense) === 'stranger') ? [place] : [];
      })
      .sort((a, b) => angleBetween(a.direction, last.direction) - angleBetween(b.direction, last.direction));
  }

  /** Whose streak it is, traced against `sense` to where the subject was seen last. */
  private traced(places: Place[], last: Place, sense: number, met = new Set<Place[]>()): Whose {
    met.add(places);
    const then = placeAt(places, last.frame, this.gap);
    if (then) return isNear(then, last) ? 'subject' : 'stranger';
    const origin = sense > 0 ? places[0]! : places.at(-1)!;
    // It was seen no more when the subject still was: that says nothing.
    if ((origin.frame - last.frame) * sense < 0) return 'newcomer';
    const before = this.streaks
      .filter((other) => !met.has(other) && this.leadsTo(other, origin, sense))
      .map((other) => this.traced(other, last, sense, met));
    if (before.includes('subject')) return 'subject';
    const late = (origin.frame - last.frame) * sense > this.tooLong;
    return late || before.includes('stranger') ? 'stranger' : 'newcomer';
  }

  /** Whether a streak was where another begins, at about that time. */
  private leadsTo(places: Place[], origin: Place, sense: number): boolean {
    const start = sense > 0 ? places[0]! : places.at(-1)!;
    if ((origin.frame - start.frame) * sense <= 0) return false;
    const end = sense > 0 ? places.at(-1)! : places[0]!;
    const ended = (origin.frame - end.frame) * sense;
    if (ended > this.gap) return false;
    const there = ended > 0 ? end : placeAt(places, origin.frame, this.gap);
    return !!there && isNear(there, origin);
  }
}

const isNear = (a: Place, b: Place) => angleBetween(a.direction, b.direction) < NEAR * Math.max(a.size, b.size);

/** Where a streak is in a frame; null where it is not, or was away for more than `gap` frames about it. */
function placeAt(places: readonly Place[], frame: number, gap: number): Place | null {
  if (frame < places[0]!.frame || frame > places.at(-1)!.frame) return null;
  const after = places.findIndex((place) => place.frame >= frame);
  const [a, b] = [places[after - 1], places[after]];
  if (b?.frame === frame) return b;
  if (!a || !b || b.frame - a.frame > gap) return null;
  const f = (frame - a.frame) / (b.frame - a.frame);
  const mix = (k: 0 | 1 | 2) => a.direction[k] + (b.direction[k] - a.direction[k]) * f;
  return { frame, direction: unit(vec3([mix(0), mix(1), mix(2)])), size: a.size + (b.size - a.size) * f };
}
