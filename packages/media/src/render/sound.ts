/** The sound of a clip as ffmpeg makes it from a plan. */
import type { SoundPiece, SoundPlan } from '@glimbo/core/plan/sound-plan';
import type { Readable } from '../prepared-take.js';
import { soundInput } from '../recording.js';
import { pacedFilter } from './paced-sound.js';

/** What ffmpeg is told: inputs behind that of the pictures, which is the first, and the filters and stream that are taken from them. */
export interface ClipSound {
  inputs: string[];
  filter: string[];
}

/**
 * The sound of a plan; null where nothing is heard. What is long of its filters, where it follows a pace, is written into a folder. Throws where a piece
 * names a recording that was not handed over.
 */
export async function clipSound(
  { tracks }: SoundPlan,
  recordings: readonly Pick<Readable, 'recording' | 'facts'>[],
  folder: string | null,
): Promise<ClipSound | null> {
  const pieces = tracks.flatMap((t) => t.pieces).filter((p) => recordings[p.recording]!.facts.sound);
  if (!pieces.length) return null;
  const heard = await Promise.all(
    pieces.map((piece, i) => pieceOf(piece, recordings[piece.recording]!, i + 1, folder)),
  );
  const inputs = heard.flatMap((h) => h.input);
  const [only] = heard;
  if (heard.length === 1 && only!.simple)
    return { inputs, filter: ['-map', '0:v', '-map', '1:a:0', '-af', only!.chain] };
  const graph = heard.length === 1 ? only!.graph : mixed(heard.map((h) => h.graph));
  return { inputs, filter: ['-filter_complex', `${graph}[sound]`, '-map', '0:v', '-map', '[sound]'] };
}

/** Several graphs heard at the same time, each as loud as it is by itself. */
const mixed = (graphs: string[]) =>
  [
    ...graphs.map((graph, i) => `${graph}[piece${i}]`),
    `${graphs.map((_, i) => `[piece${i}]`).join('')}amix=inputs=${graphs.length}:duration=longest:normalize=0`,
  ].join(';');

/** A piece of sound as an input and what is done to it; `simple` where a chain of filters says all. */
async function pieceOf(
  piece: SoundPiece,
  { recording, facts }: Pick<Readable, 'recording' | 'facts'>,
  number: number,
  folder: string | null,
) {
  const { from, to, speed, pace } = piece;
  const { sampleRate } = facts.sound!;
  const { input, filter } = soundInput(recording.files[0]!, facts, from, to - from);
  const slowed = speed === 1 ? '' : `,asetrate=${Math.round(sampleRate * speed)},aresample=${sampleRate}`;
  const placed = placing(piece);
  const chain = `${filter}${slowed}`;
  if (!pace) return { input, chain: `${chain}${placed}`, graph: `[${number}:a:0]${chain}${placed}`, simple: true };
  const paced = await pacedFilter(
    `[${number}:a:0]${chain}`,
    pace,
    { from, speed, sampleRate },
    { folder: folder!, name: `${number}-` },
  );
  return { input, chain: '', graph: `${paced}${placed}`, simple: false };
}

/** Filters for a piece's gain and fades, and for when it begins. */
function placing({ from, to, at, speed, gain = 0, fadeIn = 0, fadeOut = 0 }: SoundPiece): string {
  const length = (to - from) / speed;
  return [
    ...(gain ? [`volume=${gain}dB`] : []),
    // A quarter of a sine: two pieces that cross are as loud together as each by itself.
    ...(fadeIn > 0 ? [`afade=t=in:d=${fadeIn}:curve=qsin`] : []),
    ...(fadeOut > 0 ? [`afade=t=out:st=${(length - fadeOut).toFixed(6)}:d=${fadeOut}:curve=qsin`] : []),
    ...(at > 0 ? [`adelay=${(at * 1000).toFixed(3)}:all=1`] : []),
  ]
    .map((f) => `,${f}`)
    .join('');
}
