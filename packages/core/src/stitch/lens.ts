/**
 * A fisheye lens: where in its picture a direction is drawn. The model is the equidistant fisheye with two
 * radial terms, r(θ) = f·(θ + k1·θ³ + k2·θ⁵), θ in radians from the lens's axis (Kannala and Brandt, "A generic
 * camera model and calibration method", IEEE PAMI 28, 2006, its radially symmetric part).
 *
 * The rig's axes are those of every picture in Glimbo (x right, y up, z ahead); `pan`, `tilt` and `roll` turn the
 * lens's own axes into the rig's, so a lens that looks backwards has pan 180.
 */
import { apply, RADIANS, rotationOf, transpose, type Matrix3, type Vec3 } from '../geometry/rotation.js';

export interface Lens {
  /** Centre of the circle in pixels of the decoded picture, continuous: pixel i covers [i, i + 1). */
  centreX: number;
  centreY: number;
  /** Radius in pixels of the circle at which the field of view ends. */
  radius: number;
  /** Full field of view in degrees, 90…270. */
  fov: number;
  k1: number;
  k2: number;
  /** Orientation in the rig, degrees. */
  pan: number;
  tilt: number;
  roll: number;
}

export const LENS_FOV = { min: 90, max: 270 } as const;

const bentAngle = (theta: number, { k1, k2 }: Pick<Lens, 'k1' | 'k2'>) => {
  const t2 = theta * theta;
  return theta * (1 + t2 * (k1 + t2 * k2));
};

/** Pixels per radian at the lens's axis. */
export const focalOf = (lens: Pick<Lens, 'radius' | 'fov' | 'k1' | 'k2'>) =>
  lens.radius / bentAngle((lens.fov / 2) * RADIANS, lens);

/** Distance from the circle's centre in pixels at which the angle θ (radians) from the axis is drawn. */
export const lensRadius = (lens: Pick<Lens, 'radius' | 'fov' | 'k1' | 'k2'>, theta: number) =>
  focalOf(lens) * bentAngle(theta, lens);

/** Angle from the axis in radians that is drawn at a distance in pixels from the centre (Newton's method). */
export function lensAngle(lens: Pick<Lens, 'radius' | 'fov' | 'k1' | 'k2'>, distance: number): number {
  const wanted = distance / focalOf(lens);
  let theta = wanted;
  for (let i = 0; i < 8; i++) {
    const t2 = theta * theta;
    theta -= (bentAngle(theta, lens) - wanted) / (1 + t2 * (3 * lens.k1 + 5 * t2 * lens.k2));
  }
  return theta;
}

/** Rotation from the rig's axes to the lens's. */
export const rigToLens = (lens: Pick<Lens, 'pan' | 'tilt' | 'roll'>): Matrix3 => transpose(rotationOf(lens));

/** Pixel at which a lens draws a direction of the rig, and the angle from its axis in radians. */
export function lensPixel(
  lens: Lens,
  direction: Vec3,
  toLens = rigToLens(lens),
): { x: number; y: number; theta: number } {
  const [x, y, z] = apply(toLens, direction);
  const across = Math.hypot(x, y);
  const theta = Math.atan2(across, z);
  const r = lensRadius(lens, theta);
  const k = across > 1e-12 ? r / across : 0;
  return { x: lens.centreX + x * k, y: lens.centreY - y * k, theta };
}

/** Direction of the rig that a lens draws at a pixel. */
export function lensDirection(lens: Lens, px: number, py: number, toLens = rigToLens(lens)): Vec3 {
  const dx = px - lens.centreX;
  const dy = lens.centreY - py;
  const r = Math.hypot(dx, dy);
  const theta = lensAngle(lens, r);
  const s = r > 1e-12 ? Math.sin(theta) / r : 0;
  return apply(transpose(toLens), [dx * s, dy * s, Math.cos(theta)]);
}
