/** All that drawing a take needs besides the take: what its recordings, analyses, subjects and materials say. */
import type { PlanFootage } from '@glimbo/core/plan/footage';
import type { Materials } from '@glimbo/core/overlay/svg';
import { sourcesOf } from '@glimbo/core/plan/take-layer';
import type { Take } from '@glimbo/core/take/take';
import { MediaError } from './ffmpeg.js';
import { lightFor } from './light.js';
import { cubesFor, overlayMaterials, patchImages } from './materials.js';
import { readMotion } from './motion-file.js';
import type { MediaFacts } from './probe.js';
import { readRecording, type Recording } from './recording.js';
import type { EngineMaterials } from './render/frame-engine.js';
import { tracksFor } from './subjects.js';
import { twinRecording } from './twin.js';

/** A recording as it is decoded. */
export interface Readable {
  recording: Recording;
  facts: MediaFacts;
  /** Whether its rate varies. */
  variable: boolean;
}

export interface PreparedTake {
  footage: PlanFootage;
  /** What the take's sources (`sourcesOf`) are read from. */
  sources: Readable[];
  /** What its overlays are drawn with; undefined where it has none. */
  overlays: Materials | undefined;
  materials: EngineMaterials;
}

/** Reads all that a take names. Throws MediaError with what is missing or broken. */
export async function prepareTake(take: Take, recording: Recording): Promise<PreparedTake> {
  const { facts, doubts } = await readRecording(recording);
  const own = { recording, facts, variable: doubts.some((d) => d.kind === 'variable-rate') };
  const twin = await twinRecording(take, recording);
  const footage: PlanFootage = {
    source: recording.source,
    width: facts.width,
    rate: facts.rate,
    frames: facts.frames,
    motion: await motionFor(take, recording),
    light: await lightFor(take, recording),
    twin: twin?.footage,
    trackOf: await tracksFor(take, recording),
  };
  return {
    footage,
    sources: [own, ...(twin ? [twin] : sourcesOf(take, footage).length > 1 ? [own] : [])],
    overlays: await overlayMaterials(take, recording),
    materials: { cubes: await cubesFor(take, recording), images: await patchImages(take, recording) },
  };
}

/** The motion that a take's steadying needs; null where it needs none. Throws MediaError if there is none. */
async function motionFor(take: Take, { motion }: Recording) {
  if (!take.steady || take.steady.mode === 'off') return null;
  if (!motion)
    throw new MediaError(
      'This take is steadied, but the motion of its footage was not analysed. Analyse it first, or switch Steady off.',
    );
  return readMotion(motion);
}
