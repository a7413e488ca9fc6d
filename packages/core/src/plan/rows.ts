/** Which rows of an equirectangular picture a shot sees: those that it never does need not be brought to where it is drawn. */
import { apply, IDENTITY, transpose, type Matrix3, type Vec3 } from '../geometry/rotation.js';
import { cameraDirection, pixelOf } from '../lens/view.js';
import type { Shot } from './shot.js';

/** Points on each side of the frame at which latitudes are looked at. */
const SIDE = 16;

/** A band of latitudes in radians, north up. */
export interface Band {
  south: number;
  north: number;
}

export const WHOLE: Band = { south: -Math.PI / 2, north: Math.PI / 2 };

export const union = (a: Band, b: Band): Band => ({
  south: Math.min(a.south, b.south),
  north: Math.max(a.north, b.north),
});

/**
 * The latitudes of its source that a shot sees at most. The extremes lie on the frame's border, or at a pole that is in
 * sight; between two points of the border no latitude is further off than half the way from one to the other.
 */
export function latitudesSeen({ picture, toSource }: Pick<Shot, 'picture' | 'toSource'>): Band {
  // A ball has a limb of its own inside the frame.
  if ('sphere' in picture || 'flat' in picture || picture.bend > 1) return WHOLE;
  const camera = { ...picture, rotation: IDENTITY };
  const { width, height } = camera;
  const seen = (pole: Vec3) => {
    const p = pixelOf(camera, apply(transpose(toSource), pole));
    return p !== null && p.x > -1 && p.x < width + 1 && p.y > -1 && p.y < height + 1;
  };
  let [south, north, step] = [Infinity, -Infinity, 0];
  let before: Vec3 | null = null;
  for (const [x, y] of border(width, height)) {
    const d = cameraDirection(camera, x, y);
    if (!d) return WHOLE;
    const latitude = Math.asin(Math.max(-1, Math.min(1, apply(toSource, d)[1])));
    south = Math.min(south, latitude);
    north = Math.max(north, latitude);
    // Half the way along the great circle, from half the chord.
    if (before)
      step = Math.max(
        step,
        Math.asin(Math.min(1, Math.hypot(d[0] - before[0], d[1] - before[1], d[2] - before[2]) / 2)),
      );
    before = d;
  }
  return {
    south: seen([0, -1, 0]) ? WHOLE.south : Math.max(WHOLE.south, south - step),
    north: seen([0, 1, 0]) ? WHOLE.north : Math.min(WHOLE.north, north + step),
  };
}

/** The latitudes of a source within some degrees of the direction that lies ahead in other axes; `toSource` turns from those. */
export function latitudesAbout(toSource: Matrix3, degrees: number): Band {
  const latitude = Math.asin(Math.max(-1, Math.min(1, apply(toSource, [0, 0, 1])[1])));
  const reach = (degrees * Math.PI) / 180;
  return { south: Math.max(WHOLE.south, latitude - reach), north: Math.min(WHOLE.north, latitude + reach) };
}

function* border(width: number, height: number): Generator<[number, number]> {
  for (let i = 0; i < SIDE; i++) yield [(width * i) / SIDE, 0];
  for (let i = 0; i < SIDE; i++) yield [width, (height * i) / SIDE];
  for (let i = 0; i < SIDE; i++) yield [width * (1 - i / SIDE), height];
  for (let i = 0; i <= SIDE; i++) yield [0, height * (1 - i / SIDE)];
}

/** Rows beyond a band that a bicubic sample at its edge may touch, in the half-size planes too. */
const REACH = 8;

/** The rows of a picture of some height that show a band: from an even row on, an even number of them. */
export function rowsOfBand({ south, north }: Band, height: number): { top: number; rows: number } {
  const rowAt = (latitude: number) => (0.5 - latitude / Math.PI) * height;
  const top = Math.max(0, 2 * Math.floor((rowAt(north) - REACH) / 2));
  const end = Math.min(height, 2 * Math.ceil((rowAt(south) + REACH) / 2));
  return { top, rows: end - top };
}
