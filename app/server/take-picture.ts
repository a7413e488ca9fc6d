/** A small picture of a take, as its Frame is at its in point: made when it is asked for, kept until the take changes. */
import { existsSync } from 'node:fs';
import { readdir, rm } from 'node:fs/promises';
import { sizeIn } from '@glimbo/core/take/formats';
import { findFootage, recordingOf, twinFootage } from '~/db/footage';
import { findTakeRecord, presentTake } from '~/db/takes';
import { ask } from '~/queue/ask';
import { isWhole } from '~/model/footage';
import { layout, onDisk } from '../base/layout';

/** Shorter side of the picture in pixels. */
const SIDE = 180;
const making = new Map<string, Promise<string | null>>();

/** The name of a take's picture in the folder of takes; null as long as there is none to be had. Rejects with MediaError. */
export async function takePicture(id: string): Promise<string | null> {
  const record = await findTakeRecord(id);
  if (!record) return null;
  const name = `${id}-${record.revision}.png`;
  if (existsSync(onDisk(layout.takePicture(name)))) return name;
  let made = making.get(name);
  if (!made) making.set(name, (made = make(id, name).finally(() => making.delete(name))));
  return made;
}

const proxyOf = (id: string) => ({
  files: [layout.proxy(id)],
  source: { kind: 'sphere' as const },
});

async function make(id: string, name: string) {
  const found = await presentTake(id);
  const footage = found && (await findFootage(found.record.footageId));
  if (!footage || !isWhole(footage)) return null;
  const { take } = found;
  // The proxy is a whole sphere, laid flat and quickly read. Without an analysis a steadied take is shown as it was filmed.
  const { motion, materials, subjects, light } = await recordingOf(footage);
  const twin = await twinFootage(take, footage);
  const shown = take.steady && !motion ? { ...take, steady: undefined } : take;
  const recording = {
    ...proxyOf(footage.id),
    motion,
    materials,
    subjects,
    light,
    ...(twin && isWhole(twin) ? { twin: { ...(await recordingOf(twin)), ...proxyOf(twin.id) } } : {}),
  };
  await ask({
    kind: 'still',
    take: shown,
    recording,
    time: take.range.in,
    ...sizeIn(take, SIDE),
    out: layout.takePicture(name),
  });
  for (const file of await readdir(onDisk(layout.all('takes'))))
    if (file.startsWith(id) && file !== name) await rm(onDisk(layout.takePicture(file)), { force: true });
  return name;
}
