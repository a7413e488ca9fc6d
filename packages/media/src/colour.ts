/** Colour as footage says it is written, brought to BT.709 in video range before anything else looks at it. */
import { BT709_TAGS, type ColourTags } from '@glimbo/core/gather/colour';

/** Transfer functions that are the same curve as BT.709's. */
const LIKE_709 = ['bt709', 'smpte170m', 'bt2020-10', 'bt2020-12'];
const HIGH_RANGE = ['smpte2084', 'arib-std-b67'];

/** Luminance of reference white in HDR pictures, cd/m² (ITU-R BT.2408). */
const REFERENCE_WHITE = 203;
/** Luminance up to which highlights are kept apart, cd/m². */
const PEAK = 1000;
const TO_709 = 'matrix=bt709:range=limited';
/** Colours outside BT.709 come to its border where each of R', G', B' is cut off; cut off as Y'CbCr they would get another light. */
const CUT_OFF = `zscale=transfer=bt709:matrix=gbr:range=full,format=gbrp16le,zscale=${TO_709},format=yuv420p`;

/**
 * ffmpeg's filters that bring a picture with these tags to BT.709 in video range, ending in the right tags. High dynamic
 * range is brought down by the Möbius curve, which leaves everything up to half of reference white as it is; colours
 * outside BT.709 are clipped to it as R'G'B'.
 */
export function toBt709(tags: ColourTags = BT709_TAGS): string {
  const matrix = tags.matrix ?? 'bt709';
  const primaries = tags.primaries ?? (matrix.startsWith('bt2020') ? 'bt2020' : 'bt709');
  const transfer = tags.transfer ?? 'bt709';
  const said = `setparams=colorspace=${matrix}:color_primaries=${primaries}:color_trc=${transfer}:range=${tags.full ? 'pc' : 'tv'}`;
  if (HIGH_RANGE.includes(transfer))
    return [
      said,
      `zscale=transfer=linear:npl=${REFERENCE_WHITE},format=gbrpf32le`,
      'zscale=primaries=bt709',
      `tonemap=tonemap=mobius:param=0.5:peak=${(PEAK / REFERENCE_WHITE).toFixed(3)}:desat=0`,
      CUT_OFF,
    ].join(',');
  const curve = LIKE_709.includes(transfer);
  if (matrix === 'bt709' && primaries === 'bt709' && curve && !tags.full) return said;
  // A curve that is the same under another name needs no change of light.
  const named = curve ? said.replace(`color_trc=${transfer}`, 'color_trc=bt709') : said;
  if (primaries === 'bt709') return `${named},zscale=primaries=bt709:transfer=bt709:${TO_709},format=yuv420p`;
  return `${named},zscale=primaries=bt709:transfer=linear:matrix=gbr,format=gbrpf32le,${CUT_OFF}`;
}
