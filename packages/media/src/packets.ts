/** When the pictures of a file are shown, read from its packets without decoding. */
import { output, SAFE_INPUT } from './ffmpeg.js';
import { fraction, type RawPacket, type Report, type Stream } from './report.js';

/** Seconds at the beginning whose pictures are looked at one by one. */
export const FIRST_LOOK = 20;

interface Packet {
  time: number;
  /** When what it shows or sounds is over. */
  end: number;
}

/** How far before the promised end pictures are looked for, in seconds: further back each time none are found. */
const TAILS = [2, 20, 200, Infinity];

/**
 * Times in seconds of the first pictures and of the last one, and whether the end of what was promised is missing. Reads
 * packets without decoding; those that are cut off or not to be shown do not count.
 */
export async function packetTimes(file: string, video: Stream, { format, packets }: Report, promised: number) {
  const pictures = ['-select_streams', String(video.index), ...(INDEXED.test(format.format_name) ? AS_INDEXED : [])];
  const begin = Number(format.start_time ?? 0) || 0;
  const whole = Number(format.duration ?? promised);
  const first = shownPackets(packets.filter((p) => p.stream_index === video.index));
  // A picture may come later than the first look goes.
  if (!first.length) first.push(...(await readPackets(file, '%', pictures)));
  const times = first.map((p) => p.time);
  if (!times.length) return { times: [0], last: 0, missing: true };
  const end = video.duration ? times[0]! + promised : begin + whole;
  let last = first.at(-1)!;
  for (const tail of TAILS) {
    const found = await readPackets(file, `${Math.max(begin, end - tail).toFixed(3)}%`, pictures);
    if (found.length && found.at(-1)!.time > last.time) last = found.at(-1)!;
    if (found.length || end - tail <= begin) break;
  }
  const rate = fraction(video.avg_frame_rate) || fraction(video.r_frame_rate);
  const slack = Math.max(1.6 / rate, Math.min(0.35, promised * 0.02));
  const own = Math.max(last.end, last.time + 1 / rate) - times[0]! > promised - slack;
  if (own || video.duration) return { times, last: last.time, missing: !own };
  // Without a length of its own the pictures may end before the sound does: the file is whole if anything reaches its end.
  const all = await readPackets(file, `${Math.max(begin, begin + whole - 2).toFixed(3)}%`, []);
  const reached = Math.max(...all.map((p) => p.end)) > begin + whole - Math.max(0.5, slack);
  return { times, last: last.time, missing: !reached };
}

/** The packets of an interval that are shown, in order of time. */
async function readPackets(file: string, interval: string, streams: string[]): Promise<Packet[]> {
  const args = [
    '-v',
    'quiet',
    ...SAFE_INPUT,
    ...streams,
    '-show_entries',
    'packet=stream_index,pts_time,dts_time,duration_time,flags',
    '-read_intervals',
    interval,
    '-of',
    'json',
    file,
  ];
  const text = await output('ffprobe', args).catch(() => Buffer.from(''));
  return shownPackets((text.length ? (JSON.parse(text.toString()) as Partial<Report>).packets : null) ?? []);
}

/** Packets that are shown, in order of time. Some containers tell only when a picture is to be decoded. */
function shownPackets(raw: RawPacket[]): Packet[] {
  return raw
    .filter((p) => !/[DC]/.test(p.flags ?? ''))
    .map((p) => ({ time: parseFloat(p.pts_time ?? p.dts_time ?? ''), lasts: parseFloat(p.duration_time ?? '') || 0 }))
    .filter((p) => Number.isFinite(p.time))
    .map(({ time, lasts }) => ({ time, end: time + lasts }))
    .sort((a, b) => a.time - b.time);
}

/** Containers whose index says all about packets: nothing has to be decoded to read them. */
const INDEXED = /mov|matroska/;
const AS_INDEXED = ['-nofind_stream_info'];
