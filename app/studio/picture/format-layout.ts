/**
 * How the Frame is divided: one picture, before and after, all formats side by side, the Lookouts as a grid; and within a picture the views
 * that it shows at once.
 */
import { placesOf, WHOLE, type Place } from '@glimbo/core/lookouts/layout';
import { onAir } from '@glimbo/core/lookouts/lookouts';
import { aspectRatio } from '@glimbo/core/lens/format';
import { formatsOf } from '@glimbo/core/take/formats';
import type { Take } from '@glimbo/core/take/take';

/** The gap between two, in shares of their height. */
const GAP = 0.035;

/** A picture in a format, in shares of the Frame. */
export interface FormatPane extends Place {
  aspect: string;
}

/** A part of the Frame that is handled by itself, and the Lookout that it shows. */
export interface FramePart extends FormatPane {
  lookout: number | null;
}

export interface FrameLayout {
  /** Width to height of all of it. */
  ratio: number;
  /** What is a finished picture, with all that lies over it. */
  pictures: FormatPane[];
  /** What is handled. */
  parts: FramePart[];
}

/** The panes and the ratio (width to height) of all of them together. */
export function formatPanes(take: Pick<Take, 'frame'>): { panes: FormatPane[]; ratio: number } {
  const ratios = formatsOf(take).map(({ aspect }) => ({ aspect, ratio: aspectRatio(aspect) }));
  const ratio = ratios.reduce((sum, r) => sum + r.ratio, 0) + GAP * (ratios.length - 1);
  let at = 0;
  const panes = ratios.map(({ aspect, ratio: own }) => {
    const pane = { aspect, top: 0, height: 1, left: at / ratio, width: own / ratio };
    at += own + GAP;
    return pane;
  });
  return { panes, ratio };
}

/** A place within another. */
export const placeWithin = (place: Place, outer: Place): Place => ({
  left: outer.left + place.left * outer.width,
  top: outer.top + place.top * outer.height,
  width: place.width * outer.width,
  height: place.height * outer.height,
});

/** Cells side by side and one under the other, each of a ratio, in a room of another, as large as they can be. */
function cells(count: number, ratio: number, room: number): { ratio: number; places: Place[] } {
  let best = { side: 0, columns: 1 };
  for (let columns = 1; columns <= count; columns++) {
    const side = Math.min(room / columns / ratio, 1 / Math.ceil(count / columns));
    if (side > best.side) best = { side, columns };
  }
  const { columns } = best;
  const rows = Math.ceil(count / columns);
  const places = Array.from({ length: count }, (_, i) => ({
    left: (i % columns) / columns,
    top: Math.floor(i / columns) / rows,
    width: 1 / columns,
    height: 1 / rows,
  }));
  return { ratio: (columns * ratio) / rows, places };
}

/** Between two cells, in shares of a cell. */
const HAIR = 0.012;

/** The Lookouts as a grid, alone or beside what is on air; `room`: width to height of what there is. */
export function gridLayout(take: Pick<Take, 'frame' | 'lookouts'>, how: 'alone' | 'beside', room: number): FrameLayout {
  const { aspect } = take.frame;
  const own = aspectRatio(aspect);
  const count = take.lookouts?.views.length ?? 0;
  const within = ({ left, top, width, height }: Place) => ({
    left,
    top,
    width: width * (1 - HAIR),
    height: height * (1 - HAIR),
  });
  const part = (place: Place, lookout: number): FramePart => ({ ...within(place), aspect, lookout });
  if (how === 'alone') {
    const { ratio, places } = cells(count, own, room);
    return { ratio, pictures: [], parts: places.map(part) };
  }
  // One column for each four, as high together as the picture.
  const columns = Math.ceil(count / 4);
  const rows = Math.ceil(count / columns);
  const ratio = own + (columns * own) / rows;
  const result: FormatPane = { aspect, left: 0, top: 0, height: 1, width: (own / ratio) * (1 - HAIR / 2) };
  const cell = { width: own / rows / ratio, height: 1 / rows };
  const parts = Array.from({ length: count }, (_, i) =>
    part({ left: own / ratio + (i % columns) * cell.width, top: Math.floor(i / columns) * cell.height, ...cell }, i),
  );
  return { ratio, pictures: [result], parts };
}

/** The Frame without a grid: one picture, divided as the Lookouts on air are; or `halves` of the same view. */
export function pictureLayout(take: Pick<Take, 'frame' | 'lookouts'>, time: number, halves: boolean): FrameLayout {
  const { aspect } = take.frame;
  const own = aspectRatio(aspect);
  if (halves) {
    const parts = [0, 1].map((i) => ({ aspect, lookout: null, left: i / 2, top: 0, width: 0.5, height: 1 }));
    return { ratio: 2 * own, pictures: parts, parts };
  }
  const shows = onAir(take.lookouts, time);
  const parts = placesOf(shows?.layout ?? 'one', own).map((place, k) => ({
    ...place,
    aspect,
    lookout: shows?.views[k] ?? null,
  }));
  return { ratio: own, pictures: [{ ...WHOLE, aspect }], parts };
}

/** All formats side by side. */
export function formatsLayout(take: Pick<Take, 'frame'>): FrameLayout {
  const { panes, ratio } = formatPanes(take);
  return { ratio, pictures: panes, parts: panes.map((p) => ({ ...p, lookout: null })) };
}
