/** The virtual camera: a view of the sphere drawn into a frame of pixels. */
import { apply, DEGREES, rotationOf, transpose, type Matrix3, type Vec3 } from '../geometry/rotation.js';
import { angleAt, clampLens, cosineAt, halfSideRadius, limbRadius } from './projection.js';

/** Where the virtual camera looks and how. Degrees; bend 0…4; shift in half shorter sides. */
export interface View {
  pan: number;
  tilt: number;
  roll: number;
  fov: number;
  bend: number;
  shiftX: number;
  shiftY: number;
}

export const DEFAULT_VIEW: View = { pan: 0, tilt: 0, roll: 0, fov: 75, bend: 0, shiftX: 0, shiftY: 0 };

/** A view fitted to a frame: everything needed to go between pixels and directions. */
export interface Camera {
  width: number;
  height: number;
  bend: number;
  /** Radius covered by one pixel. */
  scale: number;
  /** Optical centre in pixels. */
  centreX: number;
  centreY: number;
  /** Camera to world. */
  rotation: Matrix3;
}

/** Fits a view to a frame of width × height pixels. */
export function cameraOf(view: View, width: number, height: number): Camera {
  const halfSide = Math.min(width, height) / 2;
  const { bend } = clampLens(view.fov, view.bend);
  return {
    width,
    height,
    bend,
    scale: halfSideRadius(view.fov, view.bend) / halfSide,
    centreX: width / 2 + view.shiftX * halfSide,
    centreY: height / 2 - view.shiftY * halfSide,
    rotation: rotationOf(view),
  };
}

/** Direction in the camera's own axes seen at continuous pixel coordinates; null outside the ball. */
export function cameraDirection(camera: Camera, px: number, py: number): Vec3 | null {
  const x = (px - camera.centreX) * camera.scale;
  const y = (camera.centreY - py) * camera.scale;
  const cos = cosineAt(x * x + y * y, camera.bend);
  if (Number.isNaN(cos)) return null;
  const f = (camera.bend + cos) / (1 + camera.bend);
  return [x * f, y * f, cos];
}

/** World direction seen at continuous pixel coordinates; null outside the ball. */
export function directionAt(camera: Camera, px: number, py: number): Vec3 | null {
  const d = cameraDirection(camera, px, py);
  return d && apply(camera.rotation, d);
}

/** Pixel coordinates at which a world direction is drawn; null if it lies behind the projection's limit. */
export function pixelOf(camera: Camera, direction: Vec3): { x: number; y: number } | null {
  const [x, y, z] = apply(transpose(camera.rotation), direction);
  const depth = camera.bend + z;
  // For a ball only the near side, down to the limb (z = −1/d), is drawn.
  if (depth <= 1e-9 || (camera.bend > 1 && z < -1 / camera.bend)) return null;
  const f = (1 + camera.bend) / depth / camera.scale;
  return { x: camera.centreX + x * f, y: camera.centreY - y * f };
}

/**
 * World directions along the frame's border, clockwise from its upper left, `steps` a side; the first is
 * repeated at the end. Where the border lies outside the ball, the limb stands in for it.
 */
export function outline(camera: Camera, steps = 32): Vec3[] {
  const { width: w, height: h } = camera;
  const corners = [
    [0, 0],
    [w, 0],
    [w, h],
    [0, h],
    [0, 0],
  ] as const;
  const points: Vec3[] = [];
  for (let side = 0; side < 4; side++) {
    const [ax, ay] = corners[side]!;
    const [bx, by] = corners[side + 1]!;
    for (let i = 0; i < steps; i++) {
      points.push(borderDirection(camera, ax + ((bx - ax) * i) / steps, ay + ((by - ay) * i) / steps));
    }
  }
  points.push(points[0]!);
  return points;
}

function borderDirection(camera: Camera, px: number, py: number): Vec3 {
  const dx = px - camera.centreX;
  const dy = py - camera.centreY;
  const limit = (limbRadius(camera.bend) / camera.scale) * (1 - 1e-9);
  const k = Math.min(1, limit / Math.hypot(dx, dy));
  return directionAt(camera, camera.centreX + dx * k, camera.centreY + dy * k)!;
}

/** Horizontal and vertical angles in degrees (360 where the whole ball is in sight) and 35 mm equivalent focal length in mm. */
export function readOut(view: View, width: number, height: number) {
  const { bend, scale } = cameraOf(view, width, height);
  const across = (pixels: number) => {
    const angle = angleAt((pixels / 2) * scale, bend);
    return Number.isNaN(angle) ? 360 : 2 * angle * DEGREES;
  };
  const diagonal = Math.hypot(width, height) * scale;
  return {
    horizontal: across(width),
    vertical: across(height),
    focalLength: Math.hypot(36, 24) / diagonal,
  };
}
