/** Overlays of a moment as one SVG, which preview and export both draw. Writing is drawn as paths: no font is needed to show it. */
import type { Font, Glyph } from 'opentype.js';
import { safeOf } from '../lens/safe.js';
import { evaluate, type Channel } from '../curve/channel.js';
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

/**
 * Those overlays that are seen at a time in seconds of the footage, in order; places rounded to less than a pixel, so that what stands
 * still stays the same.
 */
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

/** The SVG of a moment, over shapes that lie below all; null where nothing is seen. What its materials lack is left out. */
export function overlaySvg(
  overlays: readonly Overlay[],
  size: Size,
  time: number,
  materials: Materials,
  below = '',
): string | null {
  const present = presentOverlays(overlays, time);
  const bars = present.map((p) => p.overlay).find((o) => o.kind === 'bars');
  const room = roomIn(size, bars ? pictureWithin(bars, size) : size);
  const parts = present.map((p) => partOf(p, size, room, materials));
  const body = below + parts.join('');
  if (!body) return null;
  const { width, height } = size;
  const names = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"';
  return `<svg ${names} width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">${body}</svg>`;
}

function partOf(present: Present, size: Size, room: Room, { fonts, pictures }: Materials): string {
  const { overlay } = present;
  if (overlay.kind === 'bars') return barsOf(overlay, size);
  if (overlay.kind === 'picture') {
    const picture = pictures.get(overlay.file);
    return picture ? pictureOf(overlay, present, size, room, picture) : '';
  }
  const font = fonts[overlay.font];
  return font ? titleOf(overlay, present, size, room, font) : '';
}

/** The size of the picture that bars leave. Whole pixels, in pairs: an edge between two would be grey. */
function pictureWithin({ ratio }: Bars, { width, height }: Size): Size {
  const even = (v: number) => 2 * Math.round(v / 2);
  return { width: even(Math.min(width, height * ratio)), height: even(Math.min(height, width / ratio)) };
}

function barsOf(bars: Bars, { width, height }: Size): string {
  const rect = (x: number, y: number, w: number, h: number) => `<rect x="${x}" y="${y}" width="${w}" height="${h}"/>`;
  const inner = pictureWithin(bars, { width, height });
  const [side, above] = [(width - inner.width) / 2, (height - inner.height) / 2];
  if (above >= 1) return rect(0, 0, width, above) + rect(0, height - above, width, above);
  return side >= 1 ? rect(0, 0, side, height) + rect(width - side, 0, side, height) : '';
}

/** The part of the frame in which things stand, in pixels. */
interface Room extends Size {
  left: number;
  top: number;
}

/** Share of the frame's height that stays clear of bars. */
const FROM_BARS = 0.03;

/** The frame's safe area, as far as bars leave of it. */
function roomIn({ width, height }: Size, picture: Size): Room {
  const safe = safeOf(width / height);
  const bar = (all: number, inner: number) => (all - inner) / 2 + (inner < all ? FROM_BARS * height : 0);
  const [side, above] = [bar(width, picture.width), bar(height, picture.height)];
  const left = Math.max(safe.side * width, side);
  const top = Math.max(safe.top * height, above);
  return { left, top, width: width - 2 * left, height: height - top - Math.max(safe.bottom * height, above) };
}

/** The upper left corner of a box that stands at a place of the room. */
const cornerOf = ({ x, y }: Pick<Present, 'x' | 'y'>, room: Room, box: Size): { left: number; top: number } => ({
  left: room.left + x * (room.width - box.width),
  top: room.top + y * (room.height - box.height),
});

function pictureOf({ size }: Logo, present: Present, frame: Size, room: Room, picture: ShownPicture): string {
  const width = (frame.width * size) / 100;
  const box = { width, height: (width * picture.height) / picture.width };
  const { left, top } = cornerOf(present, room, box);
  const place = `x="${rounded(left, 2)}" y="${rounded(top, 2)}"`;
  const measure = `width="${rounded(box.width, 2)}" height="${rounded(box.height, 2)}"`;
  const { href } = picture;
  return `<image ${place} ${measure} opacity="${present.opacity}" xlink:href="${href}" href="${href}"/>`;
}

/** The letters of a text that a font does not have, each once: they are left out where it is written. */
export const lettersMissing = (font: Font, text: string): string[] =>
  [...new Set(text.replace(/\s/g, ''))].filter((c) => font.charToGlyphIndex(c) <= 0);

/** The glyphs of a line with where each begins, in font units, and how wide all of it is. Letters that the font lacks are left out. */
function laidOut(font: Font, line: string): { places: { glyph: Glyph; x: number }[]; width: number } {
  const glyphs = [...line].flatMap((c) => {
    const index = font.charToGlyphIndex(c);
    return index > 0 ? [font.glyphs.get(index)] : [];
  });
  let x = 0;
  const places = glyphs.map((glyph, i) => {
    if (i > 0) x += font.getKerningValue(glyphs[i - 1]!, glyph);
    const place = { glyph, x };
    x += glyph.advanceWidth ?? 0;
    return place;
  });
  return { places, width: x };
}

/** Line by line; what is wider than the safe area is drawn smaller. */
function titleOf({ text, size, colour, shadow }: Title, present: Present, frame: Size, room: Room, font: Font): string {
  const lines = text.split('\n').map((line) => laidOut(font, line));
  const wanted = (frame.height * size) / 100 / LEADING;
  const widest = Math.max(1, ...lines.map((line) => line.width)) / font.unitsPerEm;
  const points = Math.min(wanted, room.width / widest);
  const unit = points / font.unitsPerEm;
  const box = { width: widest * points, height: points * LEADING * lines.length };
  const { left, top } = cornerOf(present, room, box);
  const ascent = (font.ascender / (font.ascender - font.descender)) * points * LEADING;
  const d = lines
    .flatMap(({ places, width }, i) => {
      const start = left + (box.width - width * unit) * present.x;
      const base = top + ascent + i * points * LEADING;
      return places.map(({ glyph, x }) => glyph.getPath(start + x * unit, base, points).toPathData(2));
    })
    .join('');
  if (!d) return '';
  const soft = points / 22;
  // A shadow without a filter, which every renderer draws alike: the writing once more, widened.
  const widened = (k: number) =>
    `<path d="${d}" fill="none" stroke="#000" stroke-opacity="0.16" stroke-width="${rounded(2 * k * soft, 2)}" stroke-linejoin="round"/>`;
  const under = shadow ? [3, 2, 1].map(widened).join('') : '';
  return `<g opacity="${present.opacity}">${under}<path d="${d}" fill="${colour}"/></g>`;
}

/** Height of a line in the size of its writing. */
const LEADING = 1.25;
