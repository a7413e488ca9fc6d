/**
 * The benchmarks: ./glimbo bench [ROUNDS] [WHICH]. They print ratios of wall time and CPU seconds, medians of alternated
 * runs. `quick` is exports without v360, which takes minutes a round; `follow`, `framing` and `accuracy` have no rounds: following,
 * Sketches, motion and levelling against the truth.
 */
import { reportAccuracy } from './accuracy.js';
import { benchExports } from './exports.js';
import { reportLevelling } from './levelling.js';
import { reportFollow } from './follow.js';
import { reportFraming } from './framing.js';
import { benchGather } from './gather.js';
import { benchLibrary } from './library.js';
import { benchLook } from './look.js';
import { benchMotion } from './motion.js';
import { benchPath } from './path.js';
import { benchPlay } from './play.js';
import { reportRealRigs } from './real-rigs.js';
import { reportSketches } from './sketches.js';
import { benchStitch } from './stitch.js';
import { reportWalking } from './walking.js';

const CHOICES = [
  'all',
  'exports',
  'quick',
  'stitch',
  'gather',
  'motion',
  'path',
  'look',
  'play',
  'library',
  'follow',
  'walking',
  'walking-chosen',
  'framing',
  'accuracy',
];
const rounds = Number(process.argv[2] ?? 3);
const which = process.argv[3] ?? 'all';
if (!(rounds >= 1) || !CHOICES.includes(which)) {
  console.error(`Usage: ./glimbo bench [ROUNDS] [${CHOICES.join(' | ')}]`);
  process.exit(2);
}
if (which === 'all' || which === 'exports' || which === 'quick') await benchExports(rounds, which === 'quick');
if (which === 'all' || which === 'stitch') await benchStitch(rounds);
if (which === 'all' || which === 'gather') await benchGather(rounds);
if (which === 'all' || which === 'motion') await benchMotion(rounds);
if (which === 'all' || which === 'path') await benchPath(rounds);
if (which === 'all' || which === 'look') await benchLook(rounds);
if (which === 'all' || which === 'play') await benchPlay(rounds);
if (which === 'all' || which === 'library') await benchLibrary();
if (which === 'all' || which === 'follow') {
  await reportFollow();
  await reportSketches();
}
if (which === 'all' || which === 'follow' || which.startsWith('walking'))
  await reportWalking(which === 'walking-chosen');
if (which === 'all' || which === 'framing') await reportFraming();
if (which === 'all' || which === 'accuracy') {
  await reportAccuracy();
  await reportLevelling();
  await reportRealRigs();
}
