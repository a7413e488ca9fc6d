/** One frame of a take as a picture, by the same kernel as the clips. */
import { readFileSync } from 'node:fs';
import { rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { frameBytes, YUV420, YUV444 } from '@glimbo/core/codecs/pixels';
import { toRgb } from '@glimbo/core/colour/convert';
import { doesDetail, type Detail } from '@glimbo/core/look/detail';
import { fillPicture, pictureOfPatch, type Patch } from '@glimbo/core/look/patch';
import type { Sector } from '@glimbo/core/look/sector';
import { bake } from '@glimbo/core/look/table';
import { mapOf, NO_CUBES, treatmentAt, type Cubes, type Treatment } from '@glimbo/core/look/treatment';
import { overTake } from '@glimbo/core/overlay/over-take';
import { contextOf, stillPanes, type PlanFootage, type StillPane } from '@glimbo/core/plan/clip-plan';
import { sphereWidth } from '@glimbo/core/stitch/source';
import { correctionOf } from '@glimbo/core/take/correction';
import { meteringOf } from '@glimbo/core/take/metering';
import type { Take } from '@glimbo/core/take/take';
import { createMemory, Kernel, stripesOf, type Besides } from '@glimbo/kernel';
import { paneOf, planMemory } from '@glimbo/kernel/memory';
import { needsMips } from '@glimbo/kernel/mips';
import { engineFolder, MediaError, output } from '../ffmpeg.js';
import type { MediaFacts } from '../probe.js';
import { pictureInput, readRecording, type PictureFacts, type Recording } from '../recording.js';
import { svgToRgba } from '../svg.js';
import { lightFor } from '../light.js';
import { cubesFor, overlayMaterials, patchImage } from '../materials.js';
import { tracksFor } from '../subjects.js';
import { twinRecording, type TwinRecording } from '../twin.js';
import { motionFor } from './clip.js';
import { partsOf } from './plan-table.js';

interface Size {
  width: number;
  height: number;
}

/** A decoded picture of a footage: yuv420p bytes, and its size. */
interface Decoded {
  raw: Uint8Array;
  size: Size;
}

/** What is done to a still once it is drawn, and what is drawn beside it. */
interface Finishing {
  /** What parts the shots, and the picture of its twin. */
  sector?: Sector | null;
  twin?: Decoded | null;
  treatment?: Treatment | null;
  cubes?: Cubes;
  detail?: Detail | null;
  /** SVG of the still's size. */
  overlay?: string | null;
  /** What the shots' patches are, and its image. */
  patch?: Patch | null;
  image?: Uint8Array;
}

async function finishingOf(
  take: Take,
  recording: Recording,
  time: number,
  { motion, light, trackOf, ...size }: Pick<PlanFootage, 'motion' | 'light' | 'trackOf'> & Size,
): Promise<Finishing> {
  const materials = await overlayMaterials(take, recording);
  const { detail } = take.look ?? {};
  const correction = correctionOf(take, motion);
  const metering = meteringOf(take, light ?? null, correction, contextOf(take, { trackOf }, correction));
  return {
    treatment: treatmentAt(take, time, metering),
    cubes: await cubesFor(take, recording),
    detail: detail && doesDetail(detail) ? detail : null,
    patch: take.look?.patch ?? null,
    sector: take.look?.sector ?? null,
    image: await patchImage(take, recording),
    overlay: materials ? overTake(take, size, time, materials) : null,
  };
}

/** Points a side of a still's look table. */
const STEPS = 65;

/**
 * Renders what is seen at a time in seconds to a PNG file; without a take the whole sphere. The view is the one at exactly that
 * time, its picture the footage's frame that is shown then: gives that frame and when it begins. Throws MediaError.
 */
export async function renderStill(
  take: Take | null,
  recording: Recording,
  time: number,
  size: { width: number; height: number },
  out: string,
): Promise<{ frame: number; time: number }> {
  const { facts } = await readRecording(recording);
  const raw = await decodeFrame(recording, facts, time);
  const motion = take && (await motionFor(take, recording));
  const other = take && (await twinRecording(take, recording));
  const light = take && (await lightFor(take, recording));
  const trackOf = take ? await tracksFor(take, recording) : undefined;
  const known = { ...facts, source: recording.source, motion, light, twin: other?.footage, trackOf };
  const panes = stillPanes(take, known, time, size);
  const twin = panes[0]!.shots[0]!.parted?.twin;
  const finishing = take ? await finishingOf(take, recording, time, { motion, light, trackOf, ...size }) : {};
  if (twin) finishing.twin = await decoded(other ?? { recording, facts }, twin.time);
  const rgb = toRgb(await drawPanes(panes, size, raw, facts, finishing), size.width * size.height);
  const png = await output('ffmpeg', [
    '-v', 'error', '-f', 'rawvideo', '-pix_fmt', 'rgb24', '-s', `${size.width}x${size.height}`, '-i', '-',
    '-frames:v', '1', '-c:v', 'png', '-f', 'image2pipe', '-',
  ], rgb); // prettier-ignore
  await writeFile(`${out}.part`, png);
  await rename(`${out}.part`, out);
  const frame = frameAt(facts, time);
  return { frame, time: frame / facts.rate };
}

/** The frame of a footage that is shown at a time in seconds. */
const frameAt = ({ frames, rate }: Pick<MediaFacts, 'frames' | 'rate'>, time: number) =>
  Math.min(frames - 1, Math.max(0, Math.floor(time * rate + 1e-6)));

const decoded = async ({ recording, facts }: Pick<TwinRecording, 'recording' | 'facts'>, time: number) => ({
  raw: await decodeFrame(recording, facts, time),
  size: facts,
});

/** The picture of a recording at a time in seconds, as yuv420p bytes of the joined size in `facts`. Throws MediaError. */
export async function decodeFrame(
  recording: Recording,
  facts: Pick<MediaFacts, 'width' | 'height' | 'frames'> & PictureFacts,
  time: number,
): Promise<Uint8Array> {
  const { inputs, chain } = pictureInput(recording, facts, frameAt(facts, time));
  const raw = await output('ffmpeg', [
    '-v', 'error', '-nostdin', ...inputs, '-filter_complex', `${chain}[v]`, '-map', '[v]', '-frames:v', '1',
    '-pix_fmt', 'yuv420p', '-f', 'rawvideo', '-',
  ]); // prettier-ignore
  if (raw.length !== frameBytes(YUV420, facts.width, facts.height))
    throw new MediaError(`There is no picture at ${time.toFixed(2)} s.`);
  return raw;
}

/**
 * Draws panes, each the mean of its shots, from one yuv420p picture of their footage, of the size `decoded`, and treats the colours; gives
 * the yuv444p bytes of the result.
 */
export async function drawPanes(
  panes: readonly StillPane[],
  size: Size,
  raw: Uint8Array,
  decoded: { width: number; height: number },
  {
    treatment = null,
    cubes = NO_CUBES,
    detail = null,
    overlay = null,
    patch = null,
    image,
    sector = null,
    twin = null,
  }: Finishing = {},
): Promise<Uint8Array> {
  const shots = panes.flatMap((p) => p.shots);
  const { source } = shots[0]!;
  const mixing = panes.some((p) => p.shots.length > 1);
  const tables = treatment ? 1 : 0;
  const plan = planMemory({
    sources: twin ? [decoded, twin.size] : [decoded],
    target: size,
    format: YUV444,
    workers: 1,
    ring: 1,
    mixing,
    tables,
    detail: detail !== null,
    overlaid: overlay !== null,
    patched: patch !== null,
    parted: sector !== null,
  });
  const memory = createMemory(plan.size);
  const kernel = await Kernel.create(
    await WebAssembly.compile(readFileSync(join(engineFolder(), 'kernel.wasm'))),
    memory,
    plan,
  );
  const there = shots[0]!.parted?.twin ?? null;
  kernel.prepare(twin ? [source, there!.source] : [source]);
  const bytes = new Uint8Array(memory.buffer);
  const slot = plan.sources[0]![0]!;
  const target = plan.targets[0]!;
  bytes.set(raw, slot.pointer);
  const mips =
    patch?.kind === 'fill' || shots.some((shot) => needsMips(shot.picture, sphereWidth(source, decoded.width)));
  kernel.ready(shots[0]!, slot, mips, 0, 1, 0);
  const twinSlot = twin ? plan.sources[1]![0]! : null;
  if (twin && there && twinSlot) {
    bytes.set(twin.raw, twinSlot.pointer);
    const shrunk = shots.some((shot) => needsMips(shot.picture, sphereWidth(there.source, twin.size.width)));
    kernel.ready(there, twinSlot, shrunk, 0, 1, 0);
  }
  if (treatment) kernel.place(bake(mapOf(treatment, cubes), STEPS), plan.tables[0]!);
  const besides: Besides = {
    ...(patch ? { patch: { patch, slot: plan.patches!.slots[0]! } } : {}),
    ...(sector ? { sector: { sector, twin: twinSlot } } : {}),
  };
  if (patch) {
    const picture =
      patch.kind === 'fill'
        ? fillPicture(patch, kernel.rimOf(shots[0]!, patch, slot, 0), 0)
        : pictureOfPatch(patch, image);
    kernel.placePatch(picture, plan.patches!.slots[0]!);
  }
  for (const { pane, shots } of panes) {
    const within = paneOf(target, pane);
    const weights = partsOf(shots.map(() => 1 / shots.length));
    const parts = shots.map((shot, i) => ({ shot, slot, weight: weights[i]!, besides }));
    for (const { row, rows } of stripesOf(pane.height)) {
      if (parts.length > 1) kernel.mix(parts, within, row, rows, 0);
      else kernel.draw(parts[0]!.shot, slot, within, row, rows, 0, besides);
      if (treatment) kernel.treat(within, row, rows, plan.tables[0]!, STEPS);
    }
  }
  if (overlay) kernel.placeOverlay(await svgToRgba(overlay, size.width, size.height), plan.overlays[0]!);
  for (const { row, rows } of stripesOf(size.height)) {
    if (detail) kernel.detail(target, row, rows, detail, 0);
    if (overlay) kernel.lay(target, row, rows, plan.overlays[0]!);
  }
  const drawn = bytes.slice(target.pointer, target.pointer + target.bytes);
  if (!target.detailed) return drawn;
  const { pointer, stride, height } = target.detailed;
  drawn.set(bytes.subarray(pointer, pointer + stride * height));
  return drawn;
}
