/** The footage that a take's twin is drawn from. */
import { basename } from 'node:path';
import type { TwinFootage } from '@glimbo/core/plan/footage';
import type { Take } from '@glimbo/core/take/take';
import { MediaError } from './ffmpeg.js';
import { measuredLight } from './light.js';
import type { MediaFacts } from './probe.js';
import { readRecording, type Recording } from './recording.js';

/** Another recording as a twin needs it: how it is read, and what plans know of it. */
export interface TwinRecording {
  recording: Recording;
  facts: MediaFacts;
  /** Whether its rate varies. */
  variable: boolean;
  footage: TwinFootage;
}

/** The other footage of a take's twin; null where it has none, or its own is meant. Throws MediaError. */
export async function twinRecording(
  { look }: Pick<Take, 'look'>,
  { twin: recording }: Recording,
): Promise<TwinRecording | null> {
  const twin = look?.sector?.twin;
  if (twin?.footage === undefined) return null;
  if (!recording)
    throw new MediaError(
      `The twin’s footage “${basename(twin.footage)}” of this take is missing. Put it back, choose another one, or take the twin out.`,
    );
  const { facts, doubts } = await readRecording(recording);
  const footage = {
    source: recording.source,
    rate: facts.rate,
    frames: facts.frames,
    light: twin.match ? await measuredLight(recording) : null,
  };
  return { recording, facts, variable: doubts.some((d) => d.kind === 'variable-rate'), footage };
}
