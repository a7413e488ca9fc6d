/**
 * The benchmarks: ./glimbo bench [ROUNDS] [all | exports | quick | stitch | gather | motion]. They print ratios of wall time and CPU seconds,
 * medians of alternated runs. `quick` is exports without v360, which takes minutes a round.
 */
import { benchExports } from './exports.js';
import { benchGather } from './gather.js';
import { benchMotion } from './motion.js';
import { benchStitch } from './stitch.js';

const rounds = Number(process.argv[2] ?? 3);
const which = process.argv[3] ?? 'all';
if (!(rounds >= 1) || !['all', 'exports', 'quick', 'stitch', 'gather', 'motion'].includes(which)) {
  console.error('Usage: ./glimbo bench [ROUNDS] [all | exports | quick | stitch | gather | motion]');
  process.exit(2);
}
if (which === 'all' || which === 'exports' || which === 'quick') await benchExports(rounds, which === 'quick');
if (which === 'all' || which === 'stitch') await benchStitch(rounds);
if (which === 'all' || which === 'gather') await benchGather(rounds);
if (which === 'all' || which === 'motion') await benchMotion(rounds);
