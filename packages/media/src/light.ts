/** Measuring the light of a footage: its sphere very small, some times a second, as the Meter looks at it. */
import { readFile, rename, rm, writeFile } from 'node:fs/promises';
import { LIGHT, lightOf, type FootageLight } from '@glimbo/core/look/light';
import { needsLight } from '@glimbo/core/edit/look';
import type { Take } from '@glimbo/core/take/take';
import { cachePlace } from './cache.js';
import { MediaError, output, SAFE_INPUT } from './ffmpeg.js';
import type { Recording } from './recording.js';

/** The light of a footage, where the take's Meter or twin needs it; null for a take that needs none. Throws MediaError. */
export const lightFor = async ({ look }: Pick<Take, 'look'>, recording: Recording): Promise<FootageLight | null> =>
  needsLight(look) ? measuredLight(recording) : null;

/**
 * The light of a recording as it was measured; measured now, and kept in its place or in the user's cache, where it was not yet.
 * Throws MediaError.
 */
export async function measuredLight({ files, source, light }: Recording): Promise<FootageLight> {
  if (!light && source.kind !== 'sphere')
    throw new MediaError(
      'The Meter, and a twin whose light is matched, need the whole sphere laid flat. Gather this footage first, or switch them off.',
    );
  const place = light?.file ?? (await cachePlace(files[0]!, 'light'));
  const known = place && (await readFile(place).catch(() => null));
  if (known) return lightOf(known);
  const bytes = await measure(light?.sphere ?? files[0]!);
  if (place) await keep(place, bytes);
  return lightOf(bytes);
}

/** Pictures of means over the sphere, as raw luma; key frames alone would come at other times. */
const measure = (sphere: string) =>
  output('ffmpeg', [
    ...['-v', 'error', '-nostdin', ...SAFE_INPUT, '-i', sphere, '-an', '-sn'],
    ...[
      '-vf',
      `fps=${LIGHT.rate}:round=near,scale=${LIGHT.width}:${LIGHT.height}:flags=area,format=yuv420p,extractplanes=y`,
    ],
    ...['-f', 'rawvideo', '-pix_fmt', 'gray', '-'],
  ]);

/** Keeps what was measured; on a full disk it is measured again another time. */
async function keep(file: string, bytes: Uint8Array) {
  const part = `${file}.${process.pid}.part`;
  try {
    await writeFile(part, bytes);
    await rename(part, file);
  } catch {
    await rm(part, { force: true });
  }
}
