/** What a footage's picture shows and where: the whole sphere, a part of it, or what one or two lenses drew. */
import { focalOf, type Lens } from './lens.js';

export interface Stereo {
  layout: 'over-under' | 'side-by-side';
  eye: 'first' | 'second';
}

/** How the picture to be read comes out of the files. */
interface Joining {
  /** Two pictures are set side by side: of two files, or of two video streams in one. */
  join?: 'files' | 'streams';
  /** A stereo recording, of which one eye is used. */
  stereo?: Stereo;
}

export interface WholeSphere extends Joining {
  kind: 'sphere';
}

/** An equirectangular picture of a part of the sphere: its edges in degrees of longitude and latitude. */
export interface PartSphere extends Joining {
  kind: 'part';
  left: number;
  right: number;
  top: number;
  bottom: number;
}

export interface OneLens extends Joining {
  kind: 'one-lens';
  lens: Lens;
  housing?: Housing;
}

export interface TwoLenses extends Joining {
  kind: 'two-lenses';
  /** Pixel coordinates are those of the joined picture: the first lens on its left half, the second on its right. */
  lenses: [Lens, Lens];
  /** Width of the band in degrees over which one lens passes into the other, 0…20. */
  feather: number;
  /** Bringing brightness and colour together: near the seam alone, or of the whole lenses. */
  match: Match;
  /** A seam straight round between the lenses, or one that goes round near things. */
  seam: 'straight' | 'moving';
  housing?: Housing;
  /** What was found in the picture over time; absent until looked at. */
  track?: StitchTrack;
}

export type Match = 'off' | 'gentle' | 'full';
export type Source = WholeSphere | PartSphere | OneLens | TwoLenses;

/** What the stitch follows over time, each list entry `every` seconds apart from the footage's start. */
export interface StitchTrack {
  every: number;
  /** Of each moment: for `SECTORS` azimuths round the seam, the natural logarithm of lens 1 over lens 2 in R′, G′, B′. */
  ratios: number[][];
  /** Of each moment: for `SEAM_POINTS` azimuths, how far the seam lies from the middle, in degrees towards the second lens's axis. */
  seam: number[][];
}

/** Azimuths about the rig's z axis: from up (0) over right; sector i is centred on i / SECTORS of a turn. */
export const SECTORS = 16;
export const SEAM_POINTS = 72;
export const MOST_FEATHER = 20;

/** What stands before the lens: how much wider or narrower it sees through it, and the radial terms it adds. */
export const HOUSINGS = {
  bare: { name: 'Bare lens', fov: 1, k1: 0, k2: 0 },
  guard: { name: 'Lens guard', fov: 0.988, k1: -0.004, k2: 0 },
  underwater: { name: 'Underwater case', fov: 0.94, k1: -0.012, k2: 0.002 },
} as const;
export type Housing = keyof typeof HOUSINGS;

/** A lens as it draws behind a housing. */
export function housed(lens: Lens, housing: Housing = 'bare'): Lens {
  const { fov, k1, k2 } = HOUSINGS[housing];
  return { ...lens, fov: lens.fov * fov, k1: lens.k1 + k1, k2: lens.k2 + k2 };
}

/** A two-lens source before anything was found out about it: lenses back to back, each in its half of the picture. */
export function twoLenses(width: number, height: number, fov = 200, lenses?: [Lens, Lens]): TwoLenses {
  const side = width / 2;
  const lens = fullLens(side, height, fov);
  const pair: [Lens, Lens] = lenses ?? [lens, { ...lens, centreX: side * 1.5, pan: 180 }];
  return { kind: 'two-lenses', lenses: pair, feather: 4, match: 'gentle', seam: 'moving' };
}

/** A lens whose circle fills a picture of width × height pixels. */
const fullLens = (width: number, height: number, fov: number): Lens => ({
  centreX: width / 2,
  centreY: height / 2,
  radius: Math.min(width, height) / 2,
  fov,
  k1: 0,
  k2: 0,
  pan: 0,
  tilt: 0,
  roll: 0,
});

/** A source said to be of another kind, its picture width × height pixels: what can be kept is how the picture is joined. */
export function sourceOfKind(kind: Source['kind'], { join }: Source, width: number, height: number): Source {
  const joining = join ? { join } : {};
  if (kind === 'two-lenses') return { ...twoLenses(width, height), ...joining };
  if (kind === 'part') return { kind, ...joining, left: -90, right: 90, top: 90, bottom: -90 };
  if (kind === 'one-lens') return { kind, ...joining, lens: fullLens(width, height, 200) };
  return { kind, ...joining };
}

/** A source of which one eye of a stereo recording is used, or none is told apart. */
export function withStereo<T extends Source>({ stereo: _, ...source }: T, stereo: Stereo | null): Source {
  return { ...source, ...(stereo ? { stereo } : {}) } as Source;
}

/** Whether this footage's picture has to be drawn as a sphere before anything else can look at it as one. */
export const needsStitching = (source: Source) => source.kind !== 'sphere';

/** Entries of a track on both sides of a time, and how far it lies between them. */
function around<T>(list: T[], every: number, time: number): [T, T, number] | null {
  if (!list.length) return null;
  const place = Math.max(0, Math.min(list.length - 1, time / every));
  const i = Math.floor(place);
  return [list[i]!, list[Math.min(list.length - 1, i + 1)]!, place - i];
}

/** The seam at a time: for each of SEAM_POINTS azimuths degrees from the middle towards the second lens's axis. */
export function seamAt(source: TwoLenses, time: number): number[] {
  const found = source.seam === 'moving' && source.track ? around(source.track.seam, source.track.every, time) : null;
  if (!found) return new Array<number>(SEAM_POINTS).fill(0);
  const [a, b, f] = found;
  return a.map((v, i) => v + (b[i]! - v) * f);
}

/** The logarithmic ratios of lens 1 over lens 2 at a time, three a sector; null when nothing is to be matched. */
export function ratiosAt(source: TwoLenses, time: number): number[] | null {
  const found = source.match !== 'off' && source.track ? around(source.track.ratios, source.track.every, time) : null;
  if (!found) return null;
  const [a, b, f] = found;
  return a.map((v, i) => v + (b[i]! - v) * f);
}

/**
 * Width in pixels of the whole sphere at the resolution of the source's middle, for a source picture `width` pixels
 * wide; a multiple of 64 unless it is a whole sphere already.
 */
export function sphereWidth(source: Source, width: number): number {
  if (source.kind === 'sphere') return width;
  const wide =
    source.kind === 'part'
      ? (width * 360) / (source.right - source.left)
      : 2 * Math.PI * focalOf(source.kind === 'one-lens' ? source.lens : source.lenses[0]);
  return Math.max(64, Math.round(wide / 64) * 64);
}
