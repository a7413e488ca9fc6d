/** What the small motion sensor in the demo's camera would have written beside a clip: see docs/formats/sidecar.md. */
import { writeFileSync } from 'node:fs';
import { apply, multiply, quaternionOf, transpose, type Vec3, vec3 } from '@glimbo/core/geometry/rotation';
import type { CameraPose } from './motion.js';
import { seededRandom } from '@glimbo/core/random';

const SENSOR_RATE = 200;
const GRAVITY = 9.81;
/** The sensor's clock is ahead of the picture's by so many seconds. */
const SENSOR_AHEAD = 0.18;
/** Error of a zero rate in rad/s per axis, and the spread of its noise. */
const BIAS: Vec3 = [0.0011, -0.0007, 0.0014];
const RATE_NOISE = 0.004;
const ACCELERATION_NOISE = 0.05;

export function writeSidecar(clip: { duration: number; pose: (time: number) => CameraPose }, file: string) {
  const random = seededRandom(77);
  const noise = (spread: number) => spread * (random() + random() + random() - 1.5) * 2;
  const lines = ['time,rate_x,rate_y,rate_z,acceleration_x,acceleration_y,acceleration_z'];
  const step = 1 / SENSOR_RATE;
  for (let n = 0; n < (clip.duration + 2 * SENSOR_AHEAD) * SENSOR_RATE; n++) {
    const clock = n * step;
    const time = clock - SENSOR_AHEAD;
    const [before, now, after] = [-step, 0, step].map((d) => clip.pose(time + d)) as [
      CameraPose,
      CameraPose,
      CameraPose,
    ];
    // Half the turn from the frame before to the one after, as a vector in the rig's axes.
    const [x, y, z, w] = quaternionOf(multiply(transpose(before.rotation), after.rotation));
    const k = (Math.sign(w) * 2) / (2 * step);
    const rate = [x * k, y * k, z * k].map((v, i) => v + BIAS[i]! + noise(RATE_NOISE));
    const force = [0, 1, 2].map(
      (i) => (before.position[i]! - 2 * now.position[i]! + after.position[i]!) / step ** 2 + (i === 1 ? GRAVITY : 0),
    );
    const felt = apply(transpose(now.rotation), vec3(force)).map((v) => v + noise(ACCELERATION_NOISE));
    lines.push([clock.toFixed(3), ...rate.map((v) => v.toFixed(5)), ...felt.map((v) => v.toFixed(4))].join(','));
  }
  writeFileSync(file, `${lines.join('\n')}\n`);
}
