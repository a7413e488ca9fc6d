/** The source of a footage: what its picture shows, and trying out, calibrating and changing that. */
import { IsBoolean, IsIn, IsNumber, IsOptional } from 'class-validator';
import type { LoaderFunctionArgs } from 'react-router';
import type { Calibration } from '@glimbo/core/stitch/calibrate';
import { sphereWidth, type Source } from '@glimbo/core/stitch/source';
import { readSource } from '@glimbo/core/stitch/validate';
import { MediaError } from '@glimbo/media/ffmpeg';
import { readRecording, saveRaw } from '@glimbo/media/recording';
import { cameraOfFacts, findCalibration, keepCalibration } from '~/db/cameras';
import { filesOf, findFootage, setSource, sourceBefore, sourceOf } from '~/db/footage';
import { onDisk } from '~/base/layout';
import { ask } from '~/queue/ask';
import { haveGathered } from '~/gathering/enter';
import { answered, readBody, Refusal } from '~/server/answer';
import { newStill } from '~/server/stills';
import type { Footage } from '~/model/footage';
import type { StitchData } from '~/model/stitch';

export async function loader({ params }: LoaderFunctionArgs) {
  const footage = await findFootage(params.footageId!);
  if (!footage) return Response.json({ problem: 'That footage is gone from the Library.' }, { status: 404 });
  const [source, before, offer] = await Promise.all([
    sourceOf(footage.id),
    sourceBefore(footage.id),
    findCalibration(cameraOfFacts(footage.facts)),
  ]);
  const others = offer && offer.footageName !== footage.name ? offer : null;
  return Response.json({ source, before, offer: source.kind === 'two-lenses' ? others : null } satisfies StitchData);
}

/** What is asked; the source is checked by its own reader. */
class StitchOrder {
  @IsIn(['still', 'original', 'raw', 'calibrate', 'apply']) intent!:
    'still' | 'original' | 'raw' | 'calibrate' | 'apply';
  @IsOptional() @IsNumber() time?: number;
  @IsOptional() @IsBoolean() calibrated?: boolean;
  @IsOptional() source?: unknown;
}

export const action = answered(async ({ request, params }) => {
  const footage = await findFootage(params.footageId!);
  if (!footage) throw new Refusal('That footage is gone from the Library.', 404);
  return answer(footage, await readBody(StitchOrder, request), request.signal);
});

/** Stills are no wider than a texture may be everywhere. */
const WIDEST = 4096;
const STILL = 1920;
/** Wide enough to see that a source can be drawn. */
const TRIED = 256;

async function answer(footage: Footage, body: StitchOrder, signal: AbortSignal): Promise<object> {
  const files = filesOf(footage);
  const time = Math.max(0, Math.min(footage.facts.duration, body.time ?? 0));
  const still = async (source: Source, width: number) => {
    const { file, address } = await newStill();
    const found = await ask<Source>(
      { kind: 'still', take: null, recording: { files, source }, time, width, height: width / 2, out: file },
      signal,
    );
    return { picture: address, source: found };
  };
  switch (body.intent) {
    case 'still':
      return still(readSource(body.source), STILL);
    case 'original': {
      const source = await sourceOf(footage.id);
      const { picture } = await still(source, Math.min(WIDEST, sphereWidth(source, footage.facts.width)));
      return { picture };
    }
    case 'raw': {
      const { file, address } = await newStill();
      await saveRaw({ files, source: readSource(body.source) }, footage.facts, time, onDisk(file));
      return { picture: address };
    }
    case 'calibrate': {
      const source = readSource(body.source);
      if (source.kind !== 'two-lenses') throw new MediaError('Only recordings of two lenses can be calibrated.');
      return ask<Calibration>({ kind: 'calibrate', recording: { files, source }, time }, signal);
    }
    case 'apply': {
      const source = readSource(body.source);
      const { facts } = await readRecording({ files, source });
      // Tried before it is kept: what cannot be drawn leaves everything as it was.
      await still(source, TRIED);
      await setSource(footage.id, source, facts);
      if (body.calibrated && source.kind === 'two-lenses')
        await keepCalibration(cameraOfFacts(facts), { lenses: source.lenses, footageName: footage.name });
      const job = await haveGathered(footage.id);
      return { job };
    }
  }
}
