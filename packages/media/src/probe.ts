/** The facts of a media file, and whether Glimbo can use it. */
import { stat } from 'node:fs/promises';
import { basename } from 'node:path';
import { MediaError, output, SAFE_INPUT } from './ffmpeg.js';

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
}

/** What speaks against taking a file as it is; the user can overrule it. */
export interface Doubt {
  kind: 'not-2:1' | 'variable-rate' | 'one-lens';
  sentence: string;
}

interface SideData {
  side_data_type?: string;
  projection?: string;
  type?: string;
  /** Shares of the whole that lie outside on each side, as fractions of 2³². */
  bound_left?: number;
  bound_top?: number;
  bound_right?: number;
  bound_bottom?: number;
}

interface Stream {
  codec_type: string;
  codec_name?: string;
  width?: number;
  height?: number;
  pix_fmt?: string;
  avg_frame_rate?: string;
  r_frame_rate?: string;
  duration?: string;
  nb_frames?: string;
  channels?: number;
  sample_rate?: string;
  disposition?: { attached_pic?: number };
  side_data_list?: SideData[];
}

const fraction = (text: string | undefined) => {
  const [a, b] = (text ?? '').split('/').map(Number);
  return a && b ? a / b : 0;
};

/**
 * Reads a file's facts and what is doubtful about it. Throws MediaError with a sentence for the user when the
 * file cannot be used: missing, empty, not a video, no picture, odd sizes, truncated.
 */
export async function probe(file: string): Promise<{ facts: MediaFacts; doubts: Doubt[] }> {
  const name = basename(file);
  const info = await stat(file).catch(() => null);
  if (!info?.isFile()) throw new MediaError(`${name} was not found. Check the path and try again.`);
  if (info.size === 0) throw new MediaError(`${name} is empty (0 bytes). Copy it from the card again.`);
  const report = await describe(file, name);
  const video = report.streams.find((s) => s.codec_type === 'video' && !s.disposition?.attached_pic);
  if (!video) {
    const sound = report.streams.some((s) => s.codec_type === 'audio');
    throw new MediaError(`${name} has ${sound ? 'sound but ' : ''}no picture. Choose a video file.`);
  }
  const { width = 0, height = 0 } = video;
  if (width % 2 || height % 2 || width < 64 || height < 32) {
    throw new MediaError(
      `${name} is ${width} × ${height} pixels; both sides must be even and at least 64 × 32. Scale it and add it again.`,
    );
  }
  const duration = Number(video.duration ?? report.format.duration ?? 0);
  if (!(duration > 0) || /image2|_pipe$/.test(report.format.format_name)) {
    throw new MediaError(`${name} is not a video: it has no duration. Choose a recording.`);
  }
  const { times, complete } = await packetTimes(file, duration);
  if (!complete) {
    throw new MediaError(
      `${name} is cut short: its index promises ${duration.toFixed(1)} s but the end is missing. Copy it from the card again.`,
    );
  }
  const rate = tidyRate(fraction(video.avg_frame_rate) || fraction(video.r_frame_rate));
  const sound = report.streams.find((s) => s.codec_type === 'audio');
  const facts: MediaFacts = {
    container: report.format.format_name.split(',')[0]!,
    codec: video.codec_name ?? 'unknown',
    pixelFormat: video.pix_fmt ?? 'unknown',
    width,
    height,
    rate,
    duration: Math.round(duration * rate) / rate,
    frames: Math.round(duration * rate),
    bitRate: Number(report.format.bit_rate ?? (info.size * 8) / duration),
    size: info.size,
    sound: sound
      ? { codec: sound.codec_name ?? '', channels: sound.channels ?? 0, sampleRate: Number(sound.sample_rate ?? 0) }
      : null,
    videoStreams: report.streams.filter((s) => s.codec_type === 'video' && !s.disposition?.attached_pic).length,
    ...sphericalFacts(video.side_data_list ?? []),
  };
  return { facts, doubts: doubtsOf(name, facts, times) };
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

async function describe(file: string, name: string) {
  const args = ['-v', 'error', ...SAFE_INPUT, '-show_streams', '-show_format', '-of', 'json', file];
  try {
    const report = JSON.parse((await output('ffprobe', args)).toString()) as {
      streams: Stream[];
      format: { format_name: string; duration?: string; bit_rate?: string };
    };
    if (report.format && report.streams) return report;
  } catch (e) {
    const message = e instanceof Error ? `${e.message} ${String(e.cause ?? '')}` : '';
    if (/moov atom not found|EBML header|truncat/i.test(message)) {
      throw new MediaError(
        `${name} is cut short: its index is missing, as after a copy that was broken off. Copy it from the card again.`,
      );
    }
    if (/was not found: install/.test(message)) throw e;
  }
  throw new MediaError(`${name} is not a video that Glimbo can read. Use MP4, MOV, MKV, WebM, AVI or MXF.`);
}

/** Times of the first pictures, and whether there are pictures at the end too. Reads packets without decoding. */
async function packetTimes(file: string, duration: number) {
  const read = async (interval: string) => {
    const args = ['-v', 'quiet', ...SAFE_INPUT, '-select_streams', 'v:0', '-show_entries', 'packet=pts_time', '-read_intervals', interval, '-of', 'csv=p=0', file]; // prettier-ignore
    const text = await output('ffprobe', args).catch(() => Buffer.from(''));
    return text.toString().split('\n').map(parseFloat).filter(Number.isFinite).sort((a, b) => a - b); // prettier-ignore
  };
  const times = await read('%+20');
  const tail = await read(`${Math.max(0, duration - 2).toFixed(3)}%`);
  const last = tail.at(-1) ?? -Infinity;
  const first = times[0] ?? 0;
  return { times, complete: times.length > 0 && last - first > duration - Math.max(0.35, duration * 0.02) };
}

function doubtsOf(name: string, facts: MediaFacts, times: number[]): Doubt[] {
  const doubts: Doubt[] = [];
  if (Math.abs(facts.width / facts.height - 2) > 0.01) {
    doubts.push({
      kind: 'not-2:1',
      sentence: `${name} is ${facts.width} × ${facts.height}, not twice as wide as high. If it shows the full sphere all the same, Glimbo can stretch it to 2:1.`,
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
