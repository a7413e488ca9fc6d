/** Sound that follows a take's pace with its pitch kept, as ffmpeg's filters. */
import type { PacedSound, SoundStretch } from '@glimbo/core/pace/sound';
import { stretchInStep } from './tempos-in-step.js';

interface Heard {
  /** Seconds of the footage at which the input begins, and seconds of it that are a second as it is read. */
  from: number;
  speed: number;
  sampleRate: number;
}

/** A folder for what is too long for a command line, and what begins the names of this sound's files and labels. */
interface Place {
  folder: string;
  name: string;
}

/** Samples that are made silent at once. */
const PIECE = 240;

/**
 * The filter graph behind `chain`, without a label at its end: the stretches by themselves, each exactly as long as the picture,
 * silence where a frame stands. Rubber Band changes tempo without pitch; its commands are read from files.
 */
export async function pacedFilter(
  chain: string,
  { stretches, quiet }: PacedSound,
  heard: Heard,
  place: Place,
): Promise<string> {
  const { name } = place;
  const whole = stretches.map((_, i) => `[s${name}${i}]`).join('');
  const parts: string[] = [];
  for (const [i, stretch] of stretches.entries())
    parts.push(`[s${name}${i}]${await stretchFilter(stretch, i, heard, place)}[p${name}${i}]`);
  const joined = stretches.map((_, i) => `[p${name}${i}]`).join('');
  const silent = quiet.map(({ from, to }) => `between(t,${from.toFixed(4)},${to.toFixed(4)})`).join('+');
  const end = silent ? `,asetnsamples=n=${PIECE}:p=0,volume=volume=0:enable='${silent}'` : '';
  return [
    `${chain},asplit=${stretches.length}${whole}`,
    ...parts,
    `${joined}concat=n=${stretches.length}:v=0:a=1${end}`,
  ].join(';');
}

async function stretchFilter(
  { from, to, length, held, tempos }: SoundStretch,
  i: number,
  heard: Heard,
  { folder, name }: Place,
): Promise<string> {
  const asRead = (footage: number) => (footage - heard.from) / heard.speed;
  const [begins, ends] = [asRead(from), asRead(to)];
  const until = (length + held).toFixed(6);
  const exact = `apad=whole_dur=${until},atrim=end=${until}`;
  if (length <= 0) return `atrim=end=0.01,volume=0,${exact}`;
  const cut = `atrim=start=${begins.toFixed(6)}:end=${ends.toFixed(6)},asetpts=PTS-STARTPTS`;
  const asHeard = tempos.map(({ at, tempo }) => ({ at: at / heard.speed, tempo }));
  const stretch = await stretchInStep(asHeard, ends - begins, heard.sampleRate, folder, `${name}${i}`);
  // What is quiet while a frame stands begins exactly where it does.
  return `${cut},${stretch},atrim=end=${length.toFixed(6)},asetpts=PTS-STARTPTS,${exact}`;
}
