/** Reads keyframes that were cut out of a path, wherever they come from: the browser's storage, a request, a file of a move. */
import { DocumentError } from '../boundary/document-error.js';
import { channelProblem } from './limits.js';
import type { Clipping } from './clipping.js';
import type { Keyframe } from '../curve/channel.js';
import { CURVES } from './path.js';

/** A clipping from parsed JSON. Throws DocumentError with what is wrong with it. */
export function readClipping(plain: unknown): Clipping {
  if (typeof plain !== 'object' || plain === null || Array.isArray(plain))
    throw new DocumentError('keyframes are lists by channel');
  const clipping: Clipping = {};
  for (const name of CURVES) {
    const channel = (plain as Record<string, unknown>)[name];
    if (channel === undefined) continue;
    const problem = typeof channel === 'number' ? `${name} is no list of keyframes` : channelProblem(name)(channel);
    if (problem) throw new DocumentError(problem);
    const keys = channel as Keyframe[];
    if (keys.length) clipping[name] = [...keys];
  }
  if (!Object.keys(clipping).length) throw new DocumentError('there are no keyframes in it');
  return clipping;
}
