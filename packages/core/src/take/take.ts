/** The take: one edit of one footage, as the open document described in docs/formats/take.md. */
import { IDENTITY, multiply, rotationOf, transpose, type Angles, type Matrix3 } from '../geometry/rotation.js';
import { emptyPath, type Path } from '../path/path.js';

export interface Take {
  format: 'glimbo-take';
  version: 1;
  /** The footage's file, relative to the document. */
  footage: string;
  /** In and out points in seconds from the footage's start; the out point is the first moment not shown. */
  range: { in: number; out: number };
  /** Frames a second at which the footage's frames are shown: 30 read as 24 runs slower. Its own rate when absent. */
  reading?: number;
  orientation?: { mount?: Angles; centre?: { pan: number; tilt: number } };
  frame: { aspect: string };
  path: Path;
}

export const newTake = (footage: string, duration: number): Take => ({
  format: 'glimbo-take',
  version: 1,
  footage,
  range: { in: 0, out: duration },
  frame: { aspect: '16:9' },
  path: emptyPath(),
});

/** The correction C that turns a direction in the footage's picture into the world: the mount, then the centre. */
export function correctionOf(take: Pick<Take, 'orientation'>): Matrix3 {
  const { mount, centre } = take.orientation ?? {};
  const mounted = mount ? rotationOf(mount) : IDENTITY;
  return centre ? multiply(transpose(rotationOf({ ...centre, roll: 0 })), mounted) : mounted;
}

/** Rotation from the virtual camera's axes to the footage's picture: C⁻¹ · R. */
export const cameraToSource = (take: Pick<Take, 'orientation'>, camera: Matrix3): Matrix3 =>
  multiply(transpose(correctionOf(take)), camera);

/** How many times longer the footage lasts as it is read than as it was filmed at `rate` frames a second. */
export const stretchOf = (take: Pick<Take, 'reading'>, rate: number) => (take.reading ? rate / take.reading : 1);
