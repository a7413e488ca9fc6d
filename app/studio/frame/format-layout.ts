/** Where the formats of a take stand in the Frame when all are seen at once: one beside the other, equally high. */
import { aspectRatio } from '@glimbo/core/lens/format';
import { formatsOf } from '@glimbo/core/take/formats';
import type { Take } from '@glimbo/core/take/take';

/** The gap between two, in shares of their height. */
const GAP = 0.035;

export interface FormatPane {
  aspect: string;
  /** Shares of the whole width. */
  left: number;
  width: number;
}

/** The panes and the ratio (width to height) of all of them together. */
export function formatPanes(take: Pick<Take, 'frame'>): { panes: FormatPane[]; ratio: number } {
  const ratios = formatsOf(take).map(({ aspect }) => ({ aspect, ratio: aspectRatio(aspect) }));
  const ratio = ratios.reduce((sum, r) => sum + r.ratio, 0) + GAP * (ratios.length - 1);
  let at = 0;
  const panes = ratios.map(({ aspect, ratio: own }) => {
    const pane = { aspect, left: at / ratio, width: own / ratio };
    at += own + GAP;
    return pane;
  });
  return { panes, ratio };
}

/** Panes of one format, equally wide. */
export const equalPanes = (count: number, aspect: string): FormatPane[] =>
  Array.from({ length: count }, (_, i) => ({ aspect, left: i / count, width: 1 / count }));
