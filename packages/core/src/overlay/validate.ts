/** Checks overlays at every boundary. */
import { finite, LONGEST, valuesProblem } from '../curve/values.js';
import { FONT_IDS, LONGEST_TITLE, MOST_OVERLAYS, OVERLAY_LIMITS } from './overlays.js';

const within = (v: unknown, { least, most }: { least: number; most: number }) => finite(v) && v >= least && v <= most;
const moment = (v: unknown) => v === undefined || within(v, { least: 0, most: LONGEST });

/** What is wrong with a list of overlays; null when nothing is, or it is absent. */
export function overlaysProblem(value: unknown): string | null {
  if (value === undefined) return null;
  if (!Array.isArray(value) || value.length > MOST_OVERLAYS) return `overlays are a list of at most ${MOST_OVERLAYS}`;
  for (const overlay of value as (Record<string, unknown> | null)[]) {
    const problem = overlay && typeof overlay === 'object' ? overlayProblem(overlay) : 'an overlay is an object';
    if (problem) return problem;
  }
  return null;
}

function overlayProblem(o: Record<string, unknown>): string | null {
  if (o.kind === 'bars')
    return within(o.ratio, OVERLAY_LIMITS.ratio)
      ? null
      : `the ratio of bars lies from ${OVERLAY_LIMITS.ratio.least} to ${OVERLAY_LIMITS.ratio.most}`;
  if (o.kind !== 'title' && o.kind !== 'picture') return 'an overlay’s kind is bars, title or picture';
  const { place, opacity } = OVERLAY_LIMITS;
  const placed =
    valuesProblem('x', [place.least, place.most], o.x) ??
    valuesProblem('y', [place.least, place.most], o.y) ??
    valuesProblem('opacity', [opacity.least, opacity.most], o.opacity);
  if (placed) return placed;
  if ([o.x, o.y, o.opacity].some((v) => v === undefined)) return 'an overlay needs x, y and opacity';
  if (!moment(o.from) || !moment(o.to)) return `an overlay’s from and to lie from 0 to ${LONGEST} seconds`;
  if (!within(o.fade, OVERLAY_LIMITS.fade))
    return `a fade lasts ${OVERLAY_LIMITS.fade.least} to ${OVERLAY_LIMITS.fade.most} seconds`;
  return o.kind === 'title' ? titleProblem(o) : pictureProblem(o);
}

function titleProblem(o: Record<string, unknown>): string | null {
  const { titleSize } = OVERLAY_LIMITS;
  if (typeof o.text !== 'string' || o.text.length > LONGEST_TITLE)
    return `a title’s text has at most ${LONGEST_TITLE} characters`;
  if (!(FONT_IDS as readonly unknown[]).includes(o.font)) return `a title’s font is one of ${FONT_IDS.join(', ')}`;
  if (!within(o.size, titleSize)) return `a title’s size lies from ${titleSize.least} to ${titleSize.most}`;
  if (typeof o.colour !== 'string' || !/^#[0-9a-f]{6}$/i.test(o.colour)) return 'a title’s colour is #rrggbb';
  return typeof o.shadow === 'boolean' ? null : 'a title’s shadow is true or false';
}

function pictureProblem(o: Record<string, unknown>): string | null {
  const { pictureSize } = OVERLAY_LIMITS;
  if (typeof o.file !== 'string' || !o.file || o.file.length > 4096) return 'a picture needs a file';
  return within(o.size, pictureSize) ? null : `a picture’s size lies from ${pictureSize.least} to ${pictureSize.most}`;
}
