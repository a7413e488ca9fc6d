/** Colour as footage says it is written. The names are those of ITU-T H.273 as ffmpeg spells them. */

/** What a file says of its colour; null where it says nothing, which is taken for BT.709 in video range. */
export interface ColourTags {
  matrix: string | null;
  primaries: string | null;
  transfer: string | null;
  /** Whether black and white are 0 and 255 instead of 16 and 235. */
  full: boolean;
}

export const BT709_TAGS: ColourTags = { matrix: null, primaries: null, transfer: null, full: false };

/** Whether a picture is in BT.709 and video range, as a browser shows it without anything being brought over. */
export const isPlainBt709 = (tags: ColourTags = BT709_TAGS): boolean =>
  !tags.full && [tags.matrix, tags.primaries, tags.transfer].every((tag) => tag === null || tag === 'bt709');

const MATRICES = ['bt709', 'smpte170m', 'bt470bg', 'fcc', 'smpte240m', 'bt2020nc', 'bt2020c', 'gbr'];
const PRIMARIES = ['bt709', 'smpte170m', 'bt470bg', 'bt470m', 'smpte240m', 'bt2020', 'smpte432', 'smpte431'];
const TRANSFERS = [
  'bt709',
  'smpte170m',
  'bt470m',
  'bt470bg',
  'iec61966-2-1',
  'bt2020-10',
  'bt2020-12',
  'smpte2084',
  'arib-std-b67',
];

/** Tags that are known here; others are taken as not given. */
export function colourTags(tags: {
  matrix?: string;
  primaries?: string;
  transfer?: string;
  range?: string;
  pixelFormat: string;
}): ColourTags {
  const known = (name: string | undefined, names: string[]) => (name && names.includes(name) ? name : null);
  return {
    matrix: known(tags.matrix, MATRICES),
    primaries: known(tags.primaries, PRIMARIES),
    transfer: known(tags.transfer, TRANSFERS),
    full: tags.range === 'pc' || (tags.range === undefined && tags.pixelFormat.startsWith('yuvj')),
  };
}

/** What the colour is called in the interface; null for BT.709 in video range. */
export function colourName({ matrix, primaries, transfer, full }: ColourTags): string | null {
  const wide = matrix?.startsWith('bt2020') || primaries === 'bt2020';
  const name =
    transfer === 'smpte2084'
      ? 'BT.2020 PQ'
      : transfer === 'arib-std-b67'
        ? 'BT.2020 HLG'
        : wide
          ? 'BT.2020'
          : matrix === 'smpte170m' || matrix === 'bt470bg'
            ? 'BT.601'
            : matrix && matrix !== 'bt709'
              ? matrix
              : null;
  return full ? `${name ?? 'BT.709'}, full range` : name;
}
