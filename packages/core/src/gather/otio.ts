/**
 * Marks and ranges of a footage as an OpenTimelineIO document: a clip of the whole footage bears the marks as markers, and each
 * range is a clip on a track of its own (docs/formats/otio.md). Schemas as OpenTimelineIO publishes them: Timeline.1, Stack.1,
 * Track.1, Clip.2, ExternalReference.1, Marker.2, TimeRange.1, RationalTime.1.
 */
import { DocumentError } from '../boundary/document-error.js';

interface Marked {
  marks: readonly { time: number; name: string }[];
  ranges: readonly { in: number; out: number }[];
}

interface MarkedFootage extends Marked {
  name: string;
  file: string;
  rate: number;
  frames: number;
}

const rational = (frames: number, rate: number) => ({ OTIO_SCHEMA: 'RationalTime.1', rate, value: frames });
const timeRange = (from: number, to: number, rate: number) => ({
  OTIO_SCHEMA: 'TimeRange.1',
  start_time: rational(Math.round(from * rate), rate),
  duration: rational(Math.round(to * rate) - Math.round(from * rate), rate),
});

/** The document, as an object to be written as JSON. */
export function toOtio({ name, file, rate, frames, marks, ranges }: MarkedFootage): object {
  const available = timeRange(0, frames / rate, rate);
  const clip = (called: string, range: object, markers: object[]) => ({
    OTIO_SCHEMA: 'Clip.2',
    name: called,
    metadata: {},
    source_range: range,
    effects: [],
    markers,
    enabled: true,
    media_references: {
      DEFAULT_MEDIA: {
        OTIO_SCHEMA: 'ExternalReference.1',
        name: file,
        metadata: {},
        available_range: available,
        target_url: file,
      },
    },
    active_media_reference_key: 'DEFAULT_MEDIA',
  });
  const track = (called: string, children: object[]) => ({
    OTIO_SCHEMA: 'Track.1',
    name: called,
    kind: 'Video',
    metadata: {},
    source_range: null,
    effects: [],
    markers: [],
    enabled: true,
    children,
  });
  const markers = marks.map((m) => ({
    OTIO_SCHEMA: 'Marker.2',
    name: m.name,
    color: 'RED',
    comment: '',
    metadata: {},
    marked_range: timeRange(m.time, m.time, rate),
  }));
  const cuts = ranges.map((r, i) => clip(`Range ${i + 1}`, timeRange(r.in, r.out, rate), []));
  return {
    OTIO_SCHEMA: 'Timeline.1',
    name,
    metadata: {},
    global_start_time: null,
    tracks: {
      OTIO_SCHEMA: 'Stack.1',
      name: 'tracks',
      metadata: {},
      source_range: null,
      effects: [],
      markers: [],
      enabled: true,
      children: [track('Footage', [clip(name, available, markers)]), track('Ranges', cuts)],
    },
  };
}

type Plain = Record<string, unknown>;
const isPlain = (v: unknown): v is Plain => typeof v === 'object' && v !== null && !Array.isArray(v);

function secondsOf(time: unknown): number {
  const { rate, value } = (isPlain(time) ? time : {}) as { rate?: unknown; value?: unknown };
  return typeof rate === 'number' && rate > 0 && typeof value === 'number' ? value / rate : NaN;
}

/**
 * Marks and ranges from an OpenTimelineIO document, in seconds of the clips' own media: every marker is a mark, and every clip
 * that shows less than the footage is a range. Throws DocumentError.
 */
export function fromOtio(
  plain: unknown,
  duration: number,
): { marks: { time: number; name: string }[]; ranges: { in: number; out: number }[] } {
  if (
    !isPlain(plain) ||
    !String(plain.OTIO_SCHEMA ?? '').match(/^(Timeline|Stack|Track|Clip|SerializableCollection)\./)
  )
    throw new DocumentError('it is no OpenTimelineIO timeline');
  const found = { marks: [] as { time: number; name: string }[], ranges: [] as { in: number; out: number }[] };
  const open: unknown[] = [plain];
  while (open.length) {
    const item = open.pop();
    if (Array.isArray(item)) open.push(...item);
    if (!isPlain(item)) continue;
    const kind = String(item.OTIO_SCHEMA ?? '').split('.')[0];
    if (kind === 'Marker') {
      const time = secondsOf((item.marked_range as Plain | undefined)?.start_time);
      if (time >= 0 && time < duration) found.marks.push({ time, name: String(item.name || 'Mark').slice(0, 120) });
    }
    if (kind === 'Clip' && isPlain(item.source_range)) {
      const from = secondsOf(item.source_range.start_time);
      const to = from + secondsOf(item.source_range.duration);
      if (from >= 0 && to > from && from < duration && to - from < duration - 1e-3)
        found.ranges.push({ in: from, out: Math.min(duration, to) });
    }
    open.push(item.tracks, item.children, item.markers);
  }
  found.marks.sort((a, b) => a.time - b.time);
  found.ranges.sort((a, b) => a.in - b.in);
  if (!found.marks.length && !found.ranges.length) throw new DocumentError('there are no marks or ranges in it');
  return found;
}
