/** Plans of one frame as pictures, carried out by the same engine as clips. */
import { YUV420, YUV444 } from '@glimbo/core/colour/pixels';
import { toRgb } from '@glimbo/core/colour/convert';
import type { FramePlan } from '@glimbo/core/plan/plan';
import { frameAt, spherePlan, stillPlan } from '@glimbo/core/plan/still-plan';
import type { Take } from '@glimbo/core/take/take';
import { Kernel } from '@glimbo/kernel';
import { decodePicture } from '../decode.js';
import { output } from '../ffmpeg.js';
import { prepareTake } from '../prepared-take.js';
import { readRecording, type Recording } from '../recording.js';
import { Counters, placesOf } from './counters.js';
import { lumaOf, workOf } from './frame-work.js';
import { FrameEngine, NO_MATERIALS, type EngineMaterials } from './frame-engine.js';
import { tableOf } from './table-writer.js';
import { roomFor } from './room.js';
import type { RenderSource } from './sources.js';
import { writeWhole } from '../write-whole.js';

interface Size {
  width: number;
  height: number;
}

/** A source of a still, and how a frame of it is had: raw, as the format of the source says. */
export interface StillSource extends Pick<RenderSource, 'width' | 'height' | 'format'> {
  picture: (frame: number) => Promise<Uint8Array>;
}

/**
 * Renders what is seen at a time in seconds to a PNG file; without a take the whole sphere. The view is the one at exactly that
 * time, its picture the footage's frame that is shown then: gives that frame and when it begins. Throws MediaError.
 */
export async function renderStill(
  take: Take | null,
  recording: Recording,
  time: number,
  size: Size,
  out: string,
): Promise<{ frame: number; time: number }> {
  const { rate, frame, planes } = take
    ? await stillOfTake(take, recording, time, size)
    : await stillOfSphere(recording, time, size);
  const rgb = toRgb(planes, size.width * size.height);
  const raw = ['-f', 'rawvideo', '-pix_fmt', 'rgb24', '-s', `${size.width}x${size.height}`, '-i', '-'];
  const png = await output(
    'ffmpeg',
    ['-v', 'error', ...raw, '-frames:v', '1', '-c:v', 'png', '-f', 'image2pipe', '-'],
    rgb,
  );
  await writeWhole(out, png);
  return { frame, time: frame / rate };
}

interface Still {
  rate: number;
  /** The footage's frame that is shown. */
  frame: number;
  /** Its yuv444p bytes. */
  planes: Uint8Array;
}

async function stillOfTake(take: Take, recording: Recording, time: number, size: Size): Promise<Still> {
  const { footage, sources, overlays, materials } = await prepareTake(take, recording);
  const plan = stillPlan(take, footage, time, { ...size, materials: overlays });
  const planes = await drawStill(plan, sources.map(sourceOf), materials);
  return { rate: footage.rate, frame: frameAt(footage, time), planes };
}

async function stillOfSphere(recording: Recording, time: number, size: Size): Promise<Still> {
  const { facts } = await readRecording(recording);
  const plan = spherePlan({ ...facts, source: recording.source }, time, size);
  const planes = await drawStill(plan, [sourceOf({ recording, facts })]);
  return { rate: facts.rate, frame: frameAt(facts, time), planes };
}

const sourceOf = ({
  recording,
  facts,
}: {
  recording: Recording;
  facts: Parameters<typeof decodePicture>[1];
}): StillSource => ({
  width: facts.width,
  height: facts.height,
  format: YUV420,
  picture: (frame) => decodePicture(recording, facts, frame),
});

/** Draws a plan of one frame; gives the yuv444p bytes of it. */
export async function drawStill(
  plan: FramePlan,
  sources: readonly StillSource[],
  materials: EngineMaterials = NO_MATERIALS,
): Promise<Uint8Array> {
  const table = tableOf(
    plan,
    sources.map((s) => s.width),
  );
  const rings = table.pictures.map((p) => Math.max(1, p.frames.length));
  const lanes = sources.map((_, s) => [s]);
  const room = await roomFor(table, { sources: [...sources], lanes, format: YUV444, rings, frames: 1, workers: 1 });
  const { layout, memory, counted } = room;
  const kernel = await Kernel.create(room.module, memory, layout);
  kernel.prepare(plan.sources);
  const bytes = new Uint8Array(memory.buffer);
  const [counters, places] = [new Counters(room.counters), placesOf(counted)];
  for (const [s, source] of sources.entries()) {
    const { frames } = table.pictures[s]!;
    const pictures = await Promise.all([...frames].map((frame) => source.picture(frame)));
    pictures.forEach((picture, i) => bytes.set(picture, layout.sources[s]![i]!.pointer));
    counters.set(places.read(s), frames.length);
  }
  // With all pictures there, one thread does every step by itself and never waits.
  await new FrameEngine({ table, plan: layout, kernel, counters, places, materials }, 0).run();
  const target = layout.targets[0]!;
  const drawn = bytes.slice(target.pointer, target.pointer + target.bytes);
  const { pointer, stride, height } = lumaOf(workOf(table, 0), target);
  drawn.set(bytes.subarray(pointer, pointer + stride * height));
  return drawn;
}
