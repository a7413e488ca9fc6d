/** What ffprobe says of a file, as far as it is read here. */

export interface SideData {
  side_data_type?: string;
  projection?: string;
  type?: string;
  /** Degrees by which a display matrix turns the picture, anticlockwise. */
  rotation?: number;
  /** Shares of the whole that lie outside on each side, as fractions of 2³². */
  bound_left?: number;
  bound_top?: number;
  bound_right?: number;
  bound_bottom?: number;
}

export interface Stream {
  codec_type: string;
  codec_name?: string;
  width?: number;
  height?: number;
  pix_fmt?: string;
  avg_frame_rate?: string;
  r_frame_rate?: string;
  start_time?: string;
  duration?: string;
  color_space?: string;
  color_primaries?: string;
  color_transfer?: string;
  color_range?: string;
  index: number;
  tags?: Record<string, string>;
  nb_frames?: string;
  channels?: number;
  sample_rate?: string;
  disposition?: { attached_pic?: number };
  side_data_list?: SideData[];
}

export interface Report {
  streams: Stream[];
  /** Those of the first seconds, of all streams. */
  packets: RawPacket[];
  format: { format_name: string; start_time?: string; duration?: string; bit_rate?: string };
}

export interface RawPacket {
  stream_index: number;
  pts_time?: string;
  dts_time?: string;
  duration_time?: string;
  flags?: string;
}

/** A rate such as "30000/1001" as a number; 0 where there is none. */
export const fraction = (text: string | undefined) => {
  const [a, b] = (text ?? '').split('/').map(Number);
  return a && b ? a / b : 0;
};
