/** The tempos that Rubber Band has to be told for sound to be heard where it should be, found by sending clicks through it. */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  clicksFor,
  correctedTimes,
  latenessOf,
  onsets,
  temposThrough,
  wantedTimes,
  type Tempo,
} from '@glimbo/core/pace/in-step';
import { output } from '../ffmpeg.js';

/** Samples that go through a filter at once: a command takes effect only between two such pieces. */
const PIECE = 240;
/**
 * What is in its window when it begins comes out at its own speed: all that follows is late by so much at speed 1, less that
 * over the tempo.
 */
const WINDOW = 0.03;

const ROUNDS = 4;
/** Seconds of a stretch beyond which nothing is measured: the clicks lie in memory. What its beginning is late by is known. */
const LONGEST = 300;
/** Seconds between two clicks as they are heard, and at least as they are sent. */
const APART = 0.2;
const NEAREST = 0.03;
/** Samples a second in which it is looked for what was heard, and a click's loudness there at least. */
const HEARD_AT = 8000;
const LOUD = 0.1;

/** The filters that change the tempo of a stretch whose tempos lie in a file. */
function filters(tempos: readonly Tempo[], first: number, sampleRate: number, commands: string): string {
  const lines = tempos.map(({ at, tempo }) => `${at.toFixed(4)} rubberband tempo ${tempo.toFixed(6)};`);
  writeFileSync(commands, `${lines.join('\n')}\n`);
  const late = WINDOW * (1 - 1 / first);
  const early =
    late > 0
      ? `,atrim=start=${late.toFixed(6)},asetpts=PTS-STARTPTS`
      : `,adelay=${Math.round(-late * sampleRate)}S:all=1`;
  const tempo = `rubberband=tempo=${tempos[0]!.tempo.toFixed(6)}`;
  return `asetnsamples=n=${PIECE}:p=0,asendcmd=f=${commands},${tempo}${late === 0 ? '' : early}`;
}

/**
 * The filters for a stretch of some seconds as it is read, with tempos from its own seconds on; what they are told is written
 * into a folder under a name. Rejects with MediaError.
 */
export async function stretchInStep(
  tempos: readonly Tempo[],
  seconds: number,
  sampleRate: number,
  folder: string,
  name: string,
): Promise<string> {
  const first = tempos[0]?.tempo ?? 1;
  const commands = join(folder, `tempo-${name}.txt`);
  const wanted = wantedTimes(tempos, seconds);
  const asChanged = (times: readonly number[]) => filters(temposThrough(times), first, sampleRate, commands);
  if (seconds > LONGEST || tempos.every((t) => t.tempo === 1)) return asChanged(wanted);
  const clicks = clicksFor(wanted, APART, NEAREST);
  const sent = clickTrack(clicks, seconds, sampleRate);
  let asked = wanted;
  for (let round = 0; round < ROUNDS; round++) {
    const heard = await heardThrough(asChanged(asked), sent, sampleRate);
    asked = correctedTimes(asked, latenessOf(clicks, wanted, heard));
  }
  return asChanged(asked);
}

/** Short, damped clicks at some seconds, as 16-bit samples of one channel. */
function clickTrack(clicks: readonly number[], seconds: number, sampleRate: number): Uint8Array {
  const samples = new Int16Array(Math.ceil(seconds * sampleRate));
  const length = Math.round(sampleRate / 100);
  for (const click of clicks) {
    const from = Math.round(click * sampleRate);
    for (let i = 0; i < length && from + i < samples.length; i++)
      samples[from + i] = 29_000 * Math.exp((-3 * i) / length) * Math.sin((2 * Math.PI * 3800 * i) / sampleRate);
  }
  return new Uint8Array(samples.buffer);
}

async function heardThrough(filter: string, sent: Uint8Array, sampleRate: number): Promise<number[]> {
  const raw = ['-f', 's16le', '-ac', '1'];
  const input = ['-v', 'error', ...raw, '-ar', String(sampleRate), '-i', '-'];
  const heard = await output('ffmpeg', [...input, '-af', `${filter},aresample=${HEARD_AT}`, ...raw, '-'], sent);
  const samples = new Int16Array(heard.buffer.slice(heard.byteOffset, heard.byteOffset + (heard.length & ~1)));
  return onsets(samples, HEARD_AT, LOUD * 32_767, NEAREST / 1.5);
}
