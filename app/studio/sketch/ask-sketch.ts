/** Asks for a Sketch: what is known of the footage is put together, and the worker proposes. */
import { ACTIVITY_BLOCKS } from '@glimbo/core/sweep/activity';
import type { Activity, Wanted } from '@glimbo/core/sketch/interest';
import type { Sketch, SketchDials } from '@glimbo/core/sketch/sketch';
import { ratioOf } from '@glimbo/core/take/formats';
import type { StudioStore } from '../state/store';
import type { SketchAnswer, SketchRequest } from './sketch.worker';

export type Want = Wanted['want'];

let worker: Worker | null = null;
let lastId = 0;

/** The activity of a footage from its picture: rows of grey. */
async function activityOf(store: StudioStore): Promise<Activity> {
  const { id, version, facts, gathered } = store.getState().footage;
  const { rows, framesPerRow } = gathered!.sweep;
  const image = new Image();
  image.src = `/media/footage/${id}/activity.png?v=${version}`;
  await image.decode();
  const canvas = new OffscreenCanvas(ACTIVITY_BLOCKS, image.naturalHeight);
  const context = canvas.getContext('2d')!;
  context.drawImage(image, 0, 0);
  const { data } = context.getImageData(0, 0, ACTIVITY_BLOCKS, image.naturalHeight);
  return {
    rows: Array.from({ length: image.naturalHeight }, (_, r) =>
      Uint8Array.from({ length: ACTIVITY_BLOCKS }, (_, x) => data[4 * (r * ACTIVITY_BLOCKS + x)]!),
    ),
    duration: (rows * framesPerRow) / facts.rate,
  };
}

/** A path proposed for the take's range and format; what was asked before is given up. Rejects where it cannot be made. */
export async function askSketch(
  store: StudioStore,
  dials: SketchDials,
  wants: Readonly<Record<string, Want>>,
): Promise<Sketch> {
  const { take, footage, found, motion, subjects, tracks } = store.getState();
  const { range, orientation, steady, level } = take();
  const request: SketchRequest = {
    id: ++lastId,
    take: { orientation, steady, level },
    motion,
    task: {
      from: range.in,
      to: range.out,
      rate: footage.facts.rate,
      ratio: ratioOf(take()),
      activity: await activityOf(store),
      moving: found,
      subjects: subjects.flatMap(({ id, name }) => {
        const track = tracks.get(id)?.track;
        return track ? [{ name, track, want: wants[id] ?? 'some' }] : [];
      }),
      marks: footage.marks.map((m) => m.time),
      dials,
    },
  };
  worker?.terminate();
  const asked = new Worker(new URL('./sketch.worker.ts', import.meta.url), { type: 'module' });
  worker = asked;
  return new Promise((resolve, reject) => {
    asked.onmessage = ({ data }: MessageEvent<SketchAnswer>) => {
      asked.terminate();
      resolve(data.sketch);
    };
    asked.onerror = (e) => reject(new Error(e.message));
    asked.postMessage(request);
  });
}
