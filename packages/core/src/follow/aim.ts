/** Where a look at a subject is aimed, and how that goes on from frame to frame. */
import { apply, IDENTITY, multiply, transpose, turnTo, type Matrix3, type Vec3 } from '../geometry/rotation.js';

/** A look's axes upright in the picture, its z axis towards a direction. */
export function uprightTo(direction: Vec3): Matrix3 {
  const [x, y, z] = direction;
  const across = Math.hypot(x, z);
  if (across < 1e-6) return [1, 0, 0, 0, 0, y, 0, -y, 0];
  const [rx, rz] = [z / across, -x / across];
  // Up is ahead × right.
  const up: Vec3 = [y * rz - z * 0, z * rx - x * rz, x * 0 - y * rx];
  return [rx, up[0], x, 0, up[1], y, rz, up[2], z];
}

/** A look's axes towards a direction of the picture, upright in other axes: `toThose` turns directions of the picture into them. */
export const uprightIn = (toThose: Matrix3, direction: Vec3): Matrix3 =>
  multiply(transpose(toThose), uprightTo(apply(toThose, direction)));

const ahead = (m: Matrix3): Vec3 => [m[2], m[5], m[8]];
const across = ([x, , z]: Vec3): [number, number] => [x, z];

export class Aim {
  /** From the look's axes to the picture's. */
  toPicture: Matrix3;
  /**
   * How upright axes lie in the present picture, as far as the rig's turning is known: what stood upright when it was pointed out stands
   * so still, however the rig has rolled since.
   */
  private carried: Matrix3;
  /** Radians a frame, right and up in the look, without the rig's own turning. */
  private velocity = { x: 0, y: 0 };

  /** `upright`: from axes in which things stand to those of the picture in which it is pointed out. */
  constructor(direction: Vec3, upright: Matrix3 = IDENTITY) {
    this.carried = upright;
    this.toPicture = this.uprightAt(direction);
  }

  get direction(): Vec3 {
    return ahead(this.toPicture);
  }

  /** Radians that it goes in a frame. */
  get speed(): number {
    return Math.hypot(this.velocity.x, this.velocity.y);
  }

  /** The rig has turned: from directions of the last picture to those of this one. */
  carry(turn: Matrix3): void {
    this.toPicture = multiply(turn, this.toPicture);
    this.carried = multiply(turn, this.carried);
  }

  /** A look's axes towards a direction of the picture, upright as things stand. */
  uprightAt(direction: Vec3): Matrix3 {
    return uprightIn(transpose(this.carried), direction);
  }

  /** Goes on for so many frames, or part of one, as it went; returns where it was before. */
  coast(frames: number): Matrix3 {
    const before = this.toPicture;
    this.turnBy(this.velocity.x * frames, this.velocity.y * frames);
    this.straighten();
    return before;
  }

  /** Which direction lies so many radians to the right and up in the look. */
  beside(right: number, up: number): Vec3 {
    const angle = Math.hypot(right, up);
    const s = angle < 1e-9 ? 0 : Math.sin(angle) / angle;
    return apply(this.toPicture, [right * s, up * s, Math.cos(angle)]);
  }

  /** Turns by radians to the right and up in the look. */
  turnBy(right: number, up: number): void {
    if (Math.hypot(right, up) < 1e-9) return;
    this.toPicture = multiply(turnTo(this.direction, this.beside(right, up)), this.toPicture);
  }

  /** Learns how it goes from where it was so many frames before and where it is now. */
  remember(before: Matrix3, frames = 1): void {
    const d = this.direction;
    const dot = (k: number) => before[k]! * d[0] + before[k + 3]! * d[1] + before[k + 6]! * d[2];
    const [x, y, z] = [dot(0), dot(1), dot(2)];
    const across = Math.hypot(x, y);
    const k = across > 0 ? Math.atan2(across, z) / across / frames : 0;
    this.velocity.x += 0.4 * (x * k - this.velocity.x);
    this.velocity.y += 0.4 * (y * k - this.velocity.y);
  }

  /** Aims somewhere else altogether. */
  jump(toPicture: Matrix3): void {
    this.toPicture = toPicture;
    this.velocity = { x: 0, y: 0 };
  }

  /** Brings the look upright, slowly, and not near the poles, where no way is. */
  private straighten() {
    const { direction } = this;
    const level = Math.hypot(...across(apply(transpose(this.carried), direction)));
    const share = 0.15 * Math.max(0, Math.min(1, (level - 0.35) / 0.4));
    if (share === 0) return;
    const upright = this.uprightAt(direction);
    const m = this.toPicture;
    // The angle between the two ways to the right, about the axis ahead.
    const dot = (a: number, b: number) =>
      m[a]! * upright[b]! + m[a + 3]! * upright[b + 3]! + m[a + 6]! * upright[b + 6]!;
    const roll = Math.atan2(dot(0, 1), dot(0, 0)) * share;
    const [c, s] = [Math.cos(roll), Math.sin(roll)];
    this.toPicture = multiply(m, [c, s, 0, -s, c, 0, 0, 0, 1]);
  }
}
