/** The facts of a media file, and whether Glimbo can use it. */
import { open, stat } from 'node:fs/promises';
import { basename } from 'node:path';
import { colourTags, type ColourTags } from '@glimbo/core/gather/colour';
import { MediaError, output, SAFE_INPUT } from './ffmpeg.js';
import { FIRST_LOOK, packetTimes } from './packets.js';
import { fraction, type Report, type SideData, type Stream } from './report.js';

export interface MediaFacts {
  container: string;
  codec: string;
  pixelFormat: string;
  width: number;
  height: number;
  /** Frames a second, as a decimal. */
  rate: number;
  /** Seconds. */
  duration: number;
  frames: number;
  /** Bits a second over all. */
  bitRate: number;
  /** Bytes. */
  size: number;
  sound: { codec: string; channels: number; sampleRate: number } | null;
  /** Projection named by spherical metadata in the file, if any. */
  spherical: string | null;
  /** How many video streams there are: two for recordings that keep both lenses in one file. */
  videoStreams: number;
  /** Stereo layout named by the file's metadata, if any. */
  stereo: 'over-under' | 'side-by-side' | null;
  /** Part of the sphere in degrees that spherical metadata names, if it is not the whole. */
  part: { left: number; right: number; top: number; bottom: number } | null;
  /** Absent in facts that were read by earlier versions, as is `begins`. */
  colour?: ColourTags;
  /** When the first picture comes, in seconds from the container's start, where ffmpeg seeks from: sound may come before it. */
  begins?: number;
}

/** What speaks against taking a file as it is; the user can overrule it. */
export interface Doubt {
  kind: 'not-2:1' | 'variable-rate' | 'one-lens' | 'stereo';
  sentence: string;
}

/**
 * Reads a file's facts and what is doubtful about it. Throws MediaError with a sentence for the user when the
 * file cannot be used: missing, empty, not a video, no picture, odd sizes, truncated.
 */
export async function probe(file: string): Promise<Probed> {
  const name = basename(file);
  const info = await stat(file).catch(() => null);
  if (!info?.isFile()) throw new MediaError(`${name} was not found. Check the path and try again.`);
  if (info.size === 0) throw new MediaError(`${name} is empty (0 bytes). Copy it from the card again.`);
  const key = `${file} ${info.size} ${info.mtimeMs}`;
  const known = lately.get(key);
  if (known) return known;
  const found = look(file, name, info.size);
  lately.set(key, found);
  // What fails is looked at again: the reason may be gone.
  found.catch(() => lately.delete(key));
  if (lately.size > REMEMBERED) lately.delete(lately.keys().next().value!);
  return found;
}

export interface Probed {
  facts: MediaFacts;
  doubts: Doubt[];
}

/** What was found of files, as long as they do not change: an export asks several times, and each look takes a while. */
const lately = new Map<string, Promise<Probed>>();
const REMEMBERED = 32;

async function look(file: string, name: string, size: number): Promise<Probed> {
  const report = await describe(file, name);
  const video = report.streams.find((s) => s.codec_type === 'video' && !s.disposition?.attached_pic);
  if (!video) {
    const sound = report.streams.some((s) => s.codec_type === 'audio');
    throw new MediaError(`${name} has ${sound ? 'sound but ' : ''}no picture. Choose a video file.`);
  }
  const { width, height } = shownSize(video);
  if (width % 2 || height % 2 || width < 64 || height < 32) {
    throw new MediaError(
      `${name} is ${width} × ${height} pixels; both sides must be even and at least 64 × 32. Scale it and add it again.`,
    );
  }
  const promised = promisedSeconds(video) ?? Number(report.format.duration ?? 0);
  if (!(promised > 0) || /image2|_pipe$/.test(report.format.format_name)) {
    throw new MediaError(`${name} is not a video: it has no duration. Choose a recording.`);
  }
  const start = Number(report.format.start_time ?? 0) || 0;
  const { times, last, missing } = await packetTimes(file, video, report, promised);
  if (missing) {
    throw new MediaError(
      `${name} is cut short: its index promises ${promised.toFixed(1)} s but the end is missing. Copy it from the card again.`,
    );
  }
  const rate = tidyRate(fraction(video.avg_frame_rate) || fraction(video.r_frame_rate));
  const frames = Math.max(1, Math.round((last - times[0]!) * rate) + 1);
  const sound = report.streams.find((s) => s.codec_type === 'audio');
  const facts: MediaFacts = {
    container: report.format.format_name.split(',')[0]!,
    codec: video.codec_name ?? 'unknown',
    pixelFormat: video.pix_fmt ?? 'unknown',
    width,
    height,
    rate,
    duration: frames / rate,
    frames,
    bitRate: Number(report.format.bit_rate ?? (size * 8 * rate) / frames),
    size: size,
    sound: sound
      ? { codec: sound.codec_name ?? '', channels: sound.channels ?? 0, sampleRate: Number(sound.sample_rate ?? 0) }
      : null,
    videoStreams: report.streams.filter((s) => s.codec_type === 'video' && !s.disposition?.attached_pic).length,
    colour: colourTags({
      matrix: video.color_space,
      primaries: video.color_primaries,
      transfer: video.color_transfer,
      range: video.color_range,
      pixelFormat: video.pix_fmt ?? '',
    }),
    begins: Math.max(0, times[0]! - start),
    ...sphericalFacts(video.side_data_list ?? []),
  };
  return { facts, doubts: doubtsOf(name, facts, times) };
}

/** Size of the picture as it is to be seen: a display matrix may lay it on its side. */
function shownSize({ width = 0, height = 0, side_data_list = [] }: Stream) {
  const { rotation = 0 } = side_data_list.find((d) => d.side_data_type === 'Display Matrix') ?? {};
  return Math.round(Math.abs(rotation) / 90) % 2 ? { width: height, height: width } : { width, height };
}

/** How long the pictures themselves go on, where the container says that; sound or subtitles may go on longer. */
function promisedSeconds(video: Stream): number | null {
  if (video.duration) return Number(video.duration);
  const [hours, minutes, seconds] = (video.tags?.DURATION ?? '').split(':').map(Number);
  const told = hours! * 3600 + minutes! * 60 + seconds!;
  return told > 0 ? told - Math.max(0, Number(video.start_time ?? 0)) : null;
}

/** What a file's own metadata say about sphere and stereo. */
function sphericalFacts(sides: SideData[]): Pick<MediaFacts, 'spherical' | 'stereo' | 'part'> {
  const map = sides.find((d) => d.side_data_type === 'Spherical Mapping');
  const stereo = sides.find((d) => d.side_data_type === 'Stereo 3D')?.type ?? '';
  const share = (bound: number | undefined) => (bound ?? 0) / 2 ** 32;
  const bounds = map && [map.bound_left, map.bound_top, map.bound_right, map.bound_bottom].map(share);
  return {
    spherical: map?.projection ?? null,
    stereo: /top/.test(stereo) ? 'over-under' : /side/.test(stereo) ? 'side-by-side' : null,
    part: bounds?.some((b) => b > 0)
      ? {
          left: -180 + 360 * bounds[0]!,
          top: 90 - 180 * bounds[1]!,
          right: 180 - 360 * bounds[2]!,
          bottom: -90 + 180 * bounds[3]!,
        }
      : null,
  };
}

/** Rates that are written as fractions come back as those: 29.97 is 30000/1001. */
function tidyRate(rate: number): number {
  for (const whole of [24, 30, 48, 60, 120]) {
    if (Math.abs(rate - whole) < 0.004) return whole;
    if (Math.abs(rate - (whole * 1000) / 1001) < 0.004) return (whole * 1000) / 1001;
  }
  return Math.abs(rate - Math.round(rate)) < 0.004 ? Math.round(rate) : rate;
}

/** Whether a file begins as MP4 and Matroska files do: what is only called so is not cut short. */
async function beginsLikeVideo(file: string): Promise<boolean> {
  const handle = await open(file);
  try {
    const head = Buffer.alloc(12);
    await handle.read(head, 0, head.length, 0);
    return (
      /^(ftyp|moov|mdat|free|skip|wide|uuid)$/.test(head.toString('latin1', 4, 8)) ||
      head.readUInt32BE(0) === 0x1a45dfa3
    );
  } finally {
    await handle.close();
  }
}

/** What ffprobe says of a file and of its first packets, in one go: starting it takes longer than reading. */
async function describe(file: string, name: string): Promise<Report> {
  const first = ['-show_packets', '-read_intervals', `%+${FIRST_LOOK}`];
  const args = ['-v', 'error', ...SAFE_INPUT, '-show_streams', '-show_format', ...first, '-of', 'json', file];
  try {
    const report = JSON.parse((await output('ffprobe', args)).toString()) as Report;
    if (report.format && report.streams) return { ...report, packets: report.packets ?? [] };
  } catch (e) {
    const message = e instanceof Error ? `${e.message} ${String(e.cause ?? '')}` : '';
    if (/moov atom not found|EBML header|truncat/i.test(message) && (await beginsLikeVideo(file))) {
      throw new MediaError(
        `${name} is cut short: its index is missing, as after a copy that was broken off. Copy it from the card again.`,
      );
    }
    if (/ffmpeg was not found/.test(message)) throw e;
  }
  throw new MediaError(`${name} is not a video that Glimbo can read. Use MP4, MOV, MKV, WebM, AVI or MXF.`);
}

function doubtsOf(name: string, facts: MediaFacts, times: number[]): Doubt[] {
  const doubts: Doubt[] = [];
  if (Math.abs(facts.width / facts.height - 2) > 0.01) {
    doubts.push({
      kind: 'not-2:1',
      sentence: `${name} is ${facts.width} × ${facts.height}, not twice as wide as high.`,
    });
  }
  const gaps = times.slice(1).map((t, i) => t - times[i]!);
  const step = 1 / facts.rate;
  if (gaps.filter((g) => Math.abs(g - step) > step * 0.3).length > gaps.length * 0.02) {
    doubts.push({
      kind: 'variable-rate',
      sentence: `${name} has a variable frame rate. Glimbo can take it at a constant ${Number(facts.rate.toFixed(2))} frames a second; the file itself stays as it is.`,
    });
  }
  return doubts;
}
