/** Whether an original can be played as it is, so that nobody waits for its proxy. */
import { isPlainBt709 } from '@glimbo/core/gather/colour';
import type { Footage } from '~/model/footage';

/** The most that is asked of a decoder: H.264 High at level 5.2, H.265 Main at level 6.2. */
const ASKED: Record<string, string> = { h264: 'avc1.640034', hevc: 'hvc1.1.6.L186.B0' };

type Played = Pick<Footage, 'facts' | 'laidFlat' | 'variableRate'>;

/** Whether its file says what the preview takes for granted: a whole sphere from time 0, at one rate, in BT.709. */
function isPlain({ facts, laidFlat, variableRate }: Played): boolean {
  const { colour, container, begins = 0, codec } = facts;
  const plain = container === 'mov' && begins === 0 && codec in ASKED && isPlainBt709(colour);
  return laidFlat && !variableRate && plain;
}

/** Whether this browser decodes a footage's original smoothly, on hardware: what a processor does is better spent on its proxy. */
export async function playsOriginal(footage: Played): Promise<boolean> {
  if (!isPlain(footage) || !('mediaCapabilities' in navigator)) return false;
  const { width, height, rate, bitRate, codec } = footage.facts;
  const contentType = `video/mp4; codecs="${ASKED[codec]}"`;
  const video = { contentType, width, height, framerate: rate, bitrate: Math.max(1, Math.round(bitRate)) };
  const said = await navigator.mediaCapabilities.decodingInfo({ type: 'file', video }).catch(() => null);
  return said !== null && said.supported && said.smooth && said.powerEfficient;
}
