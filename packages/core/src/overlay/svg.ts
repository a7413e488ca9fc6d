/** Overlays of a moment as one SVG, which preview and export both draw. Writing is drawn as paths: no font is needed to show it. */
import type { Font } from 'opentype.js';
import { safeOf } from '../lens/safe.js';
import { evaluate, type Channel } from '../path/channel.js';
import type { Bars, FontId, Logo, Overlay, Title } from './overlays.js';

/** A picture that can be shown: where it is (a data address in the export), and its size. */
export interface ShownPicture {
  href: string;
  width: number;
  height: number;
}

/** What overlays are made with. */
export interface Materials {
  fonts: Partial<Record<FontId, Font>>;
  pictures: ReadonlyMap<string, ShownPicture>;
}

interface Size {
  width: number;
  height: number;
}

/** An overlay at a moment: its place and opacity as numbers. */
interface Present {
  overlay: Overlay;
  x: number;
  y: number;
  /** 0 to 1. */
  opacity: number;
}

/** Those overlays that are seen at a time in seconds of the footage, in order. Places to a tenth of a pixel, so that what stands still stays the same. */
export function presentOverlays(overlays: readonly Overlay[], time: number): Present[] {
  return overlays.flatMap((overlay): Present[] => {
    if (overlay.kind === 'bars') return [{ overlay, x: 0, y: 0, opacity: 1 }];
    const at = (channel: Channel) => evaluate(channel, time, 0);
    const opacity = (at(overlay.opacity) / 100) * fadeAt(overlay, time);
    return opacity > 0.002
      ? [{ overlay, x: rounded(at(overlay.x), 5), y: rounded(at(overlay.y), 5), opacity: rounded(opacity, 3) }]
      : [];
  });
}

/** How far something has come in, or not yet gone, 0 to 1. */
function fadeAt({ from = -Infinity, to = Infinity, fade }: Title | Logo, time: number): number {
  if (time < from || time >= to) return 0;
  if (fade <= 0) return 1;
  return Math.max(0, Math.min(1, (time - from) / fade, (to - time) / fade));
}

const rounded = (v: number, digits: number) => Number(v.toFixed(digits));

/** The SVG of a moment; null where nothing is seen. What its materials lack is left out. */
export function overlaySvg(
  overlays: readonly Overlay[],
  size: Size,
  time: number,
  materials: Materials,
): string | null {
  const parts = presentOverlays(overlays, time).map((p) => partOf(p, size, materials));
  const body = parts.join('');
  if (!body) return null;
  const { width, height } = size;
  return `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">${body}</svg>`;
}

function partOf(present: Present, size: Size, { fonts, pictures }: Materials): string {
  const { overlay } = present;
  if (overlay.kind === 'bars') return barsOf(overlay, size);
  if (overlay.kind === 'picture') {
    const picture = pictures.get(overlay.file);
    return picture ? pictureOf(overlay, present, size, picture) : '';
  }
  const font = fonts[overlay.font];
  return font ? titleOf(overlay, present, size, font) : '';
}

function barsOf({ ratio }: Bars, { width, height }: Size): string {
  const rect = (x: number, y: number, w: number, h: number) =>
    `<rect x="${rounded(x, 2)}" y="${rounded(y, 2)}" width="${rounded(w, 2)}" height="${rounded(h, 2)}"/>`;
  // Whole pixels, in pairs: an edge between two would be grey.
  const inner = {
    width: 2 * Math.round(Math.min(width, height * ratio) / 2),
    height: 2 * Math.round(Math.min(height, width / ratio) / 2),
  };
  const [side, above] = [(width - inner.width) / 2, (height - inner.height) / 2];
  if (above >= 1) return rect(0, 0, width, above) + rect(0, height - above, width, above);
  return side >= 1 ? rect(0, 0, side, height) + rect(width - side, 0, side, height) : '';
}

/** The upper left corner of a box that stands at a place of the safe area. */
function cornerOf(
  { x, y }: Pick<Present, 'x' | 'y'>,
  { width, height }: Size,
  box: Size,
): { left: number; top: number } {
  const safe = safeOf(width / height);
  const room = { width: width * (1 - 2 * safe.side), height: height * (1 - safe.top - safe.bottom) };
  return {
    left: width * safe.side + x * (room.width - box.width),
    top: height * safe.top + y * (room.height - box.height),
  };
}

function pictureOf({ size }: Logo, present: Present, frame: Size, picture: ShownPicture): string {
  const width = (frame.width * size) / 100;
  const box = { width, height: (width * picture.height) / picture.width };
  const { left, top } = cornerOf(present, frame, box);
  return `<image x="${rounded(left, 2)}" y="${rounded(top, 2)}" width="${rounded(box.width, 2)}" height="${rounded(box.height, 2)}" opacity="${present.opacity}" xlink:href="${picture.href}" href="${picture.href}"/>`;
}

/** Line by line; what is wider than the safe area is drawn smaller. */
function titleOf({ text, size, colour, shadow }: Title, present: Present, frame: Size, font: Font): string {
  const lines = text
    .split('\n')
    .map((line) => [...line].filter((c) => font.charToGlyphIndex(c) > 0 || c === ' ').join(''));
  const safe = safeOf(frame.width / frame.height);
  const most = frame.width * (1 - 2 * safe.side);
  const wanted = (frame.height * size) / 100 / LEADING;
  const wide = (points: number) => Math.max(1, ...lines.map((line) => font.getAdvanceWidth(line, points)));
  const points = wanted * Math.min(1, most / wide(wanted));
  const box = { width: wide(points), height: points * LEADING * lines.length };
  const { left, top } = cornerOf(present, frame, box);
  const ascent = (font.ascender / (font.ascender - font.descender)) * points * LEADING;
  const paths = lines.map((line, i) => {
    const start = left + (box.width - font.getAdvanceWidth(line, points)) * present.x;
    return font.getPath(line, start, top + ascent + i * points * LEADING, points).toPathData(2);
  });
  const d = paths.join('');
  if (!d) return '';
  const soft = points / 22;
  // A shadow without a filter, which every renderer draws alike: the writing once more, widened.
  const under = shadow
    ? [3, 2, 1]
        .map(
          (k) =>
            `<path d="${d}" fill="none" stroke="#000" stroke-opacity="0.16" stroke-width="${rounded(2 * k * soft, 2)}" stroke-linejoin="round"/>`,
        )
        .join('')
    : '';
  return `<g opacity="${present.opacity}">${under}<path d="${d}" fill="${colour}"/></g>`;
}

/** Height of a line in the size of its writing. */
const LEADING = 1.25;
