/**
 * The Sector: the part of the sphere that is kept, between two headings and two tilts of the world. Outside it is a colour, or the
 * twin: the same place at another time of this or another footage.
 */
import { IDENTITY, multiply, RADIANS, rotationOf, transpose, type Matrix3, type Vec3 } from '../geometry/rotation.js';
import { directionOf } from '../geometry/sphere.js';

export interface Sector {
  /** Headings in degrees: what is kept goes to the right from one to the other; all round where they are the same. */
  from: number;
  to: number;
  /** Tilts in degrees; at ±90 it goes on to the pole. */
  bottom: number;
  top: number;
  /** Degrees over which it passes into what is outside. */
  feather: number;
  /** What is outside without a twin, #rrggbb. */
  colour: string;
  twin?: Twin;
}

/** The same place at another time. */
export interface Twin {
  /** The file of another footage, as the take names its own; absent: the same footage. */
  footage?: string;
  /** Whether it goes on with the take, so many seconds later, or stands still at so many seconds of its footage. */
  runs: 'along' | 'still';
  time: number;
  /** Degrees by which its sphere is turned against the take's. */
  pan: number;
  tilt: number;
  roll: number;
  /** Whether its light is brought to that of what is kept. */
  match: boolean;
}

export const SECTOR_LIMITS = {
  from: { least: -360, most: 360 },
  to: { least: -360, most: 360 },
  bottom: { least: -90, most: 90 },
  top: { least: -90, most: 90 },
  feather: { least: 0, most: 40 },
} as const;

export const TWIN_LIMITS = {
  time: { least: -36_000, most: 36_000 },
  pan: { least: -360, most: 360 },
  tilt: { least: -90, most: 90 },
  roll: { least: -180, most: 180 },
} as const;

export const USUAL_SECTOR: Sector = {
  from: -90,
  to: 90,
  bottom: -90,
  top: 90,
  feather: 8,
  colour: '#1c2420',
};

export const USUAL_TWIN: Twin = { runs: 'along', time: 0, pan: 0, tilt: 0, roll: 0, match: true };

/** Least feather that is drawn, so that a hard edge is not stepped. */
const LEAST_FEATHER = 0.5;

/** A sector as it is computed with, here, in the kernel and in the shader: radians, and the planes of its headings. */
export interface SectorEdges {
  /** Unit normals of the meridians' planes, towards what is kept. */
  from: Vec3;
  to: Vec3;
  /** How the two meet: both must be fulfilled, either, or there are none. */
  meet: 'both' | 'either' | 'none';
  /** Latitudes in radians; beyond a pole where there is no edge. */
  bottom: number;
  top: number;
  /** Radians. */
  feather: number;
}

const BEYOND = 10;

/** Degrees from the first heading to the other, 0 up to 360. */
export const widthOf = ({ from, to }: Pick<Sector, 'from' | 'to'>): number => (((to - from) % 360) + 360) % 360 || 360;

export function edgesOf(sector: Sector): SectorEdges {
  const width = widthOf(sector);
  const right = (heading: number) => directionOf(heading + 90, 0);
  const left = (heading: number) => directionOf(heading - 90, 0);
  return {
    from: right(sector.from),
    to: left(sector.to),
    meet: width === 360 ? 'none' : width > 180 ? 'either' : 'both',
    bottom: sector.bottom <= -90 ? -BEYOND : sector.bottom * RADIANS,
    top: sector.top >= 90 ? BEYOND : sector.top * RADIANS,
    feather: Math.max(sector.feather, LEAST_FEATHER) * RADIANS,
  };
}

const dot = (a: Vec3, b: Vec3) => Math.max(-1, Math.min(1, a[0] * b[0] + a[1] * b[1] + a[2] * b[2]));

/** How much of what is kept there is in a direction of the world, ½ on the edge, not kept to 0…1. */
export function weightIn({ from, to, meet, bottom, top, feather }: SectorEdges, direction: Vec3): number {
  const latitude = Math.asin(dot(direction, [0, 1, 0]));
  const [a, b] = [Math.asin(dot(direction, from)), Math.asin(dot(direction, to))];
  const across = meet === 'none' ? BEYOND : meet === 'both' ? Math.min(a, b) : Math.max(a, b);
  return Math.min(across, latitude - bottom, top - latitude) / feather + 0.5;
}

/** The four edges of a sector. */
export type SectorEdge = 'from' | 'to' | 'bottom' | 'top';

/** Its edges as lines of directions of the world, `step` degrees from one to the next; those that it does not have are left out. */
export function edgeLines(sector: Sector, step = 3): { edge: SectorEdge; line: Vec3[] }[] {
  const width = widthOf(sector);
  const [low, high] = [Math.max(-90, sector.bottom), Math.min(90, sector.top)];
  const along = (from: number, length: number, at: (v: number) => Vec3) => {
    const count = Math.max(1, Math.ceil(length / step));
    return Array.from({ length: count + 1 }, (_, i) => at(from + (length * i) / count));
  };
  const upright = (edge: 'from' | 'to') => ({
    edge,
    line: along(low, high - low, (tilt) => directionOf(sector[edge], tilt)),
  });
  const level = (edge: 'bottom' | 'top') => ({
    edge,
    line: along(sector.from, width, (pan) => directionOf(pan, sector[edge])),
  });
  return [
    ...(width < 360 ? [upright('from'), upright('to')] : []),
    ...(low > -90 ? [level('bottom')] : []),
    ...(high < 90 ? [level('top')] : []),
  ];
}

/** Least degrees between two edges that are dragged towards each other. */
const APART = 2;

/** A sector with an edge moved to a heading or tilt in degrees; it never passes the edge across from it. */
export function moveEdge(sector: Sector, edge: SectorEdge, to: number): Sector {
  const kept = (v: number) => Math.round(v * 10) / 10;
  if (edge === 'bottom') return { ...sector, bottom: kept(Math.max(-90, Math.min(sector.top - APART, to))) };
  if (edge === 'top') return { ...sector, top: kept(Math.min(90, Math.max(sector.bottom + APART, to))) };
  const heading = kept(((((to + 180) % 360) + 360) % 360) - 180);
  const moved = { ...sector, [edge]: heading };
  const width = widthOf(moved);
  return width < APART || width > 360 - APART ? sector : moved;
}

/** Seconds of its footage that a twin shows at a time in seconds of the take's. */
export const twinTime = ({ runs, time: of }: Pick<Twin, 'runs' | 'time'>, time: number): number =>
  runs === 'still' ? of : time + of;

/** From the world to the twin's picture, with its correction C there. */
export const twinFromWorld = (twin: Twin, correction: Matrix3): Matrix3 => {
  const turned = twin.pan || twin.tilt || twin.roll ? rotationOf(twin) : IDENTITY;
  return multiply(transpose(correction), transpose(turned));
};
