/** The rig's orientation in every frame, from the turns of single steps and of spans of frames. */
import {
  apply,
  IDENTITY,
  multiply,
  rotationAbout,
  rotationVector,
  transpose,
  type Matrix3,
} from '../geometry/rotation.js';
import { solveBanded } from '../geometry/solve.js';
import type { Span, Step } from './steps.js';

/** The equations are linear only near the solution, so that they are set up so many times. */
const ROUNDS = 2;

/**
 * Orientations of all frames, relative to the first: turning a direction of the frame into the first frame's axes. Where
 * spans, which may overlap, say otherwise than their steps put together, the difference is shared out by least squares:
 * short motion comes from the steps and long motion from the spans.
 */
export function orientationsOf(steps: readonly Pick<Step, 'turn'>[], spans: readonly Span[]): Matrix3[] {
  let orientation: Matrix3 = IDENTITY;
  let orientations = steps.map(({ turn }, n) => (orientation = n === 0 ? IDENTITY : multiply(orientation, turn)));
  if (!spans.length) return orientations;
  const links = [...spans];
  for (let n = 1; n < steps.length; n++) links.push({ from: n - 1, to: n, turn: steps[n]!.turn, weight: 1 });
  for (let round = 0; round < ROUNDS; round++) orientations = adjusted(orientations, links);
  return orientations;
}

/** Orientations turned so that they agree with the links as well as can be, the first left as it is (Gauss and Newton). */
function adjusted(orientations: readonly Matrix3[], links: readonly Span[]): Matrix3[] {
  const count = orientations.length;
  const reach = links.reduce((most, { from, to }) => Math.max(most, to - from), 1);
  const band = new Float64Array(count * (reach + 1));
  const rights = [0, 1, 2].map(() => new Float64Array(count));
  band[0] = 1;
  for (const { from, to, turn, weight } of links) {
    const found = multiply(transpose(orientations[from]!), orientations[to]!);
    // What is missing between both, in the first frame's axes.
    const missing = apply(orientations[to]!, rotationVector(multiply(transpose(found), turn)));
    band[from * (reach + 1)]! += weight;
    band[to * (reach + 1)]! += weight;
    band[to * (reach + 1) + to - from]! -= weight;
    rights.forEach((right, k) => {
      right[to]! += weight * missing[k]!;
      right[from]! -= weight * missing[k]!;
    });
  }
  const [x, y, z] = solveBanded(band, reach, rights) as [Float64Array, Float64Array, Float64Array];
  return orientations.map((m, n) => multiply(rotationAbout([x[n]!, y[n]!, z[n]!]), m));
}
