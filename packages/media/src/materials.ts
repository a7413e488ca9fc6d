/** Files that takes name besides their footage: LUTs, pictures that lie over frames; and the fonts of titles. */
import { readFile, stat } from 'node:fs/promises';
import { basename, join, resolve } from 'node:path';
import { parse, type Font } from 'opentype.js';
import { CubeError, readCube } from '@glimbo/core/look/cube';
import { NO_CUBES, type Cubes } from '@glimbo/core/look/treatment';
import { FONT_IDS, type FontId, type Overlay } from '@glimbo/core/overlay/overlays';
import { LARGEST_PICTURE, pictureFacts, type PictureFacts } from '@glimbo/core/overlay/picture-size';
import { hasOverlays } from '@glimbo/core/plan/over-take';
import type { Materials, ShownPicture } from '@glimbo/core/overlay/svg';
import { PATCH_SIDE } from '@glimbo/core/look/patch';
import type { Take } from '@glimbo/core/take/take';
import { engineFolder, MediaError } from './ffmpeg.js';
import { isSvg, svgToRgba } from './svg.js';
import type { Recording } from './recording.js';

/** Longest LUT that is read, in bytes. */
export const LONGEST_LUT = 100_000_000;

/** The LUTs that a take's look names, from the recording's folder of materials. Throws MediaError with what is missing or broken. */
export async function cubesFor(
  { look }: Pick<Take, 'look'>,
  { materials = '.' }: Pick<Recording, 'materials'>,
): Promise<Cubes> {
  if (!look?.lut || look.lut.amount === 0) return NO_CUBES;
  const { file } = look.lut;
  const path = resolve(materials, file);
  const name = basename(file);
  const advice = 'Give the look another LUT, or take it out.';
  const size = await stat(path).then(
    (s) => s.size,
    () => null,
  );
  if (size === null)
    throw new MediaError(`The LUT “${name}” of this take is missing. Put it back in its place. ${advice}`);
  if (size > LONGEST_LUT) throw new MediaError(`The LUT “${name}” of this take is too long to be one. ${advice}`);
  try {
    return new Map([[file, readCube(await readFile(path, 'utf8'))]]);
  } catch (error) {
    if (!(error instanceof CubeError)) throw error;
    throw new MediaError(`The LUT “${name}” of this take cannot be used: ${error.message} ${advice}`);
  }
}

/** What the overlays of a take's look are drawn with; undefined where there are none. Throws MediaError with what is missing or broken. */
export async function overlayMaterials(
  take: Pick<Take, 'look' | 'lookouts'>,
  { materials = '.' }: Pick<Recording, 'materials'>,
): Promise<Materials | undefined> {
  if (!hasOverlays(take)) return undefined;
  const overlays = take.look?.overlays ?? [];
  const files = new Set(overlays.flatMap((o) => (o.kind === 'picture' ? [o.file] : [])));
  const pictures = new Map<string, ShownPicture>();
  for (const file of files) pictures.set(file, await pictureOf(resolve(materials, file)));
  return { fonts: await fontsOf(overlays), pictures };
}

/** The image of a take's patch by its file, straight RGBA; none where it has none. Throws MediaError. */
export async function patchImages(
  { look }: Pick<Take, 'look'>,
  { materials = '.' }: Pick<Recording, 'materials'>,
): Promise<Map<string, Uint8Array>> {
  const patch = look?.patch;
  if (patch?.kind !== 'image' || !patch.file) return new Map();
  return new Map([[patch.file, await pictureDrawn(await pictureOf(resolve(materials, patch.file)), PATCH_SIDE)]]);
}

/** What a picture is; null where it is none that can be drawn, or not whole. */
async function wholePicture(bytes: Buffer): Promise<PictureFacts | null> {
  const facts = bytes.length <= LARGEST_PICTURE ? pictureFacts(bytes) : null;
  return facts?.type === 'image/svg+xml' && !(await isSvg(bytes.toString())) ? null : facts;
}

/**
 * Reads a file that takes shall name, drawing a picture once. Rejects with MediaError and why it cannot be used, as the end of
 * a sentence that begins with its name.
 */
export async function checkMaterial(file: string, kind: 'cube' | 'png' | 'svg'): Promise<void> {
  const bytes = await readFile(file);
  if (kind === 'cube') {
    try {
      return void readCube(bytes.toString());
    } catch (error) {
      if (error instanceof CubeError) throw new MediaError(`cannot be used: ${error.message}`);
      throw error;
    }
  }
  const facts = await wholePicture(bytes);
  if (facts?.type !== (kind === 'png' ? 'image/png' : 'image/svg+xml'))
    throw new MediaError(`is no ${kind.toUpperCase()} picture that can be read, was cut short, or is too large.`);
  await pictureDrawn({ ...facts, href: hrefOf(bytes, facts) }, CHECKED_SIDE);
}

/** Side in pixels at which a picture is drawn to see whether that can be done. */
const CHECKED_SIDE = 512;
const hrefOf = (bytes: Buffer, { type }: PictureFacts) => `data:${type};base64,${bytes.toString('base64')}`;

function pictureDrawn({ href }: Pick<ShownPicture, 'href'>, side: number): Promise<Uint8Array> {
  const square = `width="${side}" height="${side}"`;
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" ${square}><image ${square} href="${href}"/></svg>`;
  return svgToRgba(svg, side, side);
}

/** A picture as an address that holds it. */
async function pictureOf(path: string): Promise<ShownPicture> {
  const name = basename(path);
  const advice = 'Give the take another picture, or take it out.';
  const bytes = await readFile(path).catch(() => null);
  if (!bytes)
    throw new MediaError(`The picture “${name}” of this take is missing. Put it back in its place. ${advice}`);
  const facts = await wholePicture(bytes);
  if (!facts)
    throw new MediaError(
      `The picture “${name}” of this take is neither PNG nor SVG, was cut short, or is too large. ${advice}`,
    );
  return { href: hrefOf(bytes, facts), width: facts.width, height: facts.height };
}

/** The fonts that titles among overlays are written in. */
async function fontsOf(overlays: readonly Overlay[]): Promise<Partial<Record<FontId, Font>>> {
  const fonts: Partial<Record<FontId, Font>> = {};
  for (const id of FONT_IDS)
    if (overlays.some((o) => o.kind === 'title' && o.font === id)) {
      const file = await readFile(join(engineFolder(), `font-${id}.woff`));
      fonts[id] = parse(file.buffer.slice(file.byteOffset, file.byteOffset + file.byteLength) as ArrayBuffer);
    }
  return fonts;
}
