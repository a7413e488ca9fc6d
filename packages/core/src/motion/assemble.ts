/** The rig's orientation in every frame, from the turns of single steps and of whole spans. */
import { IDENTITY, multiply, rotationAbout, rotationVector, transpose, type Matrix3 } from '../geometry/rotation.js';
import type { Span, Step } from './points.js';

/**
 * Orientations of all frames, relative to the first: turning a direction of the frame into the first frame's axes. What
 * a span's turn differs from its steps put together is shared out evenly over them, so that short motion comes from the
 * steps and long motion from the spans. `spans` are in order and do not overlap.
 */
export function orientationsOf(steps: readonly Pick<Step, 'turn'>[], spans: readonly Span[]): Matrix3[] {
  const turns = steps.map((s) => s.turn);
  for (const { from, to, turn } of spans) {
    let chained: Matrix3 = IDENTITY;
    for (let n = from + 1; n <= to; n++) chained = multiply(chained, turns[n]!);
    // In the axes of the span's last frame; seen from an earlier one it is turned by the steps between.
    let error = rotationVector(multiply(transpose(chained), turn));
    for (let n = to; n > from; n--) {
      const k = 1 / (to - from);
      const step = turns[n]!;
      turns[n] = multiply(step, rotationAbout([error[0] * k, error[1] * k, error[2] * k]));
      const [x, y, z] = error;
      error = [step[0] * x + step[1] * y + step[2] * z, step[3] * x + step[4] * y + step[5] * z, step[6] * x + step[7] * y + step[8] * z]; // prettier-ignore
    }
  }
  let orientation: Matrix3 = IDENTITY;
  return turns.map((turn, n) => (orientation = n === 0 ? IDENTITY : multiply(orientation, turn)));
}
