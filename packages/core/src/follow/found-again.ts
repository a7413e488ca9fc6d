/**
 * What was lost and may be found again somewhere else: where and in which sizes it is looked at, and how sure that must be, the more so
 * the more others look like it.
 */
import { angleBetween, RADIANS, type Matrix3, type Vec3 } from '../geometry/rotation.js';
import type { SphereFrame } from '../frame/sphere-frame.js';
import type { ColourModel } from './colours.js';
import type { Answer } from './evidence.js';
import { placesOf } from './search.js';
import type { Whose } from './strangers.js';
import type { Shape } from './subject-box.js';
import type { WhoIsWhere } from './next-frame.js';

/** It must be trusted as much as this at so many radians, more the farther away, within these bounds. */
const FOUND = { trust: 0.7, at: 0.3, more: 0.15, least: 0.5, most: 0.75 };
/** By how much more than anything else it must be trusted farther away than its own size. */
const SURER = 0.1;
/** And as much as this where it is somebody who was not there before. */
const NEWCOMER = 0.9;
/** Radians that are no distance. */
const NEARLY = 0.02;
/** How many places are looked at, and how many of them in several sizes; how far those lie apart: the more the longer it is lost. */
const PLACES = 5;
const CLOSELY = 3;
const SPREAD = { least: 1.4, more: 0.008, most: 2 };
/** How many places are looked at besides where something moves or was recognised. */
const OTHERS = 3;
/** Sizes in which the best place is looked at again, if it is no less sure than this. */
const FINER = [0.84, 1.2];
const NEAR_ENOUGH = -0.3;
/** Radians a frame by which it may have gone farther since it was lost. */
const PACE = 0.02;
/** Radians that are everywhere. */
const EVERYWHERE = 10;

/** What a tracker looks for elsewhere in a frame. */
export interface Sought {
  frame: SphereFrame;
  colours: ColourModel;
  /** Radians across and up, and across the longer side. */
  shape: Shape;
  size: number;
  /** Where it is expected, and after how many frames without it. */
  direction: Vec3;
  missing: number;
  /** The most that anything else was trusted to be it while it was seen. */
  alike: number;
  /** Whether it was usually told from the still world. */
  moves: boolean;
}

/** Something found again elsewhere. */
export interface Again {
  answer: Answer;
  trust: number;
  toPicture: Matrix3;
  size: number;
}

/** Looks at a direction for what is so many radians across. */
export type LookAt = (direction: Vec3, size: number) => Again;

/** A place that was looked at; `sure`: by how much it is trusted more than it must be. */
interface Looked extends Again {
  direction: Vec3;
  known: Whose | null;
  sure: number;
}

const surest = (list: readonly Looked[]): Looked | undefined =>
  list.reduce<Looked | undefined>((a, b) => (!a || b.sure > a.sure ? b : a), undefined);

/**
 * The best of the places that have its colours, or where something moves or was recognised, that is not somebody else; null where none
 * is sure enough.
 */
export function searched(what: Sought, { whose, mayBe }: WhoIsWhere, lookAt: LookAt): Again | null {
  const { frame, colours, shape, size, direction, missing, alike, moves } = what;
  const places = placesOf(frame, colours, shape, { direction, reach: size + PACE * missing }, PLACES)
    .map((place) => ({ direction: place.direction, known: whose(place.direction) }))
    .filter(({ known }) => known !== 'stranger' && !(moves && known === 'nobody'));
  const look = (place: Pick<Looked, 'direction' | 'known'>, across: number): Looked => {
    const found = lookAt(place.direction, across);
    const far = angleBetween(direction, place.direction) * RADIANS;
    return { ...found, ...place, sure: found.trust - needed({ far, size, alike, known: place.known }) };
  };
  const suggested = mayBe()
    .slice(0, OTHERS)
    .map((place) => look({ direction: place.direction, known: whose(place.direction) }, place.size));
  const byColour = places.flatMap((place, n) => sizesFor(n, missing).map((factor) => look(place, size * factor)));
  const looks = [...suggested, ...byColour];
  const best = surest(looks);
  if (best && best.sure > NEAR_ENOUGH)
    for (const finer of FINER) looks.push(look({ direction: best.direction, known: best.known }, best.size * finer));
  const found = surest(looks);
  return found && found.sure >= 0 ? found : null;
}

/** The most that anything elsewhere is trusted to be what is seen where it is expected, 0 to 1. */
export function mostAlike({ frame, colours, shape, size, direction }: Sought, lookAt: LookAt): number {
  const places = placesOf(frame, colours, shape, { direction, reach: EVERYWHERE }, PLACES);
  const others = places.filter((place) => angleBetween(place.direction, direction) * RADIANS > size);
  const looks = others.map((place) => ({ place, trust: lookAt(place.direction, size).trust }));
  const [best] = looks.sort((a, b) => b.trust - a.trust);
  if (!best) return 0;
  return Math.max(best.trust, ...FINER.map((factor) => lookAt(best.place.direction, size * factor).trust));
}

/** How much something must be trusted, 0 to 1, to be what was lost: so many radians from where it was expected. */
export function needed({
  far,
  size,
  alike,
  known,
}: Pick<Sought, 'size' | 'alike'> & { far: number; known: Whose | null }): number {
  const { trust, at, more, least, most } = FOUND;
  const byFar = Math.max(least, Math.min(most, trust + more * Math.log((far + NEARLY) / (at + NEARLY))));
  if (far < size || known === 'subject') return byFar;
  return Math.max(byFar, alike + SURER, known === 'newcomer' ? NEWCOMER : 0);
}

/** In which sizes, against the last one, the place of a rank (0 the best) is looked at after so many frames without it. */
export function sizesFor(rank: number, missing: number): number[] {
  if (rank >= CLOSELY) return [1];
  const spread = Math.min(SPREAD.most, SPREAD.least + SPREAD.more * missing);
  return [1 / spread, 1, spread];
}
