/**
 * The motion analysis and levelling on clips as real rigs film them. Beside each the limit: how far the picture itself moves
 * otherwise than it should after noise and compression, found by holding every decoded frame against the clean scene.
 */
import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { apply, DEGREES, multiply, rotationAbout, vec3, type Matrix3, type Vec3 } from '@glimbo/core/geometry/rotation';
import { solveSymmetric } from '@glimbo/core/geometry/solve';
import { directionOf } from '@glimbo/core/geometry/sphere';
import {
  driftPerMinute,
  levelErrors,
  percentile,
  rootMeanSquare,
  turnError,
  turnErrors,
  type Truth,
} from '@glimbo/demo/truth';
import { engineFolder } from '@glimbo/media/ffmpeg';
import { readMotion } from '@glimbo/media/motion-file';
import { folder } from './measure.js';
import { far, greyOf } from './photographs.js';
import { ACROSS, DOWN, film, RIGS, type Rig } from './rigs.js';

/** Every so manieth pixel is looked at for the limit; brighter ones than this are burnt out. */
const SPARSE = 4;
const BURNT = 250;
/** Radians by which the scene is turned to see how it changes. */
const STEP = 0.004;

const two = (errors: number[]) =>
  `${percentile(errors, 0.5).toFixed(3)}° (median), ${percentile(errors, 0.95).toFixed(3)}° (95 %)`;

/** How each decoded frame is truly turned, as near as the clean scene can tell. */
function seenOrientations(rig: Rig, file: string, truth: Truth): Matrix3[] {
  const scene = greyOf(rig.scene, folder);
  const raw = execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-vf', 'format=gray', '-f', 'rawvideo', '-'], {
    maxBuffer: 1 << 30,
  });
  const places: { direction: Vec3; at: number; area: number }[] = [];
  for (let y = SPARSE / 2; y < DOWN; y += SPARSE)
    for (let x = 0; x < ACROSS; x += SPARSE) {
      const latitude = (0.5 - (y + 0.5) / DOWN) * 180;
      const direction = directionOf(((x + 0.5) / ACROSS - 0.5) * 360, latitude);
      if (rig.covered && direction[2] < 0) continue;
      places.push({ direction, at: y * ACROSS + x, area: Math.cos(latitude / DEGREES) });
    }
  return truth.orientations.map((orientation, n) => {
    const frame = raw.subarray(n * ACROSS * DOWN, (n + 1) * ACROSS * DOWN);
    let seen = orientation;
    for (let round = 0; round < 3; round++) {
      const [matrix, right] = [new Float64Array(9), new Float64Array(3)];
      const light = (turn: Vec3, d: Vec3) => {
        const [x, y, z] = apply(multiply(seen, rotationAbout(turn)), d);
        return rig.gain(n) * far(scene, x, y, z);
      };
      for (const { direction, at, area } of places) {
        const here = light([0, 0, 0], direction);
        if (here > BURNT) continue;
        const slope = [0, 1, 2].map((k) => {
          const turn = (by: number) => vec3([0, 1, 2].map((j) => (j === k ? by : 0)));
          return (light(turn(STEP), direction) - light(turn(-STEP), direction)) / (2 * STEP);
        });
        for (let i = 0; i < 3; i++) {
          right[i]! += area * slope[i]! * (frame[at]! - here);
          for (let j = 0; j < 3; j++) matrix[3 * i + j]! += area * slope[i]! * slope[j]!;
        }
      }
      seen = multiply(seen, rotationAbout(vec3(solveSymmetric(matrix, right, 3)!)));
    }
    return seen;
  });
}

/** How far the turns from frame to frame are off. */
const stepsOff = (found: Matrix3[], truth: Truth) => found.slice(1).map((_, i) => turnError(found, truth, i + 1));

export async function reportRealRigs() {
  console.log('Motion analysis of clips made from photographs, as real rigs film them');
  for (const rig of RIGS) {
    const name = rig.name.replace(/\W+/g, '-');
    const file = join(folder, `${name}.mp4`);
    const truth = await film(rig, file, folder);
    // People stand before the scene: it cannot be held against the clean one.
    const limit = rig.walks ? '' : `; limit ${two(stepsOff(seenOrientations(rig, file, truth), truth))}`;
    console.log(`${rig.name}${limit}`);
    for (const method of ['quick', 'thorough']) {
      const out = join(folder, `${name}-${method}.json`);
      const cli = join(engineFolder(), 'cli.mjs');
      execFileSync('node', [cli, 'motion', file, '--out', out, '--method', method], { stdio: 'ignore' });
      const motion = await readMotion(out);
      const trust = motion.frames.map((f) => f.trust);
      const drift = driftPerMinute(motion, truth, 0, truth.orientations.length - 1).toFixed(1);
      const trusted = `${percentile(trust, 0.5).toFixed(2)} (median), ${percentile(trust, 0.05).toFixed(2)} (5 %)`;
      const level =
        method === 'quick' ? `; level off by ${rootMeanSquare(levelErrors(motion, truth)).toFixed(2)}° (RMS)` : '';
      console.log(
        `  ${method}: turn off by ${two(turnErrors(motion, truth))}, drift ${drift}° a minute, trust ${trusted}${level}`,
      );
    }
  }
}
