/**
 * Colour as footage says it is written, brought to BT.709 in video range before anything else looks at it. The names are
 * those of ITU-T H.273 as ffmpeg spells them.
 */

/** What a file says of its colour; null where it says nothing, which is taken for BT.709 in video range. */
export interface ColourTags {
  matrix: string | null;
  primaries: string | null;
  transfer: string | null;
  /** Whether black and white are 0 and 255 instead of 16 and 235. */
  full: boolean;
}

export const BT709_TAGS: ColourTags = { matrix: null, primaries: null, transfer: null, full: false };

const MATRICES = ['bt709', 'smpte170m', 'bt470bg', 'fcc', 'smpte240m', 'bt2020nc', 'bt2020c', 'gbr'];
const PRIMARIES = ['bt709', 'smpte170m', 'bt470bg', 'bt470m', 'smpte240m', 'bt2020', 'smpte432', 'smpte431'];
const TRANSFERS = ['bt709', 'smpte170m', 'bt470m', 'bt470bg', 'iec61966-2-1', 'bt2020-10', 'bt2020-12', 'smpte2084', 'arib-std-b67']; // prettier-ignore
/** Transfer functions that are the same curve as BT.709's. */
const LIKE_709 = ['bt709', 'smpte170m', 'bt2020-10', 'bt2020-12'];
const HIGH_RANGE = ['smpte2084', 'arib-std-b67'];

/** Luminance of reference white in HDR pictures, cd/m² (ITU-R BT.2408). */
const REFERENCE_WHITE = 203;
/** Luminance up to which highlights are kept apart, cd/m². */
const PEAK = 1000;
const TO_709 = 'matrix=bt709:range=limited';

/** Tags that are known here; others are taken as not given. */
export function colourTags(tags: { matrix?: string; primaries?: string; transfer?: string; range?: string; pixelFormat: string }): ColourTags {
  const known = (name: string | undefined, names: string[]) => (name && names.includes(name) ? name : null);
  return {
    matrix: known(tags.matrix, MATRICES),
    primaries: known(tags.primaries, PRIMARIES),
    transfer: known(tags.transfer, TRANSFERS),
    full: tags.range === 'pc' || (tags.range === undefined && tags.pixelFormat.startsWith('yuvj')),
  };
} // prettier-ignore

/** What the colour is called in the interface; null for BT.709 in video range. */
export function colourName({ matrix, primaries, transfer, full }: ColourTags): string | null {
  const wide = matrix?.startsWith('bt2020') || primaries === 'bt2020';
  const name =
    transfer === 'smpte2084' ? 'BT.2020 PQ'
    : transfer === 'arib-std-b67' ? 'BT.2020 HLG'
    : wide ? 'BT.2020'
    : matrix === 'smpte170m' || matrix === 'bt470bg' ? 'BT.601'
    : matrix && matrix !== 'bt709' ? matrix
    : null; // prettier-ignore
  return full ? `${name ?? 'BT.709'}, full range` : name;
}

/**
 * ffmpeg's filters that bring a picture with these tags to BT.709 in video range, ending in the right tags. High dynamic
 * range is brought down by the Möbius curve, which leaves everything up to half of reference white as it is; colours
 * outside BT.709 are clipped to it.
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
      `zscale=transfer=bt709:${TO_709},format=yuv420p`,
    ].join(',');
  const curve = LIKE_709.includes(transfer);
  if (matrix === 'bt709' && primaries === 'bt709' && curve && !tags.full) return said;
  // A curve that is the same under another name needs no change of light.
  const named = curve ? said.replace(`color_trc=${transfer}`, 'color_trc=bt709') : said;
  return `${named},zscale=primaries=bt709:transfer=bt709:${TO_709},format=yuv420p`;
}
