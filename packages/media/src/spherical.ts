/**
 * Spherical metadata in an MP4 or MOV file, so that a viewer shows it all round: the open Spherical Video RFC, version 1
 * (XML in a `uuid` box of the video track) and version 2 (`st3d` and `sv3d` boxes in the sample entry).
 * Boxes are those of ISO/IEC 14496-12: a 32-bit size with its own eight bytes in it, then four letters.
 */
import { open, type FileHandle } from 'node:fs/promises';
import { MediaError } from './ffmpeg.js';

const UUID = Buffer.from('ffcc8263f8554a938814587a02521fdd', 'hex');
const XML =
  '<?xml version="1.0"?><rdf:SphericalVideo xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#" ' +
  'xmlns:GSpherical="http://ns.google.com/videos/1.0/spherical/"><GSpherical:Spherical>true</GSpherical:Spherical>' +
  '<GSpherical:Stitched>true</GSpherical:Stitched><GSpherical:StitchingSoftware>Glimbo</GSpherical:StitchingSoftware>' +
  '<GSpherical:ProjectionType>equirectangular</GSpherical:ProjectionType></rdf:SphericalVideo>';

function box(type: string, ...content: Buffer[]): Buffer {
  const body = Buffer.concat(content);
  const head = Buffer.alloc(8);
  head.writeUInt32BE(8 + body.length, 0);
  head.write(type, 4, 'latin1');
  return Buffer.concat([head, body]);
}

const FULL = Buffer.alloc(4);

/** Version 2's boxes: seen by one eye, no pose, equirectangular over the whole sphere. */
const versionTwo = () =>
  Buffer.concat([
    box('st3d', FULL, Buffer.from([0])),
    box(
      'sv3d',
      box('svhd', FULL, Buffer.from('Glimbo\0', 'latin1')),
      box('proj', box('prhd', FULL, Buffer.alloc(12)), box('equi', FULL, Buffer.alloc(16))),
    ),
  ]);

const CONTAINERS = new Set(['moov', 'trak', 'mdia', 'minf', 'stbl']);

interface Box {
  type: string;
  body: Buffer;
  /** The boxes in it; null for one that is kept as it is. */
  inner: Box[] | null;
}

function parse(data: Buffer): Box[] {
  const boxes: Box[] = [];
  for (let at = 0; at + 8 <= data.length;) {
    const size = data.readUInt32BE(at);
    if (size < 8 || at + size > data.length)
      throw new MediaError('The clip was written, but its index could not be read to mark it as spherical.');
    const type = data.toString('latin1', at + 4, at + 8);
    const body = data.subarray(at + 8, at + size);
    boxes.push({ type, body, inner: CONTAINERS.has(type) ? parse(body) : null });
    at += size;
  }
  return boxes;
}

const write = (boxes: Box[]): Buffer => Buffer.concat(boxes.map((b) => box(b.type, b.inner ? write(b.inner) : b.body)));

const inside = (b: Box | undefined, ...path: string[]): Box | undefined =>
  path.reduce<Box | undefined>((at, type) => at?.inner?.find((i) => i.type === type), b);

const isVideo = (trak: Box) => inside(trak, 'mdia', 'hdlr')?.body.toString('latin1', 8, 12) === 'vide';

/** Adds the boxes of both versions to a video track. */
function mark(trak: Box) {
  const stsd = inside(trak, 'mdia', 'minf', 'stbl', 'stsd');
  if (!stsd) throw new MediaError('The clip was written, but it has no video to mark as spherical.');
  // Version and number of entries, then the entries; the first one grows.
  const size = stsd.body.readUInt32BE(8);
  const entry = Buffer.concat([stsd.body.subarray(8, 8 + size), versionTwo()]);
  entry.writeUInt32BE(entry.length, 0);
  stsd.body = Buffer.concat([stsd.body.subarray(0, 8), entry, stsd.body.subarray(8 + size)]);
  trak.inner!.push({ type: 'uuid', body: Buffer.concat([UUID, Buffer.from(XML, 'utf8')]), inner: null });
}

/** Moves the places of all samples by so many bytes: the index before them has grown. */
function shift(boxes: Box[], by: number) {
  for (const b of boxes) {
    if (b.inner) shift(b.inner, by);
    const wide = b.type === 'co64';
    if (!wide && b.type !== 'stco') continue;
    const body = Buffer.from(b.body);
    for (let i = 0; i < body.readUInt32BE(4); i++) {
      if (wide) body.writeBigUInt64BE(body.readBigUInt64BE(8 + i * 8) + BigInt(by), 8 + i * 8);
      else body.writeUInt32BE(body.readUInt32BE(8 + i * 4) + by, 8 + i * 4);
    }
    b.body = body;
  }
}

/** Marks a finished MP4 or MOV file as an equirectangular picture of the whole sphere, in place. Throws MediaError. */
export async function markSpherical(file: string): Promise<void> {
  const handle = await open(file, 'r+');
  try {
    const { size } = await handle.stat();
    const found = await findIndex(handle, size);
    const moov = Buffer.alloc(found.size);
    await handle.read(moov, 0, found.size, found.at);
    const tree = parse(moov);
    const video = tree[0]!.inner?.find((b) => b.type === 'trak' && isVideo(b));
    if (!video) throw new MediaError('The clip was written, but it has no video to mark as spherical.');
    mark(video);
    const grown = write(tree).length - found.size;
    const before = found.at + found.size < size;
    if (before) shift(tree, grown);
    const index = write(tree);
    if (before) await moveUp(handle, found.at + found.size, size, grown);
    await handle.write(index, 0, index.length, found.at);
  } finally {
    await handle.close();
  }
}

/** Place and size of the `moov` box. */
async function findIndex(handle: FileHandle, size: number): Promise<{ at: number; size: number }> {
  const head = Buffer.alloc(16);
  for (let at = 0; at + 8 <= size;) {
    await handle.read(head, 0, 16, at);
    let length = head.readUInt32BE(0);
    if (length === 1) length = Number(head.readBigUInt64BE(8));
    if (length === 0) length = size - at;
    if (head.toString('latin1', 4, 8) === 'moov') return { at, size: length };
    if (length < 8) break;
    at += length;
  }
  throw new MediaError('The clip was written, but its index could not be found to mark it as spherical.');
}

const CHUNK = 4 << 20;

/** Moves what lies from `from` to `end` towards the end by some bytes, the last part first. */
async function moveUp(handle: FileHandle, from: number, end: number, by: number) {
  const chunk = Buffer.alloc(CHUNK);
  for (let at = end; at > from;) {
    const length = Math.min(CHUNK, at - from);
    at -= length;
    await handle.read(chunk, 0, length, at);
    await handle.write(chunk, 0, length, at + by);
  }
}
