/** How far the motion analysis of the demo clips is from how they were truly filmed. */
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Motion } from '@glimbo/core/motion/motion';
import {
  driftPerMinute,
  isBad,
  jitterLeft,
  keyedLevelErrors,
  levelErrors,
  percentile,
  readTruth,
  rootMeanSquare,
  travelErrors,
  turnErrors,
  type Truth,
} from '@glimbo/demo/truth';
import { engineFolder } from '@glimbo/media/ffmpeg';
import { readMotion } from '@glimbo/media/motion-file';
import { folder, root } from './measure.js';

const clips = join(root, 'packages/demo/clips');
/** Stretches shorter than this tell little of a drift or of jitter, in frames. */
const LONG = 90;
/** Frames with true level keys on Ridge Loop. */
const KEYED = [0, 232, 300, 375, 449];

/** First and last frames of the stretches that the analysis says it saw. */
function seenStretches(motion: Motion): [from: number, to: number][] {
  const stretches: [number, number][] = [];
  let from = 0;
  for (let n = 1; n <= motion.frames.length; n++) {
    if (n < motion.frames.length && !isBad(motion, n)) continue;
    if (n - 1 - from >= LONG) stretches.push([from, n - 1]);
    from = n;
  }
  return stretches;
}

function report(name: string, motion: Motion, truth: Truth) {
  const turns = turnErrors(motion, truth);
  console.log(
    `${name}: turn off by ${percentile(turns, 0.5).toFixed(3)}° (median, goal 0.05), ${percentile(turns, 0.95).toFixed(3)}° (95 %, goal 0.2), ${turns.length} of ${motion.frames.length - 1} frames trusted`,
  );
  for (const [from, to] of seenStretches(motion)) {
    const seconds = `${(from / truth.rate).toFixed(1)} to ${(to / truth.rate).toFixed(1)} s`;
    const { before, after } = jitterLeft(motion, truth, from, to);
    // A rig that stood still has no jitter of which a share could be left.
    const share = before > 10 ? ` (${((100 * after) / before).toFixed(1)} %, goal 10)` : '';
    console.log(
      `  ${seconds}: drift ${driftPerMinute(motion, truth, from, to).toFixed(2)}° a minute (goal 2), jitter ${before.toFixed(0)} to ${after.toFixed(1)} °/s²${share}`,
    );
  }
  const travels = travelErrors(motion, truth);
  if (travels.length)
    console.log(
      `  travel sure in ${travels.length} frames, off by ${percentile(travels, 0.5).toFixed(1)}° (median), ${percentile(travels, 0.9).toFixed(1)}° (90 %, goal 5), ${percentile(travels, 1).toFixed(1)}° (worst)`,
    );
  console.log(`  level by itself off by ${rootMeanSquare(levelErrors(motion, truth)).toFixed(2)}° (RMS)`);
}

export async function reportAccuracy() {
  const analyse = async (clip: string, ...more: string[]): Promise<[Motion, Truth]> => {
    const out = join(folder, `accuracy-${[clip, ...more].join('-').replaceAll('/', '')}.json`);
    execFileSync(
      'node',
      [join(engineFolder(), 'cli.mjs'), 'motion', join(clips, `${clip}.mp4`), '--out', out, ...more],
      { stdio: 'ignore' },
    );
    return [await readMotion(out), readTruth(readFileSync(join(clips, `${clip}.truth.json`), 'utf8'))];
  };
  console.log('Motion analysis against the true motion of the demo clips');
  const ridge = await analyse('ridge-loop');
  report('Ridge Loop, quick', ...ridge);
  console.log(
    `  level with ${KEYED.length} level keys off by ${rootMeanSquare(keyedLevelErrors(...ridge, KEYED)).toFixed(2)}° (RMS, goal 0.5; by itself 1)`,
  );
  report('Footbridge Carry, quick', ...(await analyse('footbridge-carry')));
  report(
    'Footbridge Carry, sidecar',
    ...(await analyse('footbridge-carry', '--sidecar', join(clips, 'footbridge-carry.motion.csv'))),
  );
  report('Turntable, quick', ...(await analyse('turntable')));
  report('Ridge Loop, thorough', ...(await analyse('ridge-loop', '--method', 'thorough')));
}
