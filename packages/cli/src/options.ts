/** The command line's options, and reading them. What cannot be used is told in a sentence. */
import { accessSync, constants, existsSync, statSync } from 'node:fs';
import { basename, dirname, join, parse } from 'node:path';
import { parseArgs } from 'node:util';
import { CODECS } from '@glimbo/core/export/codecs';
import { parseSize } from '@glimbo/core/lens/format';
import { ToldError } from '@glimbo/core/boundary/told-error';

export const USAGE = `Usage:
  ./glimbo export TAKE.json --out FILE.mp4 [--size 1920x1080] [--rate 30] [--codec ${CODECS.join('|')}] [--quality N | --bitrate 18M] [--format 9:16] [--sphere | --compare beside|over|inset]
  ./glimbo frame TAKE.json --time S --out FILE.png [--size WxH] [--format 9:16]
  ./glimbo frame TAKE.json --times A,B,C --out FILE.png …   FILE-1.png, FILE-2.png and so on
  ./glimbo motion FILE --out FILE.json [--method quick|thorough] [--sidecar FILE.csv [--use replace|anchor]]
  ./glimbo level FILE --out FILE.json [--motion FILE.json | --method quick|thorough [--sidecar FILE.csv]]
  ./glimbo follow FILE --at S --direction LON,LAT [--size DEG] --out FILE.json [--motion FILE.json] [--found FILE.json]
  ./glimbo find FILE --out FILE.json [--motion FILE.json]
  ./glimbo probe FILE
  ./glimbo sweep FILE --out FILE.png
What a picture shows (lenses, a part of the sphere) is read from FILE.source.json beside the footage, or --source FILE;
how the rig moved is read from FILE.motion.json beside it, or --motion FILE.`;

/** Something that somebody has to be told; with the usage where the command line itself was wrong. */
export class CommandError extends ToldError {
  constructor(
    sentence: string,
    readonly usage = true,
  ) {
    super(sentence);
  }
}

const OPTIONS = {
  out: { type: 'string' },
  size: { type: 'string' },
  rate: { type: 'string' },
  codec: { type: 'string' },
  quality: { type: 'string' },
  bitrate: { type: 'string' },
  time: { type: 'string' },
  times: { type: 'string' },
  at: { type: 'string' },
  direction: { type: 'string' },
  source: { type: 'string' },
  motion: { type: 'string' },
  found: { type: 'string' },
  method: { type: 'string' },
  sidecar: { type: 'string' },
  use: { type: 'string' },
  sphere: { type: 'boolean' },
  compare: { type: 'string' },
  format: { type: 'string' },
  help: { type: 'boolean' },
} as const;

export type Options = ReturnType<typeof parsed>['values'];
const parsed = (args: string[]) => parseArgs({ args, allowPositionals: true, options: OPTIONS });

/** Reads a command line. Throws CommandError. */
export function readOptions(args: string[]) {
  try {
    const { values, positionals } = parsed(args);
    const [command, argument] = positionals;
    return { options: values, command, argument };
  } catch (error) {
    throw new CommandError((error as Error).message.split('\n')[0]!);
  }
}

/** A numeric option within a range; the default when it is absent. */
export function numeric<T>(
  options: Options,
  name: 'rate' | 'quality' | 'time' | 'times' | 'at',
  [low, high]: [number, number],
  fallback: T,
  text = options[name],
): number | T {
  if (text === undefined) return fallback;
  const n = Number(text);
  if (text.trim() === '' || !(n >= low && n <= high))
    throw new CommandError(`--${name} must be a number from ${low} to ${high}, not "${text}".`);
  return n;
}

/** Bits a second; undefined when absent. */
export function bitRate({ bitrate }: Options): number | undefined {
  if (bitrate === undefined) return undefined;
  const match = /^(\d+(?:\.\d+)?)([kM]?)$/.exec(bitrate);
  const bits = match ? Number(match[1]) * { '': 1, k: 1e3, M: 1e6 }[match[2] as '' | 'k' | 'M'] : NaN;
  if (!(bits >= 1e5 && bits <= 5e8))
    throw new CommandError(`--bitrate must be from 100k to 500M, such as 18M, not "${bitrate}".`);
  return bits;
}

/** One of a few; undefined when absent. */
export function oneOf<T extends string>(name: string, value: string | undefined, of: readonly T[]): T | undefined {
  if (value === undefined || (of as readonly string[]).includes(value)) return value as T | undefined;
  throw new CommandError(`--${name} must be one of ${of.join(', ')}, not "${value}".`);
}

/** The file to be written. Looked at before any work is done for it. */
export function needOut({ out }: Options): string {
  if (!out) throw new CommandError('Say where to write with --out FILE.');
  if (existsSync(out) && statSync(out).isDirectory())
    throw new CommandError(`${out} is a folder. Name a file in it with --out.`, false);
  const folder = dirname(out);
  if (!existsSync(folder) || !statSync(folder).isDirectory())
    throw new CommandError(`There is no folder ${folder} to write ${basename(out)} in.`, false);
  try {
    accessSync(folder, constants.W_OK);
  } catch {
    throw new CommandError(`Nothing can be written in the folder ${folder}.`, false);
  }
  return out;
}

/** The file with a number before its ending. */
export const numbered = (file: string, n: number): string => {
  const { dir, name, ext } = parse(file);
  return join(dir, `${name}-${n}${ext}`);
};

/** The moments of which frames are wanted, in seconds of the footage. */
export function timesOption(options: Options): number[] {
  const { time, times } = options;
  if ((time === undefined) === (times === undefined))
    throw new CommandError('Say which moment with --time SECONDS, or several with --times A,B,C.');
  return (times ?? time!)
    .split(',')
    .map((text) => numeric(options, times === undefined ? 'time' : 'times', [0, 1e6], 0, text));
}

export const sizeOption = ({ size }: Options) => (size ? parseSize(size) : null);

/** A direction as LON,LAT in degrees. */
export function directionOption({ direction }: Options): { longitude: number; latitude: number } {
  const [longitude, latitude] = (direction ?? '').split(',').map((t) => (t.trim() === '' ? NaN : Number(t)));
  if (!(Math.abs(longitude!) <= 360 && Math.abs(latitude!) <= 90))
    throw new CommandError(`Say where the subject is with --direction LON,LAT in degrees, such as -45,-5.`);
  return { longitude: longitude!, latitude: latitude! };
}

/** The size of a subject in degrees across; undefined where it is to be found. */
export function subjectSize({ size }: Options): number | undefined {
  if (size === undefined) return undefined;
  const degrees = Number(size);
  if (!(degrees >= 1 && degrees <= 100)) throw new CommandError(`--size must be degrees from 1 to 100, not "${size}".`);
  return degrees;
}
